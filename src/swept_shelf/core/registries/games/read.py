"""One table-driven reader for libraries of games (libraries.toml), and Wine prefixes with the programs installed in them."""

from __future__ import annotations

import fnmatch
import json
import re
import tomllib
from collections.abc import Iterator
from functools import partial
from importlib import resources
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, is_clean, join, parent, within
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.machine.unpacked import read_unpacked
from swept_shelf.core.registries.entry import Reading, Registered

_PREFIX_PLACES = (
    "",
    "/.local/share/wineprefixes",
    "/Games",
    "/.local/share/bottles/bottles",
    "/.var/app/com.usebottles.bottles/data/bottles/bottles",
)
_UNINSTALL = re.compile(
    r"^\[Software\\\\(?:Wow6432Node\\\\)?Microsoft\\\\Windows\\\\CurrentVersion\\\\Uninstall\\\\(.+)\]", re.I
)


def read(reading: Reading) -> None:
    table = tomllib.loads(resources.files(__package__).joinpath("libraries.toml").read_text("utf-8"))
    for person, home in reading.homes():
        for library in table["library"]:
            paths = [p for pattern in library["manifests"] for p in _matching(reading, home, pattern)]
            paths += _further(reading, library, paths)
            reading.each(list(dict.fromkeys(paths)), partial(_manifest, reading, library, person.name))
        for prefix in _prefixes(reading, home):
            reading.each([prefix], partial(_prefix, reading, person.name))


def _matching(reading: Reading, top: str, pattern: str) -> Iterator[str]:
    found = [top]
    for part in pattern.split("/"):
        found = [
            c
            for f in found
            for c in (
                reading.tree.children(f)
                if "*" in part
                else [join(f, part)]
                if join(f, part) in reading.tree
                else []
            )
            if "*" not in part or fnmatch.fnmatchcase(base(c), part)
        ]
    return iter(found)


def _further(reading: Reading, library: dict[str, Any], manifests: list[str]) -> list[str]:
    """Manifests in further library folders that the launcher names, wherever they stand."""
    told = library.get("libraries")
    found = []
    for folder in {parent(m) for m in manifests} if told else ():
        assert told is not None
        text = reading.machine.text(join(folder, told["file"]))
        for other in re.findall(rf'"{told["key"]}"\s+"([^"]*)"', text):
            if is_clean(other):
                found += list(_matching(reading, other, told["manifests"]))
    return found


def _manifest(reading: Reading, library: dict[str, Any], person: str, path: str) -> None:
    for said in _games(reading, path, library):
        name, folder = str(_value(said, library["name"]) or ""), str(_value(said, library["folder"]) or "")
        if library.get("form") == "keyvalues" or not folder:
            folder = (
                join(parent(path), *(x for x in (library.get("below", ""), folder) if x))
                if folder
                else parent(parent(path))
            )
        id = str(_value(said, library.get("id", "")) or name)
        if not name or not is_clean(folder):
            raise CouldNotRead("names no game or no folder", path)
        beside = [join(parent(path), *b.format(id=id).split("/")) for b in library.get("beside", ())]
        single = library.get("form") == "keyvalues" or "*" in library["manifests"][0]
        tops = [
            t
            for t in (folder, *(beside if "/" not in id else ()), *((path,) if single else ()))
            if t in reading.tree
        ]
        if folder not in reading.tree and folder.startswith("/home"):
            continue  # the manifest of what is not there any more: its launcher's own business
        entry = reading.tree.entry(folder) or reading.tree.entry(path)
        reading.found.append(
            Registered(
                id=f"game:{person}/{name}",
                name=name,
                version=str(_value(said, library.get("version", "")) or ""),
                registry="game",
                source=library["source"],
                tops=tuple(dict.fromkeys(tops)),
                receipt=path,
                type="desktop",
                person=person,
                installed_last=from_ns(entry.mtime_ns) if entry else None,
            )
        )


def _games(reading: Reading, path: str, library: dict[str, Any]) -> list[dict[str, Any]]:
    text = read_unpacked(reading.machine, path)
    if library["form"] == "keyvalues":
        found = dict(re.findall(r'^\s*"([^"]+)"\s+"((?:[^"\\]|\\.)*)"', text, re.M))
        if not found:
            raise CouldNotRead("holds no keys and values", path)
        return [found]
    if library["form"] == "yaml-flat":
        return [{k: v.strip("'\" ") for k, v in re.findall(r"^\s*(\w+):[ \t]+(\S.*)$", text, re.M)}]
    try:
        said = json.loads(text)
    except ValueError as error:
        raise CouldNotRead(f"is not JSON: {str(error)[:80]}", path) from None
    if "each" not in library:
        return [said]
    inner = said.get(library["each"], []) if library["each"] else said
    return [g for g in (inner.values() if isinstance(inner, dict) else inner) if isinstance(g, dict)]


def _value(said: Any, key: str) -> Any:
    for part in key.split(".") if key else ():
        said = said.get(part) if isinstance(said, dict) else None
    return said if key else None


def _prefixes(reading: Reading, home: str) -> Iterator[str]:
    for place in _PREFIX_PLACES:
        for child in reading.tree.children(home + place):
            for prefix in (child, f"{child}/pfx", f"{child}/prefix"):
                if f"{prefix}/system.reg" in reading.tree and f"{prefix}/drive_c" in reading.tree:
                    yield prefix


def _prefix(reading: Reading, person: str, prefix: str) -> None:
    """A Wine prefix: each program that its own registry says can be uninstalled, and the prefix with the rest."""
    text = reading.machine.read_bytes(f"{prefix}/system.reg").decode("utf-8", "replace")
    if not text.startswith("WINE REGISTRY"):
        raise CouldNotRead("is not a Wine registry file", f"{prefix}/system.reg")
    programs: dict[str, dict[str, str]] = {}
    current = ""
    for line in text.splitlines():
        if line.startswith("["):
            match = _UNINSTALL.match(line)
            current = match[1] if match else ""
        elif current and (
            match := re.match(r'"(DisplayName|DisplayVersion|InstallLocation|Publisher)"="(.*)"', line)
        ):
            programs.setdefault(current, {})[match[1]] = match[2].replace("\\\\", "\\")
    taken = []
    for said in programs.values():
        folder = _drive_path(prefix, said.get("InstallLocation", ""))
        if "DisplayName" in said and folder and folder in reading.tree and folder != f"{prefix}/drive_c":
            taken.append(folder)
            entry = reading.tree.entry(folder)
            reading.found.append(
                Registered(
                    id=f"wine:{folder}",
                    name=said["DisplayName"],
                    version=said.get("DisplayVersion", ""),
                    registry="wine",
                    source=f"Windows program in {base(prefix)}",
                    tops=(folder,),
                    receipt=f"{prefix}/system.reg",
                    type="desktop",
                    publisher=said.get("Publisher", ""),
                    person=person,
                    installed_last=from_ns(entry.mtime_ns) if entry else None,
                )
            )
    names = [s["DisplayName"] for s in programs.values() if "DisplayName" in s]
    whose = person_of(reading.people, prefix)
    entry = reading.tree.entry(prefix)
    reading.found.append(
        Registered(
            id=f"wine:{prefix}",
            name=f"Wine prefix {base(prefix).lstrip('.') or prefix}",
            version="",
            registry="wine",
            source="Wine prefix",
            tops=(prefix,),
            receipt=f"{prefix}/system.reg",
            type="desktop",
            person="" if whose == EVERYONE else whose,
            summary=f"Windows programs in it: {', '.join(names)}"
            if names
            else "no Windows program is registered in it",
            needed_by=tuple(f"wine:{t}" for t in taken if within(t, prefix)),
            installed_last=from_ns(entry.mtime_ns) if entry else None,
        )
    )


def _drive_path(prefix: str, windows: str) -> str:
    """A path of the prefix's own drive C as a path of the machine; "" for another drive."""
    match = re.match(r"(?i)c:\\(.+)", windows)
    if match is None:
        return ""
    path = join(f"{prefix}/drive_c", *(p for p in match[1].split("\\") if p))
    return path if is_clean(path) else ""
