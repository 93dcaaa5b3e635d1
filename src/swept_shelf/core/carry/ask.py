"""What answers about a line stand on, handed to every operation's check."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from swept_shelf.core.carry.checks import Bounds
from swept_shelf.core.carry.shelf import shelf_for
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.read import ADMIN


@dataclass(slots=True)
class Ask:
    """What the answers stand on. `removed`: packages that earlier lines took, or are to take before this one; `pure`: nothing
    is waited for or tried. `uninstalled`: what registries of whole applications took, by registry and place. `as_surveyed`: whether the registry would accept to be without these packages, by the graph of the
    survey, where its own word on all of them together was asked and nothing in it changed since."""

    machine: Machine
    volumes: list[Volume]
    removed: set[str] = field(default_factory=set)
    pure: bool = False
    as_surveyed: Callable[[set[str]], bool] | None = None
    going: Callable[[str, Iterable[str]], list[str]] = lambda _, packages: list(packages)
    bounds: Bounds = field(default_factory=lambda: Bounds([], []))
    uninstalled: dict[str, set[str]] = field(default_factory=dict)
    shelves: dict[str, str] = field(default_factory=dict)
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


def must_have_registry(ask: Ask) -> None:
    """Raises Refused where the registry cannot be changed, or somebody works on it."""
    must_be_writable(ask, ADMIN)
    if why := change.cannot_work_inside(ask.machine):
        raise Refused(why, ask.machine.root)
    if not ask.pure:
        change.wait_for_lock(ask.machine)
    elif held := change.lock_held(ask.machine):
        raise Refused(f"another package tool holds the lock: {held[1]}", held[0])


def must_have_shelf(ask: Ask, path: str) -> None:
    """Raises Refused where no shelf can be made within which a rename from `path` works; asked once for each folder."""
    above = parent(path)
    if above not in ask.shelves:
        try:
            shelf_for(ask.machine, path, ask.volumes)
            ask.shelves[above] = ""
        except FileNotFoundError:
            ask.shelves[above] = ""  # what went is done
        except OSError as error:
            ask.shelves[above] = error.strerror or str(error)
    if ask.shelves[above]:
        raise Refused(ask.shelves[above], path)


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
