"""Corrections by a technician: this is its, this is not its. A small open file (TOML) that can be passed on.

[[its]]
application = "debian:plotter"      # an id, without its registry's architecture or branch where all are meant
place = "~/.config/PlotWorks"       # below every home, or an absolute path
note = "the vendor's folder"

[[not_its]]
application = "debian:editor"
place = "~/.config/PlotWorks"
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.paths import is_clean
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Person

_MEMBERS = {"application", "place", "note"}
_ANY_HOME = "/home/ANY"
ITS, NOT_ITS = "its", "not_its"


@dataclass(frozen=True, slots=True)
class Rule:
    """`kind`: its or not_its; `source`: the file it stands in."""

    kind: str
    application: str
    place: str
    note: str = ""
    source: str = ""


def read_rules(text: str, source: str) -> list[Rule]:
    """Rules of one file. Raises CouldNotRead naming it and what is wrong; nothing of a wrong file is used."""
    try:
        plain = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise CouldNotRead(f"is not TOML: {error}", source) from None
    found = []
    for kind, rows in plain.items():
        if kind not in (ITS, NOT_ITS) or not isinstance(rows, list):
            raise CouldNotRead(f"{kind} is neither [[its]] nor [[not_its]]", source)
        for number, row in enumerate(rows, 1):
            found.append(_rule(kind, row, number, source))
    return found


def _rule(kind: str, row: Any, number: int, source: str) -> Rule:
    if not isinstance(row, dict) or set(row) - _MEMBERS or not all(isinstance(v, str) for v in row.values()):
        raise CouldNotRead(
            f"[[{kind}]] number {number} has other members than application, place, note as texts", source
        )
    application, place = row.get("application", ""), row.get("place", "").rstrip("/")
    if ":" not in application:
        raise CouldNotRead(f"[[{kind}]] number {number} names no application by its id", source)
    if not is_clean(place.removeprefix("~")) or place in ("~", "/"):
        raise CouldNotRead(
            f"[[{kind}]] number {number}: {place or 'no place'} is neither ~/... nor an absolute path", source
        )
    if why := why_never(place.replace("~", _ANY_HOME, 1) if place.startswith("~") else place, [_ANY_HOME]):
        raise CouldNotRead(f"[[{kind}]] number {number}: {place} {why}", source)
    return Rule(kind, application, place, row.get("note", ""), source)


def add_rule(path: Path, rule: Rule) -> None:
    """Write a rule into the file, and take away the one that says the opposite. Raises CouldNotRead, Refused."""
    import tomlkit

    text = path.read_text() if path.exists() else ""
    read_rules(text, str(path))  # a file that is wrong is not written over
    _rule(rule.kind, {"application": rule.application, "place": rule.place, "note": rule.note}, 1, str(path))
    document = tomlkit.parse(text)
    for kind in (ITS, NOT_ITS):
        rows = document.get(kind)
        if rows is not None:
            for row in [r for r in rows if r["application"] == rule.application and r["place"] == rule.place]:
                rows.remove(row)
            if not rows:
                document.remove(kind)
    if rule.kind not in document:
        document.append(rule.kind, tomlkit.aot())
    row = tomlkit.table()
    row.update(
        {"application": rule.application, "place": rule.place} | ({"note": rule.note} if rule.note else {})
    )
    document[rule.kind].append(row)
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        new = path.with_suffix(".new")
        new.write_text(tomlkit.dumps(document))
        new.replace(path)
    except OSError as error:
        raise Refused(f"may not be written: {error.strerror}", str(path)) from None


def place_of(path: str, people: Iterable[Person]) -> str:
    """A path as a rule names it: below whose home it lies does not matter."""
    for person in people:
        if path.startswith(person.home + "/"):
            return "~" + path[len(person.home) :]
    return path
