"""survey.index: the walk on disk, an SQLite file described in docs/survey-index.md. Never holds access times."""

from __future__ import annotations

import hashlib
import os
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.tree.returning import Sized
from swept_shelf.core.tree.walk import Tree

SCHEMA = """
CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE packages (name TEXT PRIMARY KEY, version TEXT, asked_for INTEGER, status TEXT, root INTEGER) WITHOUT ROWID;
CREATE TABLE edges (package TEXT, needs TEXT, kind TEXT, choice INTEGER);
CREATE TABLE package_paths (package TEXT, path BLOB, PRIMARY KEY (package, path)) WITHOUT ROWID;
CREATE INDEX package_paths_by_path ON package_paths (path);
CREATE TABLE entries (path BLOB PRIMARY KEY, file_system TEXT, inode INTEGER, type TEXT, size INTEGER,
  mtime_ns INTEGER, ctime_ns INTEGER, uid INTEGER, gid INTEGER, mode INTEGER, bytes INTEGER, links INTEGER,
  owner TEXT) WITHOUT ROWID;
CREATE TABLE folder_totals (path BLOB, owner TEXT, bytes INTEGER, files INTEGER, PRIMARY KEY (path, owner)) WITHOUT ROWID;
"""


def write_index(
    folder: str,
    tree: Tree,
    owners: dict[str, str],
    packages: Iterable[tuple[str, str, bool, str, bool]],
    edges: Iterable[tuple[str, str, str, int]],
    package_paths: Iterable[tuple[str, str]],
) -> str:
    """Write `folder`/survey.index; `owners` says whose a path is, what lies below inherits. Returns its sha256."""
    path = Path(folder) / "survey.index"
    path.unlink(missing_ok=True)
    base = sqlite3.connect(path)
    base.executescript("PRAGMA journal_mode=OFF; PRAGMA synchronous=OFF;" + SCHEMA)
    base.executemany("INSERT INTO meta VALUES (?, ?)", [("format", "swept-shelf/survey-index"), ("version", "1")])
    base.executemany("INSERT OR REPLACE INTO packages VALUES (?, ?, ?, ?, ?)", packages)
    base.executemany("INSERT INTO edges VALUES (?, ?, ?, ?)", edges)
    base.executemany("INSERT OR IGNORE INTO package_paths VALUES (?, ?)", ((n, _raw(p)) for n, p in package_paths))
    whose = inherited_owners(tree, owners)
    base.executemany(
        "INSERT INTO entries VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)",
        (
            (_raw(e.path), e.identity.file_system, e.identity.inode, e.type,
             e.identity.size, e.identity.mtime_ns, e.identity.ctime_ns, e.identity.uid, e.identity.gid,
             e.identity.mode, e.bytes, e.links, whose[i])
            for i, e in enumerate(tree.entries())
        ),
    )  # fmt: skip
    base.executemany("INSERT INTO folder_totals VALUES (?,?,?,?)", _folder_totals(tree, whose))
    base.commit()
    base.close()
    return hashlib.sha256(path.read_bytes()).hexdigest()


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
            stack.append((tree.slice(path).stop, whose[i]))
    return whose


def _folder_totals(tree: Tree, whose: list[str]) -> Iterable[tuple[bytes, str, int, int]]:
    totals: dict[tuple[str, str], list[int]] = {}
    for i, path in enumerate(tree.paths):
        count, files = int(tree.once[i]), 0 if tree.is_folder[i] else 1
        here = path
        while True:
            sums = totals.setdefault((here, whose[i]), [0, 0])
            sums[0] += count
            sums[1] += files
            if here == "/":
                break
            here = here.rsplit("/", 1)[0] or "/"
    for (path, owner), (count, files) in totals.items():
        if tree.kind(path) == "folder":
            yield _raw(path), owner, count, files


@dataclass(frozen=True, slots=True)
class Row:
    """One path of the index; `bytes` allocated, `owner` an application's id or ""."""

    path: str
    identity: Identity
    bytes: int
    links: int
    owner: str

    @property
    def sized(self) -> Sized:
        i = self.identity
        return Sized(self.path, self.bytes, self.links, i.file_system, i.inode, i.type == "folder")


def _raw(path: str) -> bytes:
    return path.encode("utf-8", "surrogateescape")


class Index:
    """Reads a survey's index: identities below a path, for orders and rechecks."""

    def __init__(self, path: str | Path) -> None:
        self._base = sqlite3.connect(f"file:{path}?mode=ro&immutable=1", uri=True)

    def below(self, path: str) -> dict[str, Row]:
        """Everything at and below `path`, by path."""
        low = _raw(path)
        rows = self._base.execute(
            "SELECT path, file_system, inode, type, size, mtime_ns, ctime_ns, uid, gid, mode, bytes, links, owner"
            " FROM entries WHERE path = ? OR (path >= ? AND path < ?)", (low, low + b"/", low + b"0"),
        )  # fmt: skip
        return {os.fsdecode(r[0]): Row(os.fsdecode(r[0]), Identity(*r[1:10]), *r[10:13]) for r in rows}

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
        return {r[0] for r in self._base.execute("SELECT package FROM package_paths WHERE path = ?", (_raw(path),))}

    def row(self, path: str) -> Row | None:
        r = self._base.execute(
            "SELECT path, file_system, inode, type, size, mtime_ns, ctime_ns, uid, gid, mode, bytes, links, owner"
            " FROM entries WHERE path = ?", (_raw(path),),
        ).fetchone()  # fmt: skip
        return Row(path, Identity(*r[1:10]), *r[10:13]) if r else None

    def packages(self) -> list[tuple[str, str, bool, str, bool]]:
        """(name, version, asked for, status, kept by the registry by itself) of every package."""
        rows = self._base.execute("SELECT name, version, asked_for, status, root FROM packages ORDER BY name")
        return [(n, v, bool(a), s, bool(r)) for n, v, a, s, r in rows]

    def edges(self) -> list[tuple[str, str, str, int]]:
        """(package, needs, kind, choice): a hard dependency is met by any one package of the same choice."""
        return list(self._base.execute("SELECT package, needs, kind, choice FROM edges"))
