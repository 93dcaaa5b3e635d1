"""The journal of a run: JSON lines, each on the disk before the step it announces.

Invariants (see `check`): every `begin` of an operation is followed by at most one ending of it before the next
`begin`; after a crash only the last operation can be open."""

from __future__ import annotations

import json
import os
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.times import is_moment, rfc3339

ENDINGS = ("done", "skipped", "stays")
_NUMBER: dict[str, type] = {"n": int}
_MEMBERS: dict[str, dict[str, type]] = {
    "mode": {"mode": str},
    "free": {"free": dict},
    "shelf": {"path": str, "before": int},
    "top": {"path": str, "before": int},
    "begin": _NUMBER,
    **dict.fromkeys((*ENDINGS, "returned"), _NUMBER),
    "end": {"state": str},
}


class Journal:
    """Appends records; a line cut off by a crash is ended before the next one is written."""

    def __init__(self, path: Path) -> None:
        fresh = not path.exists()
        self._fd = os.open(path, os.O_RDWR | os.O_CREAT | os.O_APPEND | os.O_CLOEXEC, 0o600)
        size = os.fstat(self._fd).st_size
        if size and os.pread(self._fd, 1, size - 1) != b"\n":
            os.write(self._fd, b"\n")
        if fresh:
            folder = os.open(path.parent, os.O_RDONLY | os.O_DIRECTORY)
            os.fsync(folder)
            os.close(folder)

    def write(self, event: str, **more: Any) -> None:
        """Raises OSError when it could not be put on the disk."""
        record = {"event": event, "at": rfc3339(datetime.now(UTC)), **more}
        data = memoryview(json.dumps(record, ensure_ascii=True).encode() + b"\n")
        while data:
            data = data[os.write(self._fd, data) :]
        os.fsync(self._fd)

    def close(self) -> None:
        os.close(self._fd)


def read_journal(path: Path) -> list[dict[str, Any]]:
    """All whole records; lines cut off by a crash, and what no carrier writes, are left out."""
    try:
        lines = path.read_bytes().split(b"\n")
    except FileNotFoundError:
        return []
    found = []
    for line in lines:
        try:
            record = json.loads(line)
        except (ValueError, RecursionError):
            continue
        if isinstance(record, dict) and _is_whole(record):
            found.append(record)
    return found


def _is_whole(record: dict[str, Any]) -> bool:
    """Whether it has what its event needs, each of its kind."""
    wanted = _MEMBERS.get(record["event"]) if isinstance(record.get("event"), str) else None
    return (
        wanted is not None
        and is_moment(record.get("at"))
        and all(type(record.get(name)) is kind for name, kind in wanted.items())
    )


def tops_noted(records: list[dict[str, Any]]) -> dict[str, int]:
    """The time of each folder above a shelf before that was made, as the last note of it says."""
    return {r["path"]: r["before"] for r in records if r["event"] == "shelf"}


def check(records: list[dict[str, Any]]) -> list[str]:
    """What is wrong with a journal; empty when every invariant holds."""
    wrong, open_number = [], None
    for i, r in enumerate(records):
        if r["event"] == "begin":
            if open_number is not None and records[i - 1]["event"] != "mode":
                wrong.append(f"record {i}: operation {open_number} is still open")
            open_number = r["n"]
        elif r["event"] in (*ENDINGS, "returned") and r.get("n") is not None:
            if open_number is not None and open_number != r["n"]:
                wrong.append(f"record {i}: ends {r['n']} while {open_number} is open")
            open_number = None
        elif r["event"] in ("mode", "end"):
            open_number = None
    return wrong
