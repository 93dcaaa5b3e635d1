"""A person's copy of a run that the helper carries out: order and survey as they were handed in, and what it hands back.

The helper's own folder is the truth; this is what ledger, desk and report read."""

from __future__ import annotations

import json
from pathlib import Path

from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.wire import from_plain

WAITING, ARCHIVE = "waiting.json", "archive.tar.zst"
_MARK = "by-the-administrator"


def make_mirror(folder: Path) -> None:
    """This run folder is a copy. Raises OSError."""
    (folder / _MARK).touch()


def is_mirror(folder: Path) -> bool:
    return (folder / _MARK).exists()


def waiting_in(folder: Path) -> list[Slot]:
    """What waited on the administrator's holding shelf when it was last handed over. Raises CouldNotRead."""
    path = folder / WAITING
    try:
        return from_plain(list[Slot], json.loads(path.read_bytes()))
    except FileNotFoundError:
        return []
    except (OSError, ValueError, RecursionError) as error:
        raise CouldNotRead(f"is no list of what waits: {str(error).splitlines()[0]}", str(path)) from None
