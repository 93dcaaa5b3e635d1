"""pipx: an environment each, with a receipt in it, and links to its commands and manual pages in the person's ~/.local."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from swept_shelf.core.documents.paths import base, join
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.language.common import each_folder, links_into, read_json, written

_PLACES = (".local/share/pipx/venvs", ".local/pipx/venvs")


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        for place in _PLACES:
            one = partial(_one, reading, person=person.name, home=home)
            each_folder(reading, f"{home}/{place}", one)


def _one(reading: Reading, venv: str, person: str, home: str) -> None:
    receipt = f"{venv}/pipx_metadata.json"
    if receipt not in reading.tree:
        return
    said = read_json(reading, receipt)
    main = said["main_package"]
    parts = [main, *(p for p in said.get("injected_packages", {}).values() if isinstance(p, dict))]
    links = [join(home, ".local", *place) for part in parts for place in _exposed(part)]
    commands = [f"{venv}/bin/{a}" for a in main.get("apps", [])]
    reading.found.append(
        Registered(
            id=f"pipx:{person}/{base(venv)}",
            name=str(main["package"]),
            version=str(main.get("package_version", "")),
            registry="pipx",
            source="pipx",
            tops=(venv, *links_into(reading, links, venv)),
            receipt=receipt,
            person=person,
            asked_for=True,
            executables=tuple(c for c in commands if c in reading.tree),
            packages=(str(main["package"]),),
            own_packages=(str(main["package"]),),
            **written(reading, receipt),
        )
    )


def _exposed(part: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """(folder, name) below ~/.local of everything that it may have linked there."""
    suffix = str(part.get("suffix", ""))
    for key in ("apps", "apps_of_dependencies"):
        for name in part.get(key, []):
            yield "bin", f"{name}{suffix}"
    for key in ("man_pages", "man_pages_of_dependencies"):
        for name in part.get(key, []):
            yield "share/man", str(name)
