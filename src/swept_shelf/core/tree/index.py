"""Reads survey.index: the walk on disk, an SQLite file described in docs/survey-index.md. Never holds access times."""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any
from urllib.parse import quote

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.tree.returning import Sized

TYPES = ("file", "folder", "link", "pipe", "socket", "device")
TYPE_NUMBERS = {kind: number for number, kind in enumerate(TYPES)}
VERSION = "2"
LARGE = 10_000_000
TOP, ROOT = 0, 1  # what the root itself stands in, and the root


@dataclass(frozen=True, slots=True)
class IndexedPackage:
    """A package as the index keeps it; `root`: the registry keeps it by itself; `protected`: why it may not go, or ""."""

    name: str
    version: str
    asked_for: bool
    status: str
    root: bool
    bytes: int
    protected: str = ""

    @property
    def installed(self) -> bool:
        return self.status not in ("not-installed", "config-files")


@dataclass(frozen=True, slots=True)
class Row:
    """One path of the index; `bytes` allocated, `owner` an application's id or ""."""

    path: str
    identity: Identity
    bytes: int
    links: int
    owner: str
    shared: int = 0

    @property
    def sized(self) -> Sized:
        i = self.identity
        return Sized(
            self.path, self.bytes, self.links, i.file_system, i.inode, i.type == "folder", self.shared
        )


def signed(number: int) -> int:
    """In 64 bits, as they are added and taken from each other there: times may lie further apart than these hold."""
    return (number + (1 << 63)) % (1 << 64) - (1 << 63)


def name_of(path: str) -> bytes:
    return raw_of(path).rpartition(b"/")[2]


def raw_of(path: str) -> bytes:
    return path.encode("utf-8", "surrogateescape")


_COLUMNS = """e.folder, e.name, e.file_system, e.inode, e.type, e.size, e.mtime_ns, e.changed_after, e.uid, e.gid, e.mode, e.blocks,
  e.links, e.owner, e.package FROM entries e"""


class Index:
    """Reads a survey's index: identities below a path, for orders and rechecks. Raises CouldNotRead where it is not there."""

    def __init__(self, path: str | Path) -> None:
        try:
            self._base = sqlite3.connect(
                f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True, check_same_thread=False
            )
            version = self._base.execute("SELECT value FROM meta WHERE key = 'version'").fetchone()
            if version is None or version[0] != VERSION:
                raise CouldNotRead(
                    f"is an index of version {version and version[0]}: survey again", str(path)
                )
            self._systems = dict(self._base.execute("SELECT number, id FROM file_systems"))
            self._owners = dict(self._base.execute("SELECT number, name FROM owners"))
            self._count = self._base.execute("SELECT count(*) FROM folders").fetchone()[0]
            self._shared = {
                (f, n): b for f, n, b in self._base.execute("SELECT folder, name, bytes FROM shared")
            }
        except sqlite3.Error as error:
            raise CouldNotRead(f"the survey’s index cannot be used: {error}", str(path)) from None
        self._packages: dict[str, IndexedPackage] | None = None
        self._paths: dict[int, bytes] = {TOP: b""}
        self._numbers: dict[int, str] = {}

    # -- folders ----------------------------------------------------------------------------------------------

    def _path(self, folder: int) -> bytes:
        """A folder's path, without a slash at its end."""
        found = self._paths.get(folder)
        if found is not None:
            return found
        way = []
        while folder not in self._paths:
            above, name = self._base.execute(
                "SELECT above, name FROM folders WHERE number = ?", (folder,)
            ).fetchone()
            way.append((folder, name))
            folder = above
        path = self._paths[folder]
        for number, name in reversed(way):
            path = path + b"/" + name if number != ROOT else b""
            self._paths[number] = path
        return path

    def _first(self, key: bytes) -> int:
        """The first folder that does not stand before `key` in folder order."""
        low, high = 1, self._count + 1
        while low < high:
            middle = (low + high) // 2
            if (self._path(middle) or b"/").replace(b"/", b"\0") < key:
                low = middle + 1
            else:
                high = middle
        return low

    @lru_cache(maxsize=100_000)  # noqa: B019
    def _folder(self, path: str) -> int:
        """A folder's number; -1 where the walk saw no such folder."""
        raw = raw_of(path)
        number = self._first(raw.replace(b"/", b"\0"))
        return number if number <= self._count and (self._path(number) or b"/") == raw else -1

    def _below(self, path: str) -> tuple[int, int]:
        """Numbers of a folder and of all below it: the first, and the one behind the last."""
        first = self._folder(path)
        if first < 0:
            return 0, 0
        return first, self._count + 1 if path == "/" else self._first(
            raw_of(path).replace(b"/", b"\0") + b"\1"
        )

    # -- entries ----------------------------------------------------------------------------------------------

    def _made(self, r: tuple[Any, ...]) -> Row:
        folder, name, system, inode, kind, size, mtime, after, uid, gid, mode, blocks, links, owner, _ = r
        identity = Identity(
            self._systems[system],
            inode if inode >= 0 else inode + (1 << 64),  # SQLite's integers are signed
            TYPES[kind],
            size,
            mtime,
            signed(mtime + after),
            uid,
            gid,
            mode,
        )
        path = "/" if folder == TOP else os.fsdecode(self._path(folder) + b"/" + name)
        shared = self._shared.get((folder, name), 0)
        return Row(path, identity, blocks * 512, links, self._owners[owner], shared)

    def row(self, path: str) -> Row | None:
        found = self._raw_row(path)
        return self._made(found) if found else None

    def _raw_row(self, path: str) -> tuple[Any, ...] | None:
        folder, name = (TOP, b"/") if path == "/" else (self._folder(parent(path)), raw_of(base(path)))
        found: tuple[Any, ...] | None = self._base.execute(
            f"SELECT {_COLUMNS} WHERE e.folder = ? AND e.name = ?", (folder, name)
        ).fetchone()
        return found

    def below(self, path: str) -> dict[str, Row]:
        """Everything at and below `path`, by path."""
        top = self.row(path)
        if top is None:
            return {}
        first, last = self._below(path)
        rows = self._base.execute(f"SELECT {_COLUMNS} WHERE e.folder >= ? AND e.folder < ?", (first, last))
        return {path: top} | {row.path: row for row in map(self._made, rows)}

    def children(self, folder: str) -> list[Row]:
        """What lies directly in a folder, by name."""
        rows = self._base.execute(
            f"SELECT {_COLUMNS} WHERE e.folder = ? ORDER BY e.name", (self._folder(folder),)
        )
        return [self._made(r) for r in rows]

    def totals(self, folder: str) -> dict[str, tuple[int, int]]:
        """(bytes, files) below a folder, by owner."""
        rows = self._base.execute(
            "SELECT owner, bytes, files FROM folder_totals WHERE folder = ?", (self._folder(folder),)
        )
        return {self._owners[owner]: (total, files) for owner, total, files in rows}

    def largest_files(self, folder: str, at_least: int, count: int) -> list[Row]:
        """The largest single files below a folder, of LARGE bytes or more."""
        first, last = self._below(folder)
        rows = self._base.execute(
            f"SELECT {_COLUMNS} WHERE e.type = 0 AND e.blocks >= 19531 AND e.blocks * 512 >= ? AND e.folder >= ? AND e.folder < ? "
            "ORDER BY e.blocks DESC LIMIT ?",
            (max(at_least, LARGE), first, last, count),
        )
        return [self._made(r) for r in rows]

    def other_names(self, wanted: Collection[tuple[str, int]]) -> dict[tuple[str, int], list[str]]:
        """Every path of these files, known by file system and inode: one look through all entries with several names."""
        numbers = {n: id for n, id in self._systems.items()}
        found: dict[tuple[str, int], list[str]] = {}
        if wanted:
            for r in self._base.execute(f"SELECT {_COLUMNS} WHERE e.links > 1 AND e.type != 1"):
                row = (numbers[r[2]], r[3] if r[3] >= 0 else r[3] + (1 << 64))
                if row in wanted:
                    found.setdefault(row, []).append(self._made(r).path)
        return found

    @property
    def entries(self) -> int:
        """How many paths it holds."""
        return int(self._base.execute("SELECT count(*) FROM entries").fetchone()[0])

    # -- packages ---------------------------------------------------------------------------------------------

    @property
    def packages(self) -> dict[str, IndexedPackage]:
        """Every package by name, read once."""
        if self._packages is None:
            rows = list(
                self._base.execute(
                    "SELECT number, name, version, asked_for, status, root, bytes, protected FROM packages ORDER BY name"
                )
            )
            self._numbers = {r[0]: r[1] for r in rows}
            self._packages = {
                n: IndexedPackage(n, v, bool(a), s, bool(r), b or 0, p or "")
                for _, n, v, a, s, r, b, p in rows
            }
        return self._packages

    def package_bytes(self) -> dict[str, tuple[str, int]]:
        """(version, allocated bytes of its own files) by package."""
        return {name: (p.version, p.bytes) for name, p in self.packages.items()}

    def rows_of(self, packages: Collection[str]) -> Iterator[tuple[Row, set[str]]]:
        """Every path that one of these packages lists and the walk saw, with all packages that list it."""
        known = self.packages
        numbers = [n for n, name in self._numbers.items() if name in packages and name in known]
        if not numbers:
            return
        asked = ",".join(map(str, numbers))
        folders = "SELECT DISTINCT folder FROM package_folders WHERE package IN (" + asked + ")"
        for r in self._base.execute(
            f"SELECT {_COLUMNS} JOIN ({folders}) f ON e.folder = f.folder WHERE e.package IN ({asked})"
        ):
            yield self._made(r), {self._numbers[r[14]]}
        several: dict[tuple[int, bytes], set[str]] = {}
        for folder, name, package in self._base.execute(
            "SELECT t.folder, t.name, t.package FROM listed_too t JOIN (SELECT DISTINCT "
            f"folder, name FROM listed_too WHERE package IN ({asked})) "
            "w ON t.folder = w.folder AND t.name = w.name"
        ):
            several.setdefault((folder, name), set()).add(self._numbers[package])
        for (folder, name), owners in several.items():
            r = self._base.execute(
                f"SELECT {_COLUMNS} WHERE e.folder = ? AND e.name = ?", (folder, name)
            ).fetchone()
            yield self._made(r), owners

    def package_paths(self, package: str) -> list[str]:
        """Paths that a package listed and the walk saw, its own files in the registry's folder among them."""
        return [row.path for row, _ in self.rows_of({package})]

    def listing(self, path: str) -> set[str]:
        """The packages that list a path."""
        r = self._raw_row(path)
        if r is None:
            return set()
        _ = self.packages
        if r[14] is not None:
            return {self._numbers[r[14]]}
        rows = self._base.execute(
            "SELECT package FROM listed_too WHERE folder = ? AND name = ?", (r[0], r[1])
        )
        return {self._numbers[n] for (n,) in rows}

    def listed_below(self, path: str) -> dict[str, set[str]]:
        """What packages list below `path`, folders left out: {path: packages}."""
        _ = self.packages
        wanted = f"e.folder >= ? AND e.folder < ? AND e.type != {TYPE_NUMBERS['folder']}"
        rows = self._base.execute(
            f"SELECT e.folder, e.name, e.package FROM entries e WHERE {wanted} AND e.package IS NOT NULL "
            "UNION ALL SELECT t.folder, t.name, t.package FROM listed_too t "
            f"JOIN entries e ON e.folder = t.folder AND e.name = t.name WHERE {wanted}",
            self._below(path) * 2,
        )
        found: dict[str, set[str]] = {}
        for folder, name, package in rows:
            here = os.fsdecode(self._path(folder) + b"/" + name)
            found.setdefault(here, set()).add(self._numbers[package])
        return found

    def edges(self) -> list[tuple[str, str, str, int]]:
        """(package, needs, kind, choice): a hard dependency is met by any one package of the same choice."""
        return list(self._base.execute("SELECT package, needs, kind, choice FROM edges"))
