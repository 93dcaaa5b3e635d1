"""What a survey is going to read and how long it may take: before a machine was ever looked at, without reading it."""

from __future__ import annotations

import os
from dataclasses import dataclass

from swept_shelf.core.documents.sizes import grouped, plural
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.facts import rights
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.volumes import read_volumes

_EACH_SECOND = 10_000  # files and folders, as measured on a slow computer with a thousand packages
_PEOPLE = 4  # named; more are counted


@dataclass(frozen=True, slots=True)
class Ahead:
    """`volumes`: those whose size is known without reading them; `files`: entries on all of them, None where nobody knows."""

    mounts: tuple[str, ...]
    volumes: tuple[Volume, ...]
    files: int | None
    people: tuple[str, ...]
    administrator: bool

    def sentences(self) -> list[tuple[str, str]]:
        """(what, answer) to whoever asks before it begins."""
        where = _several(self.mounts)
        many = (
            f"about {grouped(self.files)} files and folders on {where}" if self.files else f"all of {where}"
        )
        return [
            (
                "What is read",
                f"{many}, the registries’ databases, and the signs of use that the system keeps",
            ),
            ("Whose", f"{_several(self.people)}: names and sizes; nothing of what they wrote is shown"),
            ("How long", f"{_long(self.files)}; names stand here first, then sizes, then when each was used"),
            (
                "What it changes",
                "nothing: whoever looks sees every volume read-only, and no time of a file moves",
            ),
            ("Rights", _rights(self.administrator)),
        ]


def look_ahead(machine: Machine) -> Ahead:
    """Asks the volumes for their figures and the list of accounts for its names, and opens nothing else."""
    people = [p.name for p in read_people(machine) if p.name]
    administrator = rights() == "administrator"
    if machine.description:  # its volumes are counted file by file
        mounts = tuple(v.mount for v in machine.description.volumes)
        return Ahead(mounts, (), None, tuple(people), administrator)
    volumes = tuple(read_volumes(machine))
    known = machine.live or os.path.ismount(machine.root)
    entries = [n for v in volumes if (n := _entries(machine, v.mount)) is not None]
    files = sum(entries) if known and len(entries) == len(volumes) else None
    return Ahead(tuple(v.mount for v in volumes), volumes, files, tuple(people), administrator)


def _entries(machine: Machine, mount: str) -> int | None:
    """What a file system counts itself; some count nothing."""
    try:
        with machine.folder(mount) as fd:
            told = os.fstatvfs(fd)
    except OSError:
        return None
    return told.f_files - told.f_ffree or None


def _several(names: tuple[str, ...]) -> str:
    if len(names) > _PEOPLE:
        return f"{', '.join(names[:_PEOPLE])} and {len(names) - _PEOPLE} more"
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names) or "nobody"


def _long(files: int | None) -> str:
    if files is None:
        return "seconds for a small system, a minute for a large one"
    seconds = max(5, files // _EACH_SECOND)
    return (
        f"about {plural(seconds, 'second')}"
        if seconds < 90
        else f"about {plural(round(seconds / 60), 'minute')}"
    )


def _rights(administrator: bool) -> str:
    if administrator:
        return "as the administrator everything can be read"
    return "as an ordinary user homes of others stay closed; what could not be read is named, and sudo swept-shelf reads it"
