"""Writes survey.index: the walk on disk, as docs/survey-index.md describes it."""

from __future__ import annotations

import contextlib
import hashlib
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from swept_shelf.core.documents.paths import base, folder_order, parent
from swept_shelf.core.tree.index import TOP, TYPE_NUMBERS, VERSION, IndexedPackage, name_of, raw_of

if TYPE_CHECKING:
    from swept_shelf.core.tree.walk import Tree

SCHEMA = """
CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE packages (name TEXT PRIMARY KEY, number INTEGER, version TEXT, asked_for INTEGER, status TEXT, root INTEGER,
  bytes INTEGER, protected TEXT) WITHOUT ROWID;
CREATE TABLE edges (package TEXT, needs TEXT, kind TEXT, choice INTEGER);
CREATE TABLE file_systems (number INTEGER PRIMARY KEY, id TEXT);
CREATE TABLE owners (number INTEGER PRIMARY KEY, name TEXT);
CREATE TABLE folders (number INTEGER PRIMARY KEY, above INTEGER, name BLOB);
CREATE TABLE entries (folder INTEGER, name BLOB, file_system INTEGER, inode INTEGER, type INTEGER, size INTEGER, mtime_ns INTEGER,
  changed_after INTEGER, uid INTEGER, gid INTEGER, mode INTEGER, blocks INTEGER, links INTEGER, owner INTEGER, package INTEGER,
  PRIMARY KEY (folder, name)) WITHOUT ROWID;
CREATE TABLE listed_too (folder INTEGER, name BLOB, package INTEGER, PRIMARY KEY (folder, name, package)) WITHOUT ROWID;
CREATE TABLE package_folders (package INTEGER, folder INTEGER, PRIMARY KEY (package, folder)) WITHOUT ROWID;
CREATE TABLE shared (folder INTEGER, name BLOB, bytes INTEGER, PRIMARY KEY (folder, name)) WITHOUT ROWID;
CREATE TABLE folder_totals (folder INTEGER, owner INTEGER, bytes INTEGER, files INTEGER, PRIMARY KEY (folder, owner)) WITHOUT ROWID;
"""
_CHUNK = 2000  # folders at a time
_AFTER = "CREATE INDEX large_files ON entries (blocks) WHERE type = 0 AND blocks >= 19531;"


def write_index(folder: str, tree: Tree) -> str:
    """Write `folder`/survey.index of a walk alone, of which nobody owns anything. Returns its sha256."""
    writer = IndexWriter(folder, tree, tuple, tuple, tuple, dict)
    writer(None)
    return writer([""] * len(tree.paths))


class IndexWriter:
    """Writes `folder`/survey.index: nearly all as soon as the walk has ended, with whose everything is likely to be, and the rest
    when that is known."""

    def __init__(
        self,
        folder: str,
        tree: Tree,
        packages: Callable[[], Iterable[IndexedPackage]],
        edges: Callable[[], Iterable[tuple[str, str, str, int]]],
        package_paths: Callable[[], Iterable[tuple[str, str]]],
        likely: Callable[[], dict[str, str]],
    ) -> None:
        self._path, self._tree = Path(folder) / "survey.index", tree
        self._packages, self._edges, self._package_paths, self._likely = (
            packages,
            edges,
            package_paths,
            likely,
        )
        self._base: sqlite3.Connection | None = None
        self._entries: _Entries | None = None

    def __call__(self, whose: list[str] | None) -> str:
        """Begin, or, with whose each position of the walk is, come to the end. Returns the file's sha256 then."""
        if whose is None:
            self._begin()
            return ""
        return self._end(whose)

    def _begin(self) -> None:
        self._path.unlink(missing_ok=True)
        numbers: dict[str, int] = {}
        self._base = base = sqlite3.connect(self._path)
        base.executescript("PRAGMA journal_mode=OFF; PRAGMA synchronous=OFF;" + SCHEMA)
        base.executemany(
            "INSERT INTO meta VALUES (?, ?)", [("format", "swept-shelf/survey-index"), ("version", VERSION)]
        )
        for p in self._packages():
            numbers[p.name] = len(numbers) + 1
            row = (p.name, numbers[p.name], p.version, p.asked_for, p.status, p.root, p.bytes, p.protected)
            base.execute("INSERT INTO packages VALUES (?, ?, ?, ?, ?, ?, ?, ?)", row)
        base.executemany("INSERT INTO edges VALUES (?, ?, ?, ?)", self._edges())
        self._entries = _Entries(self._tree, numbers, self._package_paths())
        self._entries.write(base, inherited_owners(self._tree, self._likely()))

    def _end(self, whose: list[str]) -> str:
        assert self._base and self._entries
        with contextlib.closing(self._base) as base:
            self._entries.correct(base, whose)
            base.executescript(_AFTER)
            base.commit()
        with open(self._path, "rb") as handle:
            return hashlib.file_digest(handle, "sha256").hexdigest()


class _Entries:
    """Rows of the walk, folder by folder: each folder's path stands once, what repeats is a small number."""

    def __init__(self, tree: Tree, packages: dict[str, int], listed: Iterable[tuple[str, str]]) -> None:
        self._tree = tree
        self._whose: list[str] = []
        self._owners: dict[str, int] = {}
        positions = np.flatnonzero(tree.is_folder).tolist()
        positions.sort(key=lambda i: folder_order(tree.paths[i]).encode("utf-8", "surrogateescape"))
        self._folders = positions
        self._number = {i: n for n, i in enumerate(positions, 1)}
        self._listed: dict[int, list[int]] = {}
        for name, path in listed:
            if (i := tree.where.get(path)) is not None and name in packages:
                numbers = self._listed.setdefault(i, [])
                if packages[name] not in numbers:
                    numbers.append(packages[name])

    def write(self, base: sqlite3.Connection, whose: list[str]) -> None:
        """All but what is known of owners at the end. `whose`: whose each position of the walk is likely to be."""
        tree, folders = self._tree, self._folders
        self._whose = whose
        self._above = above = list(self._folders_above())
        base.executemany(
            "INSERT INTO folders VALUES (?, ?, ?)",
            ((n, above[i], name_of(tree.paths[i])) for i, n in self._number.items()),
        )
        members: dict[int, list[int]] = {TOP: [0]} if tree.paths else {}
        for i, number in enumerate(above):
            if number:
                members.setdefault(number, []).append(i)
        known: dict[str, int] = {}
        pairs: set[tuple[int, int]] = set()
        too: list[tuple[int, bytes, int]] = []
        for start in range(0, len(folders) + 1, _CHUNK):
            named = [
                (number, name, i)
                for number in range(start, min(start + _CHUNK, len(folders) + 1))
                for name, i in sorted((name_of(tree.paths[i]) or b"/", i) for i in members.pop(number, ()))
            ]
            rows = self._rows(named, known, pairs, too)
            base.executemany(f"INSERT INTO entries VALUES ({','.join('?' * 15)})", rows)
        base.executemany("INSERT INTO file_systems VALUES (?, ?)", ((n, id) for id, n in known.items()))
        base.executemany("INSERT INTO listed_too VALUES (?, ?, ?)", sorted(too))
        base.executemany("INSERT INTO package_folders VALUES (?, ?)", sorted(pairs))
        base.executemany("INSERT INTO shared VALUES (?, ?, ?)", self._shared())

    def correct(self, base: sqlite3.Connection, whose: list[str]) -> None:
        """`whose`: whose each position of the walk is."""
        paths, before, self._whose = self._tree.paths, self._whose, whose
        others = [i for i, (was, known) in enumerate(zip(before, whose, strict=True)) if was != known]
        base.executemany(
            "UPDATE entries SET owner = ? WHERE folder = ? AND name = ?",
            ((self._owner(whose[i]), self._above[i], name_of(paths[i]) or b"/") for i in others),
        )
        used = set(whose)
        numbers = [(number, name) for name, number in self._owners.items() if name in used]
        base.executemany("INSERT INTO owners VALUES (?, ?)", numbers)
        base.executemany("INSERT INTO folder_totals VALUES (?, ?, ?, ?)", self._totals())

    def _owner(self, name: str) -> int:
        return self._owners.setdefault(name, len(self._owners))

    def _folders_above(self) -> Iterator[int]:
        """Per position the number of the folder it lies in."""
        stack: list[tuple[int, int]] = []
        stops = self._tree.stops
        for i in range(len(self._tree.paths)):
            while stack and i >= stack[-1][0]:
                stack.pop()
            yield stack[-1][1] if stack else TOP
            if number := self._number.get(i):
                stack.append((int(stops[i]), number))

    def _rows(
        self,
        named: list[tuple[int, bytes, int]],
        known: dict[str, int],
        pairs: set[tuple[int, int]],
        too: list[tuple[int, bytes, int]],
    ) -> Iterable[tuple[Any, ...]]:
        """The rows of (folder's number, name, position); fills what stands beside them."""
        if not named:
            return ()
        tree, whose = self._tree, self._whose
        numbers, names, positions = zip(*named, strict=True)
        where = np.array(positions, dtype=np.int64)
        systems, inodes, kinds, sizes, mtimes, _, uids, gids, modes = tree.identities_of(where)
        packages: list[int | None] = []
        for number, name, i in named:
            listed = self._listed.get(i, ())
            if len(listed) == 1:
                packages.append(listed[0])
                pairs.add((listed[0], number))
            else:
                packages.append(None)
                for package in listed:
                    pairs.add((package, number))
                    too.append((number, name, package))
        return zip(
            numbers,
            names,
            [known.setdefault(s, len(known)) for s in systems],
            inodes,
            [TYPE_NUMBERS[kind] for kind in kinds],
            sizes,
            mtimes,
            (tree.ctime[where] - tree.mtime[where]).tolist(),  # in 64 bits, as `signed` has it
            uids,
            gids,
            modes,
            (tree.blocks[where] // 512).tolist(),
            tree.links[where].tolist(),
            [self._owner(whose[i]) for i in positions],
            packages,
            strict=True,
        )

    def _shared(self) -> Iterator[tuple[int, bytes, int]]:
        numbers = {self._tree.paths[i]: n for i, n in self._number.items()}
        for i, total in self._tree.shared.items():
            path = self._tree.paths[i]
            yield numbers[parent(path)], raw_of(base(path)), total

    def _totals(self) -> Iterator[tuple[int, int, int, int]]:
        """Per folder and owner, bytes (each file once) and files below it: differences of running sums over each owner's paths."""
        tree = self._tree
        which = np.array([self._owners[w] for w in self._whose], dtype=np.int32)
        folders = np.flatnonzero(tree.is_folder)
        starts, stops = folders, tree.stops[folders]
        for owner in self._owners.values():
            mine = np.flatnonzero(which == owner)
            low, high = np.searchsorted(mine, starts), np.searchsorted(mine, stops)
            some = np.flatnonzero(high > low)
            bytes_so_far = np.concatenate([[0], np.cumsum(tree.once[mine])])
            files_so_far = np.concatenate([[0], np.cumsum(~tree.is_folder[mine])])
            totals = (bytes_so_far[high] - bytes_so_far[low])[some].tolist()
            files = (files_so_far[high] - files_so_far[low])[some].tolist()
            for i, total, count in zip(folders[some].tolist(), totals, files, strict=True):
                yield self._number[i], owner, total, count


def inherited_owners(tree: Tree, owners: dict[str, str]) -> list[str]:
    """Whose each position of the walk is: its own entry in `owners`, else its folder's."""
    whose = [""] * len(tree.paths)
    stack: list[tuple[int, str]] = []
    for i, path in enumerate(tree.paths):
        while stack and i >= stack[-1][0]:
            stack.pop()
        own = owners.get(path)
        whose[i] = own if own is not None else (stack[-1][1] if stack else "")
        if tree.is_folder[i]:
            stack.append((int(tree.stops[i]), whose[i]))
    return whose
