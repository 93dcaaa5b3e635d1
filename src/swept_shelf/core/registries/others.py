"""All registries beside Debian's, one after the other; what one cannot read is named, the rest goes on."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.people import person_of
from swept_shelf.core.registries.appimage import read as appimage
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.flatpak import read as flatpak
from swept_shelf.core.registries.games import read as games
from swept_shelf.core.registries.language import read as language
from swept_shelf.core.registries.rpm import read as rpm
from swept_shelf.core.registries.snap import read as snap

_READERS = (rpm, flatpak, snap, appimage, language, games)
_READER = {"rpm": rpm, "flatpak": flatpak, "snap": snap, "appimage": appimage, "game": games, "wine": games}


def _without_others(reading: Reading, entry: Registered) -> Registered:
    """What a person's own receipt names that is not that person's is left out."""
    whose = entry.person or person_of(reading.people, entry.receipt)
    tops, data = (
        tuple(t for t in entry.tops if reading.may_declare(whose, t)),
        tuple(d for d in entry.data if reading.may_declare(whose, d.path)),
    )
    if (tops, data) == (entry.tops, entry.data):
        return entry
    return replace(
        entry,
        tops=tops,
        data=data,
        executables=tuple(e for e in entry.executables if reading.may_declare(whose, e)),
    )


def read_again(reading: Reading, registries: Iterable[str]) -> set[str]:
    """The ids that these registries have in what is read, which may be a part of the machine only."""
    for reader in {_READER.get(r, language) for r in registries}:
        with fence(f"{reader.__name__.split('.')[-2]} applications", reading.trouble):
            reader.read(reading)
    return {r.id for r in reading.found}


def read_others(reading: Reading) -> list[Registered]:
    """Every application of these registries, each id once; what could not be read is in `reading.not_read`."""
    for reader in _READERS:
        with fence(f"{reader.__name__.split('.')[-2]} applications", reading.trouble):
            reader.read(reading)
    found: dict[str, Registered] = {}
    for entry in reading.found:
        found.setdefault(entry.id, _without_others(reading, entry))
    return list(found.values())
