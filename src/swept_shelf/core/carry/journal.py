"""The journal of a run: JSON lines, each on the disk before the step it announces; and the state that it tells when replayed.

Invariants (see `check`): every `begin` of an operation is followed by at most one ending of it before the next
`begin`; after a crash only the last operation can be open."""

from __future__ import annotations

import json
import os
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.paths import path_to_wire
from swept_shelf.core.documents.run import Entry
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.documents.wire import from_plain

ENDINGS = ("done", "skipped", "stays")
_MOST = 256 << 20


class Journal:
    """Appends records; a line cut off by a crash is ended before the next one is written."""

    def __init__(self, path: Path) -> None:
        fresh = not path.exists()
        self._fd = os.open(path, os.O_RDWR | os.O_CREAT | os.O_APPEND | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600)
        self._room = path.parent / "room"
        size = os.fstat(self._fd).st_size
        if size and os.pread(self._fd, 1, size - 1) != b"\n":
            self._put(b"\n")
        if fresh:
            folder = os.open(path.parent, os.O_RDONLY | os.O_DIRECTORY)
            os.fsync(folder)
            os.close(folder)

    def write(self, event: str, **more: Any) -> None:
        """On the disk when the call returns. Raises OSError where it cannot be, the room that was kept for it used up."""
        for name in ("where", "path"):
            if name in more:
                more[name] = path_to_wire(more[name])
        record = {"event": event, "at": rfc3339(datetime.now(UTC)), **more}
        self._put(json.dumps(record, ensure_ascii=True).encode() + b"\n")

    def _put(self, data: bytes) -> None:
        end = os.fstat(self._fd).st_size
        for last in (False, True):
            try:
                view = memoryview(data)
                while view:
                    view = view[os.write(self._fd, view) :]
                os.fsync(self._fd)
                return
            except OSError as error:
                if last or error.errno not in (28, 122) or not self._room.exists():
                    raise
                os.ftruncate(self._fd, end)  # half a record is none
                self._room.unlink()

    def close(self) -> None:
        os.close(self._fd)


def read_journal(path: Path) -> list[Entry]:
    """All whole records; lines cut off by a crash, and what no carrier writes, are left out (see `damaged`)."""
    return [e for _, e in _lines(path) if e is not None]


def damaged(path: Path) -> list[int]:
    """Numbers of lines that are no records, a last one that was cut off aside."""
    lines = _lines(path)
    return [n for n, e in lines if e is None and n != len(lines)]


def _lines(path: Path) -> list[tuple[int, Entry | None]]:
    try:
        with open(path, "rb") as handle:
            lines = handle.read(_MOST).split(b"\n")
    except FileNotFoundError:
        return []
    found: list[tuple[int, Entry | None]] = []
    for number, line in enumerate(lines, 1):
        if line.strip():
            try:
                found.append((number, from_plain(Entry, json.loads(line))))
            except (ValueError, RecursionError, TypeError):
                found.append((number, None))
    return found


@dataclass(frozen=True, slots=True)
class State:
    """What a journal tells: the last mode and whether it ended, and each operation as it stands.

    `finished`: carried out to the end, or put back or emptied since."""

    mode: str = ""
    ended: bool = True
    finished: bool = True
    operations: dict[int, Entry] = field(default_factory=dict)
    open: frozenset[int] = frozenset()
    free: dict[str, int] = field(default_factory=dict)
    tops: dict[str, int] = field(default_factory=dict)

    def done(self, number: int) -> bool:
        entry = self.operations.get(number)
        return entry is not None and entry.event == "done" and not entry.without

    def begun(self, number: int) -> bool:
        return number in self.operations or number in self.open


def replay(entries: list[Entry]) -> State:
    """The state after these records. Skipped operations are tried again when a carrier works again."""
    mode, ended, operations, open_, free, tops = (
        "",
        True,
        dict[int, Entry](),
        set[int](),
        dict[str, int](),
        dict[str, int](),
    )
    finished = True
    for e in entries:
        if e.event == "mode":
            mode, ended = e.mode, False
            finished = finished and mode != Task.CARRY_OUT
        elif e.event == "end":
            ended = True
            finished = finished or mode == Task.CARRY_OUT or e.left == 0
        elif e.event == "free":
            free = free or e.free
        elif e.event == "shelf":
            tops[e.path] = e.before
        elif e.event == "begin":
            open_.add(e.n)
            operations.setdefault(e.n, e)
        elif e.event == "left":
            operations |= dict.fromkeys(e.numbers, e)
            open_ -= set(e.numbers)
        elif e.event in (*ENDINGS, "returned"):
            operations[e.n] = e
            open_.discard(e.n)
    return State(mode, ended, finished, operations, frozenset(open_), free, tops)


def tops_noted(entries: list[Entry]) -> dict[str, int]:
    """The time of each folder above a shelf before that was made, as the last note of it says."""
    return replay(entries).tops


def check(entries: list[Entry]) -> list[str]:
    """What is wrong with a journal; empty when every invariant holds."""
    wrong, open_number = [], 0
    for i, e in enumerate(entries):
        if e.event == "begin":
            if open_number and entries[i - 1].event != "mode":
                wrong.append(f"record {i}: operation {open_number} is still open")
            open_number = e.n
        elif e.event in (*ENDINGS, "returned"):
            if open_number and open_number != e.n:
                wrong.append(f"record {i}: ends {e.n} while {open_number} is open")
            open_number = 0
        elif e.event in ("mode", "end"):
            open_number = 0
    return wrong
