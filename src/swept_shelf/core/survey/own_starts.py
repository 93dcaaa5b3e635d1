"""Starts that an application brings in its own files: entries for login, tables and scripts of schedules."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Start
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.references.kind import Kind
from swept_shelf.core.references.kinds import KINDS

_HOWS = ("login", "schedule")
_KINDS: list[tuple[str, str, Kind]] = [
    (parent(place.pattern), base(place.pattern), kind)
    for kind in KINDS.values()
    if kind.starts in _HOWS and not kind.links
    for place in kind.places
    if place.pattern.startswith("/etc/") and "*" not in parent(place.pattern)
]


def own_starts(machine: Machine, files: Iterable[str]) -> list[Start]:
    """Each with whether it is in effect: not one that says itself that it is hidden."""
    found = []
    for path in files:
        if not path.startswith("/etc/"):
            continue
        for folder, pattern, kind in _KINDS:
            if parent(path) == folder and fnmatch.fnmatchcase(base(path), pattern):
                found.append(Start(kind.starts, path, EVERYONE, _in_effect(machine, path, kind)))
                break
    return found


def _in_effect(machine: Machine, path: str, kind: Kind) -> bool:
    try:
        return any(e.enabled for e in kind.parse(path, machine.read_text(path, most=kind.most)))
    except (CouldNotRead, OSError, ValueError):
        return False
