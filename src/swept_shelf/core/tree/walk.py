"""The walk, as columns over all paths in folder order: everything below a folder is one slice.

Sizes are allocated bytes (st_blocks * 512). A file with several names counts once in a total: at its first name
outside stores of objects."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.paths import folder_order
from swept_shelf.core.documents.survey import Identity, NotRead
from swept_shelf.core.machine.machine import OVERFLOW_UID, Machine
from swept_shelf.core.tree.extents import WORTH, shared_bytes
from swept_shelf.core.tree.finding import find_all
from swept_shelf.core.tree.objects import in_a_store
from swept_shelf.core.tree.positions import Positions
from swept_shelf.core.tree.remember import NOT_TRUSTED, TRUSTED, keep
from swept_shelf.core.tree.walk_columns import stops_of

_MANY = 200_000  # paths of which a dictionary would take too much memory
_TYPES = {"f": "file", "d": "folder", "l": "link", "p": "pipe", "s": "socket"}
SKIPPED = ("/proc", "/sys", "/dev", "/run/user", "/run/systemd", "/run/udev", "/run/credentials")


@dataclass(frozen=True, slots=True)
class Entry:
    """One path as the walk saw it. Times in nanoseconds; access times are asked for one by one (Tree.accessed)."""

    path: str
    type: str
    bytes: int
    links: int
    identity: Identity

    @property
    def mtime_ns(self) -> int:
        return self.identity.mtime_ns


class Tree:
    """All paths of the walk in folder order: a folder is directly followed by everything below it."""

    def __init__(
        self,
        columns: dict[str, NDArray[Any]],
        paths: Callable[[], list[str]],
        machine: Machine | None,
        not_read: list[NotRead],
        reused: int = 0,
    ) -> None:
        self._columns = columns
        self._paths = paths
        self._machine = machine
        self._targets: dict[str, str] = {}
        self.shared: dict[int, int] = {}
        self.not_read = not_read
        self.reused = reused
        self.blocks: NDArray[np.int64] = columns["blocks"] * 512
        self.is_folder: NDArray[np.bool_] = columns["type"] == ord("d")
        self.is_file: NDArray[np.bool_] = columns["type"] == ord("f")
        self.is_link: NDArray[np.bool_] = columns["type"] == ord("l")
        self.is_content: NDArray[np.bool_] = (
            self.is_file | (columns["type"] == ord("s")) | (columns["type"] == ord("p"))
        )  # what programs make: files, sockets, pipes
        self.links: NDArray[np.int32] = columns["links"]
        self.mtime: NDArray[np.int64] = columns["mtime"]
        self.ctime: NDArray[np.int64] = columns["ctime"]
        self.uid: NDArray[np.uint32] = columns["uid"]
        self.sizes: NDArray[np.int64] = columns["size"]

    def all_owned_by(self, path: str, uid: int) -> bool:
        """Whether `path` is there, and it and everything below it is of this account."""
        part = self.slice(path)
        return bool(part) and bool((self.uid[part.start : part.stop] == uid).all())

    @cached_property
    def paths(self) -> list[str]:
        return self._paths()

    @cached_property
    def where(self) -> Mapping[str, int]:
        """The position of each path: by the quicker dictionary where there are not too many."""
        if len(self.paths) < _MANY:
            return {path: i for i, path in enumerate(self.paths)}
        return Positions(self.paths)

    def texts_of(self, paths: tuple[str, ...]) -> tuple[str, ...]:
        """The walk's own texts of the same paths, so that nobody keeps them twice."""
        own, found = self.paths, map(self.where.get, paths)
        return tuple([path if i is None else own[i] for path, i in zip(paths, found, strict=True)])

    @cached_property
    def once(self) -> NDArray[np.int64]:
        """Allocated bytes per path; a file with several names counts at the first of them, by path, that no store
        of objects has."""
        once = self.blocks.copy()
        several = np.flatnonzero((self.links > 1) & ~self.is_folder)
        for members in _groups(self._columns["device"][several], self._columns["inode"][several]):
            named = several[members].tolist()
            first = min(named, key=lambda m: (in_a_store(self.paths[m]), folder_order(self.paths[m])))
            once[[m for m in named if m != first]] = 0
        return once

    @cached_property
    def total(self) -> int:
        """Allocated bytes of everything, each file once."""
        columns = self._columns
        several = (columns["links"] > 1) & ~self.is_folder
        order, first = _by_file(columns["device"][several], columns["inode"][several])
        return int(self.blocks[~several].sum() + self.blocks[several][order][first].sum())

    @cached_property
    def _sums(self) -> NDArray[np.int64]:
        return np.concatenate([[0], np.cumsum(self.once)])

    @cached_property
    def stops(self) -> NDArray[np.int64]:
        """Per folder, the position after everything below it; per other path, the next position."""
        depth = np.array([p.count("/") if p != "/" else 0 for p in self.paths], dtype=np.int32)
        return stops_of(depth, self.is_folder)

    def __contains__(self, path: str) -> bool:
        return path in self.where

    def slice(self, path: str) -> range:
        """Positions of `path` and everything below it; empty where the walk saw nothing."""
        start = self.where.get(path)
        return range(0) if start is None else range(start, int(self.stops[start]))

    def without(self, part: range, inner: Iterable[str]) -> NDArray[np.bool_]:
        """Which positions of a slice lie neither at nor below any of `inner`."""
        wanted = np.ones(len(part), dtype=bool)
        for path in inner:
            away = self.slice(path)
            wanted[max(0, away.start - part.start) : max(0, away.stop - part.start)] = False
        return wanted

    def bytes_below(self, path: str, without: Iterable[str] = ()) -> int:
        part = self.slice(path)
        total = int(self._sums[part.stop] - self._sums[part.start]) if part else 0
        return total - sum(self.bytes_below(w) for w in without)

    def files_below(self, path: str) -> int:
        part = self.slice(path)
        if len(part) == 1:  # nearly always, and far quicker than what is right for many
            return int(not self.is_folder.item(part.start))
        return int((~self.is_folder[part.start : part.stop]).sum()) if part else 0

    def newest_write(self, path: str) -> int | None:
        """Newest modification of a regular file at or below `path` in nanoseconds; folders and links do not count."""
        part = self.slice(path)
        if not part:
            return None
        if len(part) == 1:
            return self.mtime.item(part.start) if self.is_file.item(part.start) else None
        times = self.mtime[part.start : part.stop][self.is_file[part.start : part.stop]]
        return int(times.max()) if times.size else None

    def children(self, path: str) -> list[str]:
        """What lies directly in a folder, by name."""
        part = self.slice(path)
        found, i = [], part.start + 1
        while i < part.stop:
            found.append(self.paths[i])
            i = int(self.stops[i])
        return sorted(found, key=folder_order)

    def kind(self, path: str) -> str:
        i = self.where.get(path)
        return "" if i is None else self._type(i)

    def _type(self, i: int) -> str:
        return _TYPES.get(chr(self._columns["type"].item(i)), "device")

    @cached_property
    def executable(self) -> NDArray[np.bool_]:
        """Per position whether anybody may start it."""
        starts: NDArray[np.bool_] = (self._columns["mode"] & 0o111) != 0
        return starts

    def entry(self, path: str) -> Entry | None:
        i = self.where.get(path)
        return None if i is None else self.entry_at(i)

    def entry_at(self, i: int) -> Entry:
        """What stands at a position."""
        c, kind = self._columns, self._type(i)
        assert self._machine is not None
        uid = c["uid"].item(i)
        hidden = self._machine.in_user_namespace and uid == OVERFLOW_UID
        identity = Identity(
            self._machine.file_system(c["device"].item(i)),
            c["inode"].item(i),
            kind,
            0 if kind == "folder" else c["size"].item(i),
            c["mtime"].item(i),
            c["ctime"].item(i),
            None if hidden else uid,
            None if hidden else c["gid"].item(i),
            c["mode"].item(i),
        )
        return Entry(self.paths[i], kind, self.blocks.item(i), self.links.item(i), identity)

    def keep(self, folder: str) -> None:
        """Leave in `folder` what the next walk may take from this one."""
        keep(folder, self.paths, self._columns, self.slice(TRUSTED), self.slice(NOT_TRUSTED))

    def identities_of(self, positions: NDArray[np.int64]) -> list[list[Any]]:
        """Columns of Identity over these positions: file system, inode (as SQLite keeps it, signed), type, size, mtime, ctime,
        uid, gid, mode."""
        c, machine = {name: column[positions] for name, column in self._columns.items()}, self._machine
        assert machine is not None
        hidden = machine.in_user_namespace
        return [
            [machine.file_system(d) for d in c["device"].tolist()],
            c["inode"].view(np.int64).tolist(),
            [_TYPES.get(chr(t), "device") for t in c["type"].tolist()],
            np.where(self.is_folder[positions], 0, c["size"]).tolist(),
            c["mtime"].tolist(),
            c["ctime"].tolist(),
            *(
                [
                    None if hidden and u == OVERFLOW_UID else n
                    for n, u in zip(c[x].tolist(), c["uid"].tolist(), strict=True)
                ]
                for x in ("uid", "gid")
            ),
            c["mode"].tolist(),
        ]

    def returning(self, positions: NDArray[np.int64], besides: int = 0) -> int:
        """Bytes that come back when all that stands there goes together (as returning.py counts them). `besides`: names of each
        file that its registry's store holds, and that go with it."""
        some = np.unique(positions)
        sizes = self.blocks[some]
        if self.shared:
            sizes = sizes - np.array([self.shared.get(i, 0) for i in some.tolist()], dtype=np.int64)
        several = (self.links[some] > 1) & ~self.is_folder[some]
        total = int(sizes[~several].sum())
        if several.any():
            part = some[several]
            pairs = np.stack([self._columns["device"][part].astype(np.uint64), self._columns["inode"][part]])
            _, first, names = np.unique(pairs, axis=1, return_index=True, return_counts=True)
            whole = names + besides >= self.links[part][first]
            total += int(sizes[several][first][whole].sum())
        return total

    def find_shared(self, devices: Iterable[int]) -> None:
        """Ask the file systems on these devices how much of each larger file other files share."""
        assert self._machine is not None
        larger = (
            self.is_file
            & (self.blocks >= WORTH)
            & np.isin(self._columns["device"], np.array(list(devices), dtype=np.uint64))
        )
        for position in np.flatnonzero(larger).tolist():
            if found := shared_bytes(self._machine, self.paths[position]):
                self.shared[position] = found

    def accessed(self, path: str) -> int | None:
        """When a regular file was last read by the file system's word, in nanoseconds; asked of the machine now."""
        if self._machine is None or self.kind(path) != "file":
            return None
        status = self._machine.lstat(path)
        return status.st_atime_ns if status else None

    def target(self, path: str) -> str:
        """Where a link leads, as written in it; "" for anything else."""
        if path not in self._targets:
            is_link = self._machine is not None and self.kind(path) == "link"
            self._targets[path] = (self._machine.readlink(path) or "") if is_link and self._machine else ""
        return self._targets[path]

    def real(self, path: str) -> str:
        """`path` with links in its folders followed inside the walk; its last part is not followed; steps back are taken."""
        done = ""
        steps = 0
        parts = path.strip("/").split("/")
        while parts:
            part = parts.pop(0)
            if part in ("", ".", ".."):
                done = done.rpartition("/")[0] if part == ".." else done
                continue
            here = f"{done}/{part}"
            if parts and steps < 40 and self.kind(here) == "link":
                steps += 1
                target = self.target(here)
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


def walk(
    machine: Machine,
    skipped: Iterable[str] = SKIPPED,
    told: Callable[[int], None] = lambda _: None,
    before: str = "",
) -> Tree:
    """Walk the whole root, never through links, never into the holding shelf. `told` hears how many paths so far.

    `before`: a survey's folder; what it remembers of the registry's own places is taken where the folders there are as they
    were (see remember.py). Raises CouldNotRead."""
    found = find_all(machine, skipped, told, before)
    return Tree(found.columns, found.paths, machine, found.not_read, found.reused)


def _by_file(
    device: NDArray[np.uint64], inode: NDArray[np.uint64]
) -> tuple[NDArray[np.intp], NDArray[np.bool_]]:
    """Positions in an order that has the names of a file side by side, and in it the first name of each."""
    order = np.lexsort((inode, device))
    first = np.ones(len(order), dtype=np.bool_)
    first[1:] = (np.diff(inode[order]) != 0) | (np.diff(device[order]) != 0)
    return order, first


def _groups(device: NDArray[np.uint64], inode: NDArray[np.uint64]) -> Iterator[NDArray[np.intp]]:
    """The positions of each file that has several names here."""
    order, first = _by_file(device, inode)
    begins = np.flatnonzero(first)
    ends = np.append(begins[1:], len(order))
    wanted = ends - begins > 1
    for begin, end in zip(begins[wanted].tolist(), ends[wanted].tolist(), strict=True):
        yield order[begin:end]
