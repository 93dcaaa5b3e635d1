"""Packages that npm installed globally: a folder each below PREFIX/lib/node_modules, links in PREFIX/bin and PREFIX/share/man."""

from __future__ import annotations

from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.language.common import links_into, read_json, written

_SYSTEM = ("/usr/local/lib/node_modules", "/usr/lib/node_modules", "/opt/node/lib/node_modules")
_PERSONAL = (
    ".npm-global/lib/node_modules",
    ".local/lib/node_modules",
    ".npm-packages/lib/node_modules",
    "node_modules/.global",
)


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        places = [f"{home}/{p}" for p in _PERSONAL]
        places += [f"{v}/lib/node_modules" for v in reading.tree.children(f"{home}/.nvm/versions/node")]
        for place in places:
            _modules(reading, place, person.name)
    for place in _SYSTEM:
        _modules(reading, place, "")


def _modules(reading: Reading, modules: str, person: str) -> None:
    folders = []
    for child in reading.tree.children(modules):
        folders += reading.tree.children(child) if base(child).startswith("@") else [child]

    def one(receipt: str) -> None:
        folder, said = parent(receipt), read_json(reading, receipt)
        bins = said.get("bin", {})
        names = list(bins) if isinstance(bins, dict) else [said["name"].split("/")[-1]] if bins else []
        prefix = parent(parent(modules)) if base(parent(modules)) == "lib" else parent(modules)
        links = links_into(reading, (join(prefix, "bin", n) for n in names), folder)
        pages = said.get("man", [])
        pages = [base(str(p)) for p in (pages if isinstance(pages, list) else [pages])]
        manual = (join(prefix, "share/man", f"man{p.removesuffix('.gz')[-1:]}", p) for p in pages)
        scope = parent(folder)
        alone = base(scope).startswith("@") and reading.tree.children(scope) == [folder]
        author = said.get("author", "")
        reading.found.append(
            Registered(
                id=f"npm:{person or 'system'}/{said['name']}",
                name=str(said["name"]),
                version=str(said.get("version", "")),
                registry="npm",
                source="npm, installed globally",
                tops=(scope if alone else folder, *links, *links_into(reading, manual, folder)),
                receipt=receipt,
                summary=str(said.get("description", "")),
                publisher=str(author.get("name", "") if isinstance(author, dict) else author),
                homepage=str(said.get("homepage", "")),
                person=person,
                executables=tuple(links),
                asked_for=True,
                packages=(str(said["name"]),),
                own_packages=(str(said["name"]),),
                **written(reading, receipt),
            )
        )

    receipts = [f"{f}/package.json" for f in folders if not base(f).startswith(".")]
    reading.each([r for r in receipts if r in reading.tree], one)
