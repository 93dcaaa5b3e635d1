"""survey.index: the walk on disk, an SQLite file described in docs/survey-index.md. Never holds access times."""

from __future__ import annotations

import hashlib
import os
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.tree.returning import Sized

if TYPE_CHECKING:
    from swept_shelf.core.tree.walk import Tree

SCHEMA = """
CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE packages (name TEXT PRIMARY KEY, version TEXT, asked_for INTEGER, status TEXT, root INTEGER, bytes INTEGER) WITHOUT ROWID;
CREATE TABLE edges (package TEXT, needs TEXT, kind TEXT, choice INTEGER);
CREATE TABLE package_paths (package TEXT, path BLOB, PRIMARY KEY (package, path)) WITHOUT ROWID;
CREATE TABLE entries (path BLOB PRIMARY KEY, file_system TEXT, inode INTEGER, type TEXT, size INTEGER,
  mtime_ns INTEGER, ctime_ns INTEGER, uid INTEGER, gid INTEGER, mode INTEGER, bytes INTEGER, links INTEGER,
  owner TEXT) WITHOUT ROWID;
CREATE TABLE shared (path BLOB PRIMARY KEY, bytes INTEGER) WITHOUT ROWID;
CREATE TABLE folder_totals (path BLOB, owner TEXT, bytes INTEGER, files INTEGER, PRIMARY KEY (path, owner)) WITHOUT ROWID;
"""
_ROW = "SELECT path, file_system, inode, type, size, mtime_ns, ctime_ns, uid, gid, mode, bytes, links, owner, {} FROM entries"
_SHARED = "COALESCE((SELECT bytes FROM shared WHERE shared.path = entries.path), 0)"
LARGE = 10_000_000
_CHUNK = 20_000
_AFTER = "CREATE INDEX package_paths_by_path ON package_paths (path); CREATE INDEX large_files ON entries (bytes) WHERE type = 'file' AND bytes >= 10000000;"


def write_index(
    folder: str,
    tree: Tree,
    whose: list[str],
    packages: Iterable[tuple[str, str, bool, str, bool, int]],
    edges: Iterable[tuple[str, str, str, int]],
    package_paths: Iterable[tuple[str, str]],
) -> str:
    """Write `folder`/survey.index; `whose`: whose each position of the walk is. Returns its sha256."""
    path = Path(folder) / "survey.index"
    path.unlink(missing_ok=True)
    base = sqlite3.connect(path)
    base.executescript("PRAGMA journal_mode=OFF; PRAGMA synchronous=OFF;" + SCHEMA)
    base.executemany(
        "INSERT INTO meta VALUES (?, ?)", [("format", "swept-shelf/survey-index"), ("version", "1")]
    )
    base.executemany("INSERT OR REPLACE INTO packages VALUES (?, ?, ?, ?, ?, ?)", packages)
    base.executemany("INSERT INTO edges VALUES (?, ?, ?, ?)", edges)
    base.executemany(
        "INSERT OR IGNORE INTO package_paths VALUES (?, ?)", ((n, _raw(p)) for n, p in package_paths)
    )
    base.executemany("INSERT INTO entries VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)", _entry_rows(tree, whose))
    base.executemany(
        "INSERT INTO shared VALUES (?, ?)", ((_raw(tree.paths[i]), n) for i, n in tree.shared.items())
    )
    base.executemany("INSERT INTO folder_totals VALUES (?,?,?,?)", _folder_totals(tree, whose))
    base.executescript(_AFTER)
    base.commit()
    base.close()
    with open(path, "rb") as handle:
        return hashlib.file_digest(handle, "sha256").hexdigest()


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


def _entry_rows(tree: Tree, whose: list[str]) -> Iterable[tuple[object, ...]]:
    for start in range(0, len(tree.paths), _CHUNK):
        part = slice(start, start + _CHUNK)
        yield from zip(
            (_raw(p) for p in tree.paths[part]),
            *tree.identities(start, start + _CHUNK),
            tree.blocks[part].tolist(),
            tree.links[part].tolist(),
            whose[part],
            strict=True,
        )


def _folder_totals(tree: Tree, whose: list[str]) -> Iterable[tuple[bytes, str, int, int]]:
    """Per folder and owner, bytes (each file once) and files below it: differences of running sums over each owner's paths."""
    import numpy as np

    names, which = np.unique(np.array(whose, dtype=object), return_inverse=True)
    folders = np.flatnonzero(tree.is_folder)
    starts, stops = folders, tree.stops[folders]
    for number, owner in enumerate(names.tolist()):
        mine = np.flatnonzero(which == number)
        low, high = np.searchsorted(mine, starts), np.searchsorted(mine, stops)
        some = np.flatnonzero(high > low)
        bytes_so_far = np.concatenate([[0], np.cumsum(tree.once[mine])])
        files_so_far = np.concatenate([[0], np.cumsum(~tree.is_folder[mine])])
        totals = (bytes_so_far[high] - bytes_so_far[low])[some].tolist()
        files = (files_so_far[high] - files_so_far[low])[some].tolist()
        for i, total, count in zip(folders[some].tolist(), totals, files, strict=True):
            yield _raw(tree.paths[i]), owner, total, count


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


def _row(r: tuple[Any, ...]) -> Row:
    inode = r[2] if r[2] >= 0 else r[2] + (1 << 64)  # SQLite's integers are signed
    return Row(os.fsdecode(r[0]), Identity(r[1], inode, *r[3:10]), *r[10:14])


def _raw(path: str) -> bytes:
    return path.encode("utf-8", "surrogateescape")


class Index:
    """Reads a survey's index: identities below a path, for orders and rechecks."""

    def __init__(self, path: str | Path) -> None:
        self._base = sqlite3.connect(f"file:{path}?mode=ro&immutable=1", uri=True)
        knows = self._base.execute("SELECT 1 FROM sqlite_master WHERE name = 'shared'").fetchone()
        self._row = _ROW.format(_SHARED if knows else "0")

    def below(self, path: str) -> dict[str, Row]:
        """Everything at and below `path`, by path."""
        low = _raw(path)
        rows = self._base.execute(
            self._row + " WHERE path = ? OR (path >= ? AND path < ?)", (low, low + b"/", low + b"0")
        )
        return {os.fsdecode(r[0]): _row(r) for r in rows}

    def children(self, folder: str) -> list[Row]:
        """What lies directly in a folder, by name: one look-up each, whatever lies below them."""
        found: list[Row] = []
        low = b"/" if folder == "/" else _raw(folder) + b"/"
        high = low[:-1] + b"0"
        at = low + b"\0"
        while r := self._base.execute(
            self._row + " WHERE path >= ? AND path < ? ORDER BY path LIMIT 1", (at, high)
        ).fetchone():
            name, below, _ = r[0][len(low) :].partition(b"/")
            if below:  # past everything below a child that was found before: '0' follows '/'
                at = low + name + b"0"
            else:
                found.append(_row(r))
                at = r[0] + b"\0"
        return found

    def totals(self, folder: str) -> dict[str, tuple[int, int]]:
        """(bytes, files) below a folder, by owner."""
        rows = self._base.execute(
            "SELECT owner, bytes, files FROM folder_totals WHERE path = ?", (_raw(folder),)
        )
        return {owner: (total, files) for owner, total, files in rows}

    def largest_files(self, folder: str, at_least: int, count: int) -> list[Row]:
        """The largest single files below a folder, of LARGE bytes or more."""
        low = b"/" if folder == "/" else _raw(folder) + b"/"
        rows = self._base.execute(
            self._row
            + " WHERE type = 'file' AND bytes >= 10000000 AND bytes >= ? AND path > ? AND path < ? ORDER BY bytes DESC LIMIT ?",
            (at_least, low, low[:-1] + b"0", count),
        )
        return [_row(r) for r in rows]

    def package_paths(self, package: str) -> list[str]:
        """Paths that a package listed and the walk saw, its own files in the registry's folder among them."""
        rows = self._base.execute("SELECT path FROM package_paths WHERE package = ?", (package,))
        return [os.fsdecode(r[0]) for r in rows]

    def listed_by(self, packages: list[str]) -> dict[str, set[str]]:
        """Every path these packages list, with all packages that list it."""
        found: dict[str, set[str]] = {}
        for name in packages:
            for path in self.package_paths(name):
                found.setdefault(path, set())
        for path in found:
            found[path] = self.listing(path)
        return found

    def listing(self, path: str) -> set[str]:
        """The packages that list a path."""
        return {
            r[0]
            for r in self._base.execute("SELECT package FROM package_paths WHERE path = ?", (_raw(path),))
        }

    def row(self, path: str) -> Row | None:
        r = self._base.execute(self._row + " WHERE path = ?", (_raw(path),)).fetchone()
        return _row(r) if r else None

    def packages(self) -> list[tuple[str, str, bool, str, bool]]:
        """(name, version, asked for, status, kept by the registry by itself) of every package."""
        rows = self._base.execute("SELECT name, version, asked_for, status, root FROM packages ORDER BY name")
        return [(n, v, bool(a), s, bool(r)) for n, v, a, s, r in rows]

    def package_bytes(self) -> dict[str, tuple[str, int]]:
        """(version, allocated bytes of its own files) by package; empty for an index from before they were kept."""
        try:
            rows = self._base.execute("SELECT name, version, bytes FROM packages")
        except sqlite3.OperationalError:
            return {}
        return {name: (version, total or 0) for name, version, total in rows}

    def edges(self) -> list[tuple[str, str, str, int]]:
        """(package, needs, kind, choice): a hard dependency is met by any one package of the same choice."""
        return list(self._base.execute("SELECT package, needs, kind, choice FROM edges"))
