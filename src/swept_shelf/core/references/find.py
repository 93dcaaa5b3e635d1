"""Looks at every place that can point at an application; each file is read by its own grammar."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from functools import partial

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.survey import NotRead, Person, Reference
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.references import (
    autostart,
    bin_links,
    cron,
    file_types,
    launcher_copies,
    recents,
    services,
    shell_startup,
)
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees

_SECONDS, _MOST, _LAUNCHER = 15.0, 16 << 20, 1 << 20  # for one file: time, bytes, bytes of a launcher
_ALTOGETHER, _MEMORY = 300.0, 512 << 20  # for all files together
_FAMILIES = tuple(
    dict.fromkeys(
        m.FAMILY
        for m in (autostart, launcher_copies, shell_startup, file_types, services, bin_links, recents, cron)
    )
)
Reader = Callable[[str, str, Pointees], Iterator[Hit]]


@dataclass(slots=True)
class Found:
    """References by application, what was looked at by family, and what could not be."""

    references: dict[str, list[Reference]] = field(default_factory=dict)
    looked_at: dict[str, int] = field(default_factory=dict)
    not_read: dict[str, list[NotRead]] = field(default_factory=dict)


def find_references(machine: Machine, people: list[Person], owned: set[str], to: Pointees) -> Found:
    """Every reference to any of `to`. Files that a registry owns (`owned`) are its own, not references."""
    found = Found()

    def left(path: str, reason: str) -> None:
        """Not all was looked at: then no family is clear."""
        for family in _FAMILIES:
            found.not_read.setdefault(family, []).append(NotRead(path, reason))

    with fence("/", left, seconds=_ALTOGETHER, memory=_MEMORY):
        for family, hits in _all_hits(machine, people, owned, to, found):
            found.looked_at.setdefault(family, 0)
            for hit in hits:
                found.references.setdefault(hit.id, []).append(_reference(hit, people))
    return found


def _reference(hit: Hit, people: list[Person]) -> Reference:
    text = f"{hit.id}\0{hit.kind}\0{hit.path}\0{hit.line}\0{hit.key}".encode("utf-8", "surrogateescape")
    person = person_of(people, hit.path)
    if person == EVERYONE and hit.path.startswith(cron.CRONTABS):
        person = hit.path.rsplit("/", 1)[1]
    return Reference(
        hashlib.sha256(text).hexdigest()[:12],
        hit.family,
        hit.kind,
        hit.path,
        hit.line,
        hit.key,
        hit.text.strip()[:400],
        person,
        hit.detail,
        hit.in_effect,
        False,
        "take_out",
    )


def _all_hits(
    machine: Machine, people: list[Person], owned: set[str], to: Pointees, found: Found
) -> Iterator[tuple[str, Iterable[Hit]]]:
    homes: list[str | None] = [None, *(p.home for p in people)]
    for home in homes:
        for module in (autostart, launcher_copies, shell_startup, file_types):
            yield (
                module.FAMILY,
                _read(machine, module.places(home), module.FAMILY, module.find, owned, to, found),
            )
        yield (
            services.FAMILY,
            _read(machine, services.bus_places(home), services.FAMILY, services.find_bus, owned, to, found),
        )
        for folder in services.unit_places(home):
            yield (
                services.FAMILY,
                _in_folder(
                    machine,
                    folder,
                    services.FAMILY,
                    found,
                    partial(
                        services.find_units,
                        machine,
                        folder,
                        owned,
                        to,
                        trouble=_noted(services.FAMILY, found),
                    ),
                ),
            )
        for folder in bin_links.places(home):
            yield (
                bin_links.FAMILY,
                _in_folder(
                    machine, folder, bin_links.FAMILY, found, partial(bin_links.find, machine, folder, to)
                ),
            )
        if home:
            yield (
                recents.FAMILY,
                _read(machine, recents.places(home), recents.FAMILY, recents.find, owned, to, found),
            )
    yield cron.FAMILY, _read(machine, cron.places(), cron.FAMILY, cron.find, owned, to, found)


def _read(
    machine: Machine,
    places: list[str],
    family: str,
    reader: Reader,
    owned: set[str],
    to: Pointees,
    found: Found,
) -> list[Hit]:
    hits: list[Hit] = []
    trouble = _noted(family, found)
    for place in places:
        for path in _files(machine, place, family, found):
            if path in owned:
                continue
            with fence(path, trouble, seconds=_SECONDS):
                try:
                    text = machine.read_text(path, most=_LAUNCHER if path.endswith(".desktop") else _MOST)
                    found.looked_at[family] = found.looked_at.get(family, 0) + 1
                    hits += reader(path, text, to)
                except ValueError as error:
                    raise CouldNotRead(str(error), path) from None
    return hits


def _in_folder(
    machine: Machine, folder: str, family: str, found: Found, find: Callable[[], Iterator[Hit]]
) -> list[Hit]:
    """The hits in one folder of links or units; what goes wrong there is noted, and what was found before it counts."""
    hits: list[Hit] = []
    _note_unreadable(machine, folder, family, found)
    with fence(folder, _noted(family, found), seconds=_SECONDS):
        hits.extend(find())
    return hits


def _noted(family: str, found: Found) -> Callable[[str, str], None]:
    def trouble(path: str, reason: str) -> None:
        if reason != "is not there":
            found.not_read.setdefault(family, []).append(NotRead(path, reason))

    return trouble


def _files(machine: Machine, place: str, family: str, found: Found) -> list[str]:
    """`place` itself, or the files in it; a folder that may not be read is noted."""
    _note_unreadable(machine, place, family, found)
    resolved = machine.resolve(place)
    status = machine.lstat(resolved) if resolved else None
    if status is None:
        return []
    if type_of(status.st_mode) != "folder":
        return [place]
    wanted = place.endswith(("/applications", "/Desktop", "/autostart"))
    return [f"{place}/{n}" for n in machine.names(place) if n.endswith(".desktop") or not wanted]


def _note_unreadable(machine: Machine, place: str, family: str, found: Found) -> None:
    try:
        machine.listdir(place)
    except CouldNotRead as error:
        if error.reason == "may not be read":
            found.not_read.setdefault(family, []).append(NotRead(place, error.reason))
