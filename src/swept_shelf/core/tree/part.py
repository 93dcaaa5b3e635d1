"""A walk of a few places only: what stands there, all that lies below, and the folders on the way."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable

import numpy as np

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import folder_order, join, parent
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.documents.times import held_ns
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.tree.walk import Tree

_LETTERS = {"file": "f", "folder": "d", "link": "l", "pipe": "p", "socket": "s", "device": "b"}
_MOST = 50_000  # paths below one place
_COLUMNS = {
    "device": np.uint64, "inode": np.uint64, "links": np.int32, "uid": np.uint32, "gid": np.uint32, "mode": np.uint16,
    "blocks": np.int64, "size": np.int64, "mtime": np.int64, "ctime": np.int64, "type": np.uint8,
}  # fmt: skip


def part_of(machine: Machine, places: Iterable[str]) -> Tree:
    """The tree of these places. What is not there, may not be read or is reached through a link is left out; a folder with more
    than is walked is noted as not read."""
    found: dict[str, os.stat_result] = {}
    not_read: list[NotRead] = []
    for place in dict.fromkeys(places):
        try:
            _add(machine, place, found)
        except CouldNotRead as error:
            not_read.append(NotRead(place, error.reason))
    paths = sorted(found, key=folder_order)
    rows = [_row(found[p]) for p in paths]
    columns = {name: np.array([r[i] for r in rows], dtype=t) for i, (name, t) in enumerate(_COLUMNS.items())}
    return Tree(columns, lambda: paths, machine, not_read)


def _add(machine: Machine, place: str, found: dict[str, os.stat_result]) -> None:
    way = [place]
    while way[-1] != "/":
        way.append(parent(way[-1]))
    standing: dict[str, os.stat_result] = {}
    for path in reversed(way):
        status = found.get(path) or machine.lstat(path)
        if status is None or (path != place and not stat.S_ISDIR(status.st_mode)):
            return
        standing[path] = status
    found |= standing
    if stat.S_ISDIR(standing[place].st_mode):
        _add_below(machine, place, found)


def _add_below(machine: Machine, place: str, found: dict[str, os.stat_result]) -> None:
    inside: dict[str, os.stat_result] = {}
    try:
        with machine.folder(place) as top:
            for below, fd, _ in folders_below(top, unreadable_too=True):
                here = join(place, below) if below else place
                for name in os.listdir(fd):
                    inside[join(here, name)] = os.stat(name, dir_fd=fd, follow_symlinks=False)
                if len(inside) > _MOST:
                    raise CouldNotRead(f"holds more than {_MOST} files", place)
    except OSError as error:
        raise CouldNotRead((error.strerror or str(error)).lower(), place) from None
    found |= inside


def _row(s: os.stat_result) -> tuple[int, ...]:
    letter = _LETTERS[type_of(s.st_mode)]
    return (
        s.st_dev, s.st_ino, s.st_nlink, s.st_uid, s.st_gid, stat.S_IMODE(s.st_mode),
        s.st_blocks, s.st_size, held_ns(s.st_mtime_ns), held_ns(s.st_ctime_ns), ord(letter),
    )  # fmt: skip
