"""The walk. `find` prints one row per path, NumPy adds the rows up; homes and system trees are read once.

Sizes are allocated bytes (st_blocks * 512). A file with several names counts once in a total: at its first
name. Folders are sorted so that everything below a folder is one slice."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.survey import Identity, NotRead
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import OVERFLOW_UID, SHELF, Machine
from swept_shelf.core.tree.returning import Sized

_FORMAT = r"%y\t%D\t%i\t%n\t%U\t%G\t%m\t%b\t%s\t%T@\t%C@\t%A@\t%l\0%p\0"
_TYPES = {"f": "file", "d": "folder", "l": "link", "p": "pipe", "s": "socket"}
_SKIPPED = ("/proc", "/sys", "/dev", "/run")


@dataclass(frozen=True, slots=True)
class Entry:
    """One path as the walk saw it. Times in nanoseconds; `atime_ns` is never written to the index."""

    path: str
    type: str
    bytes: int
    links: int
    target: str
    atime_ns: int
    identity: Identity

    @property
    def mtime_ns(self) -> int:
        return self.identity.mtime_ns


class Tree:
    """All paths of the walk in folder order: a folder is directly followed by everything below it."""

    def __init__(self, paths: list[str], rows: list[list[str]], machine: Machine, not_read: list[NotRead]) -> None:
        order = sorted(range(len(paths)), key=[_key(p) for p in paths].__getitem__)
        self.paths = [paths[i] for i in order]
        self._keys = [_key(p) for p in self.paths]
        self._rows = [rows[i] for i in order]
        self._machine = machine
        self.not_read = not_read
        self.where = {path: i for i, path in enumerate(self.paths)}
        device = np.array([int(r[1]) for r in self._rows], dtype=np.int64)
        inode = np.array([int(r[2]) for r in self._rows], dtype=np.uint64)
        self.blocks = np.array([int(r[7]) for r in self._rows], dtype=np.int64) * 512
        self.is_folder = np.array([r[0] == "d" for r in self._rows], dtype=bool)
        self.is_file = np.array([r[0] == "f" for r in self._rows], dtype=bool)
        self.links = np.array([int(r[3]) for r in self._rows], dtype=np.int64)
        self.mtime = np.array([_ns(r[9]) for r in self._rows], dtype=np.int64)
        self.once = self._count_once(device, inode)
        self._sums = np.concatenate([[0], np.cumsum(self.once)])

    def _count_once(self, device: NDArray[np.int64], inode: NDArray[np.uint64]) -> NDArray[np.int64]:
        """Blocks per path with hard links counted at their first name only; the groups kept by path."""
        self.groups: dict[tuple[int, int], list[int]] = {}
        for i in np.nonzero((self.links > 1) & ~self.is_folder)[0].tolist():
            self.groups.setdefault((int(device[i]), int(inode[i])), []).append(i)
        once = self.blocks.copy()
        for members in self.groups.values():
            once[members[1:]] = 0
        return once

    def __contains__(self, path: str) -> bool:
        return path in self.where

    def slice(self, path: str) -> range:
        """Positions of `path` and everything below it; empty where the walk saw nothing."""
        start = self.where.get(path)
        if start is None:
            return range(0)
        if path == "/":
            return range(len(self.paths))
        return range(start, bisect_left(self._keys, _key(path) + "\x01"))

    def bytes_below(self, path: str, without: Iterable[str] = ()) -> int:
        part = self.slice(path)
        total = int(self._sums[part.stop] - self._sums[part.start]) if part else 0
        return total - sum(self.bytes_below(w) for w in without)

    def files_below(self, path: str) -> int:
        part = self.slice(path)
        return int((~self.is_folder[part.start : part.stop]).sum()) if part else 0

    def newest_write(self, path: str) -> int | None:
        """Newest modification of a regular file at or below `path` in nanoseconds; folders and links do not count."""
        part = self.slice(path)
        if not part:
            return None
        times = self.mtime[part.start : part.stop][self.is_file[part.start : part.stop]]
        return int(times.max()) if times.size else None

    def children(self, path: str) -> Iterator[str]:
        part = self.slice(path)
        i = part.start + 1
        while i < part.stop:
            yield self.paths[i]
            i = self.slice(self.paths[i]).stop

    def kind(self, path: str) -> str:
        i = self.where.get(path)
        return "" if i is None else _TYPES.get(self._rows[i][0], "device")

    def entry(self, path: str) -> Entry | None:
        i = self.where.get(path)
        if i is None:
            return None
        row = self._rows[i]
        hidden = self._machine.in_user_namespace and int(row[4]) == OVERFLOW_UID
        identity = Identity(self._machine.file_system(int(row[1])), int(row[2]), self.kind(path),
                            0 if row[0] == "d" else int(row[8]), _ns(row[9]), _ns(row[10]),
                            None if hidden else int(row[4]), None if hidden else int(row[5]), int(row[6], 8))  # fmt: skip
        return Entry(path, identity.type, int(self.blocks[i]), int(row[3]), row[12], _ns(row[11]), identity)

    def sized(self, position: int) -> Sized:
        row = self._rows[position]
        return Sized(self.paths[position], int(self.blocks[position]), int(row[3]), row[1], int(row[2]), row[0] == "d")

    def entries(self) -> Iterator[Entry]:
        for path in self.paths:
            entry = self.entry(path)
            assert entry is not None
            yield entry

    def real(self, path: str) -> str:
        """`path` with links in its folders followed inside the walk; its last part is not followed."""
        done = ""
        steps = 0
        parts = path.strip("/").split("/")
        while parts:
            part = parts.pop(0)
            here = f"{done}/{part}"
            i = self.where.get(here)
            if parts and i is not None and self._rows[i][0] == "l" and steps < 40:
                steps += 1
                target = self._rows[i][12]
                if target.startswith("/"):
                    done = ""
                moved: list[str] = [p for p in done.split("/") if p]
                for step in target.split("/"):
                    if step == "..":
                        moved = moved[:-1]
                    elif step not in ("", "."):
                        moved.append(step)
                parts, done = [*moved, *parts], ""
            else:
                done = here
        return done or "/"


def walk(machine: Machine, skipped: Iterable[str] = _SKIPPED) -> Tree:
    """Walk the whole root, never through links, never into the holding shelf. Raises CouldNotRead."""
    tests: list[str] = ["(", "-name", SHELF, "-type", "d", "-o", "-path", "./home/*/.local/share/swept-shelf"]
    for top in skipped:
        tests += ["-o", "-path", f".{top}"]
    with machine.handed("/") as (path, fd):
        done = run("find", ".", "-ignore_readdir_race", *tests, ")", "-prune", "-o", "-printf", _FORMAT,
                   cwd=path, fds=[fd], timeout=3600)  # fmt: skip
    if not done.out:
        raise CouldNotRead(f"could not be walked: {done.err.strip()[:200]}", machine.root)
    parts = done.out.decode("utf-8", "surrogateescape").split("\0")
    rows = [head.split("\t", 12) for head in parts[0:-1:2]]
    paths = [p[1:] or "/" for p in parts[1::2]]
    if len(paths) != len(rows):
        raise CouldNotRead("the walk was cut off", machine.root)
    return Tree(paths, rows, machine, list(_not_read(done.err)))


def _not_read(errors: str) -> Iterator[NotRead]:
    for line in errors.splitlines():
        text = line.removeprefix("find: ").lstrip("‘'")
        path, _, reason = text.rpartition(": ")
        path = path.rstrip("’'")
        if path.startswith("."):
            yield NotRead(path[1:] or "/", "may not be read" if reason == "Permission denied" else reason.lower())


def _key(path: str) -> str:
    """Sorts a folder directly before what is below it: '/' before every other character."""
    return path.replace("/", "\0") if path != "/" else ""


def _ns(text: str) -> int:
    """find's fractional seconds as nanoseconds, without a float in between (find(1), %T@)."""
    whole, _, part = text.partition(".")
    seconds = int(whole) * 1_000_000_000
    fraction = int((part + "000000000")[:9])
    return seconds - fraction if whole.startswith("-") else seconds + fraction
