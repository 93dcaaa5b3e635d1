"""Distributions that pip put into a person's or the computer's own site folder (PyPA: Recording installed projects).

Those with commands are applications; what only they need and nobody asked for is a part of them."""

from __future__ import annotations

import csv
import re
from collections import defaultdict
from email.parser import HeaderParser
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.language.common import whole_places, written

_OUTSIDE = ("bin", "share/man", "share/applications", "share/icons", "share/doc", "share/locale", "include")


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        for version in reading.tree.children(f"{home}/.local/lib"):
            if base(version).startswith("python"):
                _site(reading, f"{version}/site-packages", f"{home}/.local", person.name)
    for version in reading.tree.children("/usr/local/lib"):
        if base(version).startswith("python"):
            _site(reading, f"{version}/dist-packages", "/usr/local", "")


def _site(reading: Reading, site: str, prefix: str, person: str) -> None:
    infos = [c for c in reading.tree.children(site) if c.endswith(".dist-info")]
    heads: dict[str, tuple[str, Any]] = {}
    reading.each(infos, lambda p: heads.update({_plain(base(p).split("-")[0]): (p, _header(reading, p))}))
    needs = {
        n: {
            _plain(re.split(r"[\s;(<>=!~\[]", d, maxsplit=1)[0])
            for d in h.get_all("Requires-Dist") or []
            if "extra ==" not in d
        }
        & set(heads)
        for n, (_, h) in heads.items()
    }
    users: dict[str, set[str]] = defaultdict(set)
    for name, wanted in needs.items():
        for w in wanted - {name}:
            users[w].add(name)
    asked = {n for n, (info, _) in heads.items() if f"{info}/REQUESTED" in reading.tree}
    commands = {n for n, (info, _) in heads.items() if _entry_points(reading, info)}
    shown = {n for n in commands if not users[n] or n in asked}

    def one(info: str) -> None:
        name = _plain(base(info).split("-")[0])
        if name not in shown:
            return
        own = _own(name, needs, users, asked | shown)
        tops = [
            t for o in own for t in _recorded(reading, site, prefix, heads[o][0])
        ]  # each of its own, so that what two record is a file's and nobody's folder
        others = sorted(users[name] - set(own) - shown)
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
                asked_for=name in asked or None,
                executables=tuple(t for t in tops if parent(t) == f"{prefix}/bin"),
                packages=tuple(own),
                own_packages=tuple(own),
                needed_by=tuple(f"pip:{person or 'system'}/{u}" for u in sorted(users[name] & shown)),
                protected=f"{', '.join(others)} beside it would not work without it" if others else None,
                **written(reading, info),
            )
        )

    reading.each([i for i in infos if _plain(base(i).split("-")[0]) in heads], one)


def _own(name: str, needs: dict[str, set[str]], users: dict[str, set[str]], others: set[str]) -> list[str]:
    """It, and what nobody but these needs, step by step."""
    own, grown = [name], True
    while grown:
        grown = False
        for w in sorted({w for o in own for w in needs[o]} - set(own) - others):
            if users[w] <= set(own):
                own.append(w)
                grown = True
    return own


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


def _recorded(reading: Reading, site: str, prefix: str, info: str) -> list[str]:
    """What a distribution's RECORD names, in the site folder and where a scheme of installation puts things: a record that
    names other places is not believed."""
    inside: set[str] = set()
    beside: dict[str, None] = {}
    for row in csv.reader(reading.machine.text(f"{info}/RECORD").splitlines()):
        path = _whole(site, row[0]) if row and "\0" not in row[0] else ""
        if path not in reading.tree or reading.tree.kind(path) == "folder":
            continue
        if within(path, site):
            inside.add(path)
        elif any(within(path, f"{prefix}/{place}") and path != f"{prefix}/{place}" for place in _OUTSIDE):
            beside[path] = None
    return [*dict.fromkeys([info, *whole_places(reading, inside, site)]), *beside]


def _whole(site: str, name: str) -> str:
    parts = name.split("/")[1:] if name.startswith("/") else [*site.split("/")[1:], *name.split("/")]
    path: list[str] = []
    for part in parts:
        path = path[:-1] if part == ".." else path if part in ("", ".") else [*path, part]
    return "/" + "/".join(path)
