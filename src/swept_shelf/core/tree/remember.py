"""What an earlier walk saw where only a package registry writes, so that unchanged folders there are not read again.

Evidence is each folder's own device, inode, modification and change time: they change when a name in it comes, goes or is
exchanged. They do not when a file is written in place; below a registry's own places nobody does that, elsewhere
everybody: nothing else is remembered."""

from __future__ import annotations

import os
import zipfile
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.machine.machine import SHELF
from swept_shelf.core.tree.rows import COLUMNS, Rows
from swept_shelf.core.tree.walk_columns import stops_of

TRUSTED = "/usr"
NOT_TRUSTED = "/usr/local"
FILE = "walk.npz"


@dataclass(slots=True)
class Reuse:
    """`pieces`: positions in the remembered rows that still hold; `opened`: folders whose own entries are read anew;
    `parts`: folders that are walked whole. Paths begin with '.'."""

    rows: Rows
    pieces: list[tuple[int, int]] = field(default_factory=list)
    opened: list[str] = field(default_factory=list)
    parts: list[str] = field(default_factory=list)


def keep(
    folder: str, paths: list[str], columns: dict[str, NDArray[np.generic]], trusted: range, without: range
) -> None:
    """Write `folder`/walk.npz: the rows of `trusted` (positions) but for `without`."""
    if not trusted:
        return
    cut = without if without else range(trusted.stop, trusted.stop)
    which = [*range(trusted.start, cut.start), *range(cut.stop, trusted.stop)]
    text = "".join(f".{paths[i]}\0" for i in which).encode("utf-8", "surrogateescape")
    picked: dict[str, Any] = {name: column[which] for name, column in columns.items()}
    np.savez(Path(folder) / FILE, paths=np.frombuffer(text, np.uint8), **picked)


def recall(folder: str) -> Rows | None:
    """The remembered rows; None where there are none that can be read."""
    try:
        with np.load(Path(folder) / FILE, allow_pickle=False) as kept:
            columns = {name: kept[name] for name in COLUMNS}
            rows = Rows(columns, kept["paths"].tobytes())
    except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
        return None
    if not len(rows.ends) or any(len(c) != len(rows.ends) for c in columns.values()):
        return None
    return rows


def compare(rows: Rows, place: str) -> Reuse | None:
    """What of `rows` still holds for the root at `place`; None where its device is another now."""
    folders = np.flatnonzero(rows.columns["type"] == ord("d")).tolist()
    same: dict[int, bool] = {}
    device, inode, mtime, ctime = (rows.columns[n].tolist() for n in ("device", "inode", "mtime", "ctime"))
    paths = {i: rows.path(i) for i in folders}
    for i in folders:
        try:
            s = os.lstat(place + paths[i])
            same[i] = (s.st_dev, s.st_ino, s.st_mtime_ns, s.st_ctime_ns) == (
                device[i],
                inode[i],
                mtime[i],
                ctime[i],
            )
            if i == 0 and s.st_dev != device[0]:
                return None
        except OSError:
            same[i] = False
            if i == 0:
                return None
    slashes = np.cumsum(np.frombuffer(rows.text, np.uint8) == ord("/"))[rows.ends]
    stops = stops_of(np.diff(slashes, prepend=0), rows.columns["type"] == ord("d"))
    different = np.zeros(len(rows) + 1, dtype=np.int64)
    different[[i + 1 for i in folders if not same[i]]] = 1
    reuse, so_far = Reuse(rows), np.cumsum(different)
    known = {path: i for i, path in paths.items()}
    stack = [0]
    while stack:
        i = stack.pop()
        end = int(stops[i])
        if (
            i and so_far[end] == so_far[i]
        ):  # the top is taken apart in any case: what is not trusted stands between its parts
            reuse.pieces.append((i, end))
            continue
        if not same[i]:
            reuse.opened.append("." + paths[i])
            for name in _folders_in(place + paths[i]):
                inner = f"{paths[i]}/{name}"
                if inner in known:
                    stack.append(known[inner])
                elif inner != NOT_TRUSTED:
                    reuse.parts.append("." + inner)
            continue
        reuse.pieces.append((i, i + 1))
        at = i + 1
        while at < end:
            step = int(stops[at])
            if at in same:
                stack.append(at)
            else:
                reuse.pieces.append((at, step))
            at = step
    return reuse


def _folders_in(path: str) -> Iterable[str]:
    try:
        with os.scandir(path) as listing:
            return [e.name for e in listing if e.is_dir(follow_symlinks=False) and e.name != SHELF]
    except OSError:
        return []
