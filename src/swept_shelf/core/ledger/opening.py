"""Opens a ledger's file: made whole or not at all, brought up to date, closed to others, and never somebody else's database."""

from __future__ import annotations

import contextlib
import os
import secrets
import sqlite3
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError

from swept_shelf.core.documents.errors import CouldNotRead, Refused

HEAD = "0003"
_OURS = {"alembic_version", "machines", "visits", "surveys", "orders", "runs", "clearances"}
_BUSY = 60.0  # seconds that another process may hold the ledger


def open_ledger(file: Path) -> Engine:
    """Raises Refused where it cannot be kept there or is another program's; CouldNotRead where it is broken or too new."""
    fresh = _make_room(file)
    try:
        if fresh:
            _make(file)
        engine = _engine(file)
        _bring_up_to_date(engine, file)
    except DatabaseError as error:
        raise CouldNotRead(f"is not a ledger, or could not be used: {error.orig}", str(file)) from None
    return engine


def _make_room(file: Path) -> bool:
    """The folder, and whether the ledger has to be made."""
    try:
        if not file.parent.is_dir():
            file.parent.mkdir(parents=True, mode=0o700)
        if not os.path.lexists(file):
            return True
        if not file.is_file():
            raise Refused("is not a file", str(file))
        if file.stat().st_size == 0:
            return True
        tables = _tables(file)
        if file.stat().st_uid == os.geteuid() and file.stat().st_mode & 0o077:
            file.chmod(0o600)
    except OSError as error:
        raise Refused(f"the ledger cannot be kept there: {error.strerror}", str(file)) from None
    if not tables >= _OURS:
        raise Refused(
            "is a database of another program: nothing was written to it"
            if tables
            else "is a database without tables: it is no ledger",
            str(file),
        )
    return False


def _tables(file: Path) -> set[str]:
    """Names of its tables, read without changing anything."""
    try:
        with contextlib.closing(sqlite3.connect(f"{file.as_uri()}?mode=ro", uri=True, timeout=_BUSY)) as base:
            return {name for (name,) in base.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    except sqlite3.Error as error:
        raise CouldNotRead(f"is not a ledger: {error}", str(file)) from None


def _make(file: Path) -> None:
    """Beside, whole, then under its name: what a full disk or a crash leaves is never taken for a ledger."""
    part = file.with_name(f".{file.name}.{secrets.token_hex(8)}.part")
    try:
        os.close(os.open(part, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600))
        engine = _engine(part)
        _bring_up_to_date(engine, part)
        with engine.connect() as connection:
            connection.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
        engine.dispose()
        fd = os.open(part, os.O_RDONLY)
        os.fsync(fd)
        os.close(fd)
        if not file.exists() or file.stat().st_size == 0:
            part.replace(file)
    except OSError as error:
        raise Refused(f"the ledger cannot be kept there: {error.strerror}", str(file)) from None
    finally:
        for ending in ("", "-wal", "-shm"):
            Path(f"{part}{ending}").unlink(missing_ok=True)


def _engine(file: Path) -> Engine:
    engine = create_engine(f"sqlite:///{file}", connect_args={"timeout": _BUSY})
    event.listen(engine, "connect", _set_up)
    return engine


def _bring_up_to_date(engine: Engine, file: Path) -> None:
    with engine.begin() as connection:
        known = connection.execute(
            text("SELECT count(*) FROM sqlite_master WHERE name = 'alembic_version'")
        ).scalar()
        at = connection.execute(text("SELECT version_num FROM alembic_version")).scalar() if known else None
        if at == HEAD:
            return
        if at is not None and at > HEAD:
            raise CouldNotRead(f"was written by a newer version ({at})", str(file))
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def _set_up(connection: Any, _record: Any) -> None:
    connection.execute("PRAGMA journal_mode=WAL")
    connection.execute("PRAGMA foreign_keys=ON")
