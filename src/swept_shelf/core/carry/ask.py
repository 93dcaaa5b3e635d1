"""What answers about a line stand on, handed to every operation's check."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.machine import Machine


@dataclass(slots=True)
class Ask:
    """What the answers stand on. `removed`: packages that earlier lines took, or are to take before this one; `pure`: nothing
    is waited for or tried."""

    machine: Machine
    volumes: list[Volume]
    removed: set[str] = field(default_factory=set)
    pure: bool = False
    going: Callable[[str, Iterable[str]], list[str]] = lambda _, packages: list(packages)
    read_only: dict[int, str] = field(default_factory=dict)
    notes: dict[str, None] = field(default_factory=dict)


def must_be_writable(ask: Ask, place: str) -> None:
    """Raises Refused where a place that exists is mounted read-only, once for each mount."""
    try:
        with ask.machine.folder(place) as fd:
            if os.fstatvfs(fd).f_flag & os.ST_RDONLY:
                first = ask.read_only.setdefault(os.fstat(fd).st_dev, place)
                raise Refused(f"{first} is mounted read-only: nothing there can be changed")
    except OSError:
        return  # what is not there is said when its turn comes


def may_write(machine: Machine, folder: str) -> bool:
    """Whether the caller may put something into a folder, or take it away. A folder that went needs no rights."""
    if os.geteuid() == 0:
        return True
    try:
        with machine.folder(folder) as fd:
            return os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK)
    except FileNotFoundError:
        return True
    except OSError:
        return False
