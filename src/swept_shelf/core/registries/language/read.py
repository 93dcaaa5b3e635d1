"""Reads the receipts of language package tools. What they installed without a command of its own is a part of others."""

from __future__ import annotations

import csv
import json
import re
from collections import defaultdict
from email.parser import HeaderParser
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.registries.entry import Reading, Registered

_PIPX = (".local/share/pipx/venvs", ".local/pipx/venvs")
_NPM = ("/usr/local/lib/node_modules", "/usr/lib/node_modules", "/opt/node/lib/node_modules")
_NPM_PERSONAL = (
    ".npm-global/lib/node_modules",
    ".local/lib/node_modules",
    ".npm-packages/lib/node_modules",
    "node_modules/.global",
)
_GEMS = ("/var/lib/gems", "/usr/local/lib/ruby/gems")
_GEMS_PERSONAL = (".gem/ruby", ".local/share/gem/ruby")


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        for place in _PIPX:
            _each(reading, f"{home}/{place}", lambda p, n=person.name: _pipx(reading, p, n))
        _cargo(reading, f"{home}/.cargo", person.name)
        for version in reading.tree.children(f"{home}/.local/lib"):
            if base(version).startswith("python"):
                _pip(reading, f"{version}/site-packages", person.name)
        places = [f"{home}/{p}" for p in _NPM_PERSONAL]
        places += [f"{v}/lib/node_modules" for v in reading.tree.children(f"{home}/.nvm/versions/node")]
        for place in places:
            _npm(reading, place, person.name)
        for place in _GEMS_PERSONAL:
            for version in reading.tree.children(f"{home}/{place}"):
                _gems(reading, version, person.name)
    for place in _NPM:
        _npm(reading, place, "")
    for place in _GEMS:
        for version in reading.tree.children(place):
            _gems(reading, version, "")
    for version in reading.tree.children("/usr/local/lib"):
        if base(version).startswith("python"):
            _pip(reading, f"{version}/dist-packages", "")


def _each(reading: Reading, folder: str, act: Any) -> None:
    reading.each([c for c in reading.tree.children(folder) if reading.tree.kind(c) == "folder"], act)


def _json(reading: Reading, path: str) -> Any:
    try:
        return json.loads(reading.machine.read_bytes(path))
    except RecursionError:
        raise CouldNotRead("is not JSON: it is nested without end", path) from None
    except ValueError as error:
        raise CouldNotRead(f"is not JSON: {str(error)[:80]}", path) from None


def _when(reading: Reading, path: str) -> dict[str, Any]:
    entry = reading.tree.entry(path)
    return {"installed_last": from_ns(entry.mtime_ns)} if entry else {}


def _pipx(reading: Reading, venv: str, person: str) -> None:
    receipt = f"{venv}/pipx_metadata.json"
    if receipt not in reading.tree:
        return
    main = _json(reading, receipt)["main_package"]
    home = next(h for p, h in reading.homes() if p.name == person)
    links = [f"{home}/.local/bin/{a}" for a in main.get("apps", [])]
    commands = [f"{venv}/bin/{a}" for a in main.get("apps", [])]
    reading.found.append(
        Registered(
            id=f"pipx:{person}/{base(venv)}",
            name=str(main["package"]),
            version=str(main.get("package_version", "")),
            registry="pipx",
            source="pipx",
            tops=(venv, *(x for x in links if x in reading.tree)),
            receipt=receipt,
            person=person,
            asked_for=True,
            executables=tuple(c for c in commands if c in reading.tree),
            packages=(str(main["package"]),),
            own_packages=(str(main["package"]),),
            **_when(reading, receipt),
        )
    )


def _pip(reading: Reading, site: str, person: str) -> None:
    """Distributions with commands are applications; what only they need is theirs (Recording installed projects, PyPA)."""
    infos = [c for c in reading.tree.children(site) if c.endswith(".dist-info")]
    heads: dict[str, tuple[str, Any]] = {}
    reading.each(infos, lambda p: heads.update({_plain(base(p).split("-")[0]): (p, _header(reading, p))}))
    needs = {
        n: {
            _plain(re.split(r"[\s;(<>=!~\[]", d, maxsplit=1)[0])
            for d in h.get_all("Requires-Dist") or []
            if "extra ==" not in d
        }
        for n, (_, h) in heads.items()
    }
    users: dict[str, set[str]] = defaultdict(set)
    for name, wanted in needs.items():
        for w in wanted & set(heads):
            users[w].add(name)

    def one(info: str) -> None:
        name = _plain(base(info).split("-")[0])
        asked = f"{info}/REQUESTED" in reading.tree
        commands = _entry_points(reading, info)
        if not commands or (users[name] and not asked):
            return
        own = [name]
        for w in sorted(needs[name] & set(heads)):
            if users[w] == {name} and f"{heads[w][0]}/REQUESTED" not in reading.tree:
                own.append(w)
        tops = [t for o in own for t in _recorded(reading, site, heads[o][0])]
        head = heads[name][1]
        reading.found.append(
            Registered(
                id=f"pip:{person or 'system'}/{name}",
                name=str(head["Name"] or name),
                version=str(head["Version"] or ""),
                registry="pip",
                source="pip",
                tops=tuple(dict.fromkeys(tops)),
                receipt=f"{info}/RECORD",
                summary=str(head["Summary"] or ""),
                publisher=str(head["Author"] or ""),
                homepage=str(head["Home-page"] or ""),
                person=person,
                asked_for=asked or None,
                executables=tuple(t for t in tops if "/bin/" in t),
                packages=tuple(own),
                own_packages=tuple(own),
                **_when(reading, info),
            )
        )

    reading.each([i for i in infos if _plain(base(i).split("-")[0]) in heads], one)


def _plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def _header(reading: Reading, info: str) -> Any:
    header = HeaderParser().parsestr(reading.machine.read_text(f"{info}/METADATA"))
    if not header["Name"]:
        raise CouldNotRead("is no metadata of a distribution: it has no Name", f"{info}/METADATA")
    return header


def _entry_points(reading: Reading, info: str) -> list[str]:
    text = reading.machine.text(f"{info}/entry_points.txt")
    section = re.search(r"^\[console_scripts\]\s*$(.*?)(?=^\[|\Z)", text, re.M | re.S)
    return re.findall(r"^([^=\s]+)\s*=", section[1], re.M) if section else []


def _recorded(reading: Reading, site: str, info: str) -> list[str]:
    """Whole folders and files that a distribution's RECORD names, outermost."""
    found: dict[str, None] = {info: None}
    for row in csv.reader(reading.machine.text(f"{info}/RECORD").splitlines()):
        if not row or "\0" in row[0]:
            continue
        parts = (
            [*site.split("/")[1:], *row[0].split("/")]
            if not row[0].startswith("/")
            else row[0].split("/")[1:]
        )
        path: list[str] = []
        for part in parts:
            path = path[:-1] if part == ".." else path if part in ("", ".") else [*path, part]
        whole = "/" + "/".join(path)
        inside = whole[len(site) + 1 :].split("/")[0] if whole.startswith(site + "/") else ""
        top = (
            f"{site}/{inside}"
            if inside and inside != "__pycache__" and "/" in whole[len(site) + 1 :]
            else whole
        )
        if top in reading.tree and not top.endswith(".dist-info"):
            found[top] = None
    return list(found)


def _npm(reading: Reading, modules: str, person: str) -> None:
    folders = []
    for child in reading.tree.children(modules):
        folders += reading.tree.children(child) if base(child).startswith("@") else [child]

    def one(receipt: str) -> None:
        folder, said = parent(receipt), _json(reading, receipt)
        bins = said.get("bin", {})
        names = list(bins) if isinstance(bins, dict) else [said["name"].split("/")[-1]] if bins else []
        prefix = parent(parent(modules)) if base(parent(modules)) == "lib" else parent(modules)
        links = [x for n in names if (x := join(prefix, "bin", n)) in reading.tree]
        author = said.get("author", "")
        reading.found.append(
            Registered(
                id=f"npm:{person or 'system'}/{said['name']}",
                name=str(said["name"]),
                version=str(said.get("version", "")),
                registry="npm",
                source="npm, installed globally",
                tops=(folder, *links),
                receipt=receipt,
                summary=str(said.get("description", "")),
                publisher=str(author.get("name", "") if isinstance(author, dict) else author),
                homepage=str(said.get("homepage", "")),
                person=person,
                executables=tuple(links),
                asked_for=True,
                packages=(str(said["name"]),),
                own_packages=(str(said["name"]),),
                **_when(reading, receipt),
            )
        )

    receipts = [f"{f}/package.json" for f in folders if not base(f).startswith(".")]
    reading.each([r for r in receipts if r in reading.tree], one)


def _cargo(reading: Reading, top: str, person: str) -> None:
    receipt = f"{top}/.crates2.json"
    if receipt not in reading.tree:
        return

    def one(_: str) -> None:
        for key, said in _json(reading, receipt)["installs"].items():
            name, version = key.split(" ")[:2]
            bins = [b for n in said.get("bins", []) if (b := f"{top}/bin/{n}") in reading.tree]
            reading.found.append(
                Registered(
                    id=f"cargo:{person}/{name}",
                    name=name,
                    version=version,
                    registry="cargo",
                    source="cargo",
                    tops=tuple(bins),
                    receipt=receipt,
                    person=person,
                    executables=tuple(bins),
                    asked_for=True,
                    packages=(name,),
                    own_packages=(name,),
                    **(_when(reading, bins[0]) if bins else {}),
                )
            )

    reading.each([receipt], one)


def _gems(reading: Reading, top: str, person: str) -> None:
    def one(spec: str) -> None:
        match = re.fullmatch(r"(.+)-(\d[^-]*(?:-[a-z0-9]+)*)\.gemspec", base(spec))
        if match is None:
            raise CouldNotRead("has no name and version", spec)
        text = reading.machine.read_text(spec)
        if "Gem::Specification" not in text:
            raise CouldNotRead("is no gem specification", spec)
        bins = re.search(r"\.executables\s*=\s*\[([^\]]*)\]", text)
        names = re.findall(r"[\"']([^\"']+)[\"']", bins[1]) if bins else []
        if not names:
            return
        summary = re.search(r"\.summary\s*=\s*[\"'](.*?)[\"']\.freeze", text)
        folder = f"{top}/gems/{match[1]}-{match[2]}"
        commands = [c for n in names if (c := f"{top}/bin/{n}") in reading.tree]
        reading.found.append(
            Registered(
                id=f"gem:{person or 'system'}/{match[1]}",
                name=match[1],
                version=match[2],
                registry="gem",
                source="gem",
                tops=tuple(t for t in (folder, spec, *commands) if t in reading.tree),
                receipt=spec,
                summary=summary[1] if summary else "",
                person=person,
                executables=tuple(commands),
                packages=(match[1],),
                own_packages=(match[1],),
                **_when(reading, spec),
            )
        )

    reading.each([c for c in reading.tree.children(f"{top}/specifications") if c.endswith(".gemspec")], one)
