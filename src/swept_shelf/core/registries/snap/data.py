"""A snap's data folders while the service changes what uses them: they stand aside, under a name of ours beside their own."""

from __future__ import annotations

import contextlib
import os
import stat
from collections.abc import Iterator
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.registries.snap import service
from swept_shelf.core.registries.snap.read import DATA


def data_folders(machine: Machine, name: str) -> list[str]:
    """Of a snap, or of one revision of it: those that are there."""
    return [p for p in dict.fromkeys(_places(machine, name)) if _is_folder(machine, p)]


def _places(machine: Machine, name: str) -> list[str]:
    return [join(DATA, name), *(join(p.home, "snap", name) for p in read_people(machine))]


def _is_folder(machine: Machine, path: str) -> bool:
    status = machine.lstat(path)
    return status is not None and stat.S_ISDIR(status.st_mode)


def data_back(machine: Machine, kept: list[dict[str, Any]]) -> None:
    for one in kept:
        for path, aside in one["aside"].items():
            move(machine, aside, path)


def move(machine: Machine, path: str, to: str) -> None:
    """In one folder; once more is as good as once. Raises CouldNotRead where something else stands there, which is left as it is."""
    if not _is_folder(machine, path):
        return
    with machine.folder(parent(path)) as folder:
        _without_husk(folder, base(to))
        try:
            beneath.rename(folder, base(path), folder, base(to))
        except FileExistsError:
            raise CouldNotRead(f"something newer stands there; what it held stands at {path}", to) from None
        os.fsync(folder)


def _without_husk(folder: int, name: str) -> None:
    """An empty folder that the service left, or made, where data comes back to."""
    with contextlib.suppress(OSError):
        os.rmdir(name, dir_fd=folder)


@contextlib.contextmanager
def data_set_aside(machine: Machine, name: str) -> Iterator[None]:
    """While it lasts the snap's data stands under another name: installing a revision beside another, the service puts a copy of
    that one's data in the place of its own, and starts what an older one would do to newer data."""
    places = _places(machine, name)
    _in_place_again(machine, places, False)
    for path in places:
        move(machine, path, _aside(path))
    try:
        yield
    finally:
        _in_place_again(machine, places, True)
        with contextlib.suppress(CouldNotRead):  # its services run on what the service made by now
            service.restart(machine, name)


def _aside(path: str) -> str:
    return join(parent(path), f".{base(path)}.aside-by-swept-shelf")


def _in_place_again(machine: Machine, places: list[str], made: bool) -> None:
    """`made`: what stands in their places by now, the service made just now. After a try that was cut off only folders and links
    are surely its own; files stay, and it is said. Raises CouldNotRead."""
    for path in places:
        if not _is_folder(machine, _aside(path)):
            continue
        with machine.folder(parent(path)) as folder:
            if _is_folder(machine, path) and (made or not _holds_files(folder, base(path))):
                remove_tree(folder, base(path))
        move(machine, _aside(path), path)


def _holds_files(folder: int, name: str) -> bool:
    top = os.open(name, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    try:
        modes = (
            os.stat(entry, dir_fd=fd, follow_symlinks=False).st_mode
            for _, fd, names in folders_below(top)
            for entry in list(names)
        )
        return any(not (stat.S_ISDIR(mode) or stat.S_ISLNK(mode)) for mode in modes)
    finally:
        os.close(top)
