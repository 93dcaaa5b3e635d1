"""SQLite databases of the machine, read from a private copy, so that nothing is written beside them."""

from __future__ import annotations

import os
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

_LIMIT = 256 << 20


@contextmanager
def copied_database(machine: Machine, path: str) -> Iterator[sqlite3.Connection]:
    """A connection to a copy of the database at `path` and of what its write-ahead log still holds.

    Raises CouldNotRead naming it, also for what is no database or has other tables than were asked for."""
    with tempfile.TemporaryDirectory(dir=os.environ.get("SQLITE_TMPDIR"), prefix="copy-") as folder:
        copy = Path(folder) / "database"
        for ending in ("", "-wal"):
            if not ending or machine.exists(path + ending):
                data = machine.read_bytes(path + ending, _LIMIT)
                if len(data) == _LIMIT:
                    raise CouldNotRead("is larger than is read at once", path + ending)
                Path(f"{copy}{ending}").write_bytes(data)
        try:
            with closing(sqlite3.connect(copy)) as connection:
                connection.text_factory = lambda raw: raw.decode("utf-8", "surrogateescape")
                yield connection
        except sqlite3.Error as error:
            raise CouldNotRead(f"is not as its program writes it: {error}", path) from None
