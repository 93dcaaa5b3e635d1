"""SQLite databases of the machine, read from a private copy, so that nothing is written beside them.

A database is somebody's text: its views, triggers and functions never run, tables alone are read, within limits
(Defense Against The Dark Arts, sqlite.org/security.html)."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from time import monotonic

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.scratch import scratch_folder

_LIMIT = 256 << 20
_SECONDS = 10.0
_STEPS = 10_000  # of SQLite's machine between two looks at the clock
_LONGEST = 16 << 20
_FUNCTIONS = ("max", "min", "count", "coalesce", "lower", "length", "substr", "like", "glob")


@contextmanager
def copied_database(machine: Machine, path: str) -> Iterator[sqlite3.Connection]:
    """A connection to a copy of the database at `path` and of what its write-ahead log still holds.

    Raises CouldNotRead naming it, also for what is no database or has other tables than were asked for."""
    with scratch_folder() as folder:
        copy = folder / "database"
        for ending in ("", "-wal"):
            if not ending or machine.exists(path + ending):
                _copy(machine, path + ending, Path(f"{copy}{ending}"))
        try:
            with closing(sqlite3.connect(copy)) as connection:
                _fence(connection)
                yield connection
        except (sqlite3.Error, OverflowError) as error:
            raise CouldNotRead(f"is not as its program writes it: {error}", path) from None


def _copy(machine: Machine, path: str, to: Path) -> None:
    try:
        with machine.opened(path) as source, to.open("wb") as out:
            if source.seek(0, 2) > _LIMIT:
                raise CouldNotRead("is larger than is read at once", path)
            source.seek(0)
            shutil.copyfileobj(source, out, 1 << 20)
    except OSError as error:
        raise CouldNotRead(f"could not be copied: {error.strerror}", path) from None


def _fence(connection: sqlite3.Connection) -> None:
    until = monotonic() + _SECONDS
    connection.text_factory = lambda raw: raw.decode("utf-8", "surrogateescape")
    for setting in ("trusted_schema = OFF", "cell_size_check = ON", "query_only = ON", "mmap_size = 0"):
        connection.execute(f"PRAGMA {setting}")
    for which, most in (
        (sqlite3.SQLITE_LIMIT_LENGTH, _LONGEST),
        (sqlite3.SQLITE_LIMIT_ATTACHED, 0),
        (sqlite3.SQLITE_LIMIT_VDBE_OP, 25_000),
    ):
        connection.setlimit(which, most)
    connection.set_progress_handler(lambda: int(monotonic() > until), _STEPS)
    connection.set_authorizer(_may)


def _may(action: int, first: str | None, second: str | None, database: str | None, inner: str | None) -> int:
    """Reading of tables, and functions that do nothing but compute; nothing through a view or a trigger (`inner`)."""
    if inner is None and (
        action in (sqlite3.SQLITE_SELECT, sqlite3.SQLITE_READ)
        or (action == sqlite3.SQLITE_FUNCTION and (second or "").lower() in _FUNCTIONS)
    ):
        return sqlite3.SQLITE_OK
    return sqlite3.SQLITE_DENY
