"""What was read in files of programs, kept from one survey to the next by the file's identity: read again is what changed."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Callable
from pathlib import Path

from swept_shelf.core.documents.survey import Identity

KEPT = "named.json"
Row = tuple[str, int, str]  # a place, the line that names it, its words


def stamp_of(size: int, mtime_ns: int, ctime_ns: int) -> int:
    """One number for a file's size and times: another one when it was written."""
    text = f"{size:x} {mtime_ns:x} {ctime_ns:x}".encode()
    return int.from_bytes(hashlib.blake2b(text, digest_size=7).digest(), "big")


class ReadBefore:
    """`before`: the folder of an earlier survey, "" for none; what is broken in it counts as never read."""

    def __init__(self, before: str = "") -> None:
        self._before: dict[str, tuple[int, list[Row]]] = {}
        self._now: dict[str, tuple[int, list[Row]]] = {}
        try:
            for path, (stamp, rows) in json.loads(Path(before or os.devnull, KEPT).read_bytes()).items():
                self._before[path] = stamp, [(str(p), int(n), str(t)) for p, n, t in rows]
        except (OSError, ValueError, TypeError, AttributeError):
            self._before = {}

    def rows(self, path: str, identity: Identity, read: Callable[[], list[Row]]) -> list[Row]:
        """What the file names, read only where it is another one than before. Raises what `read` raises."""
        stamp = stamp_of(identity.size, identity.mtime_ns, identity.ctime_ns)
        known = self._before.get(path)
        rows = known[1] if known is not None and known[0] == stamp else read()
        self._now[path] = stamp, rows
        return rows

    def keep(self, folder: str) -> None:
        """Beside the survey, for the next one. Raises OSError."""
        Path(folder, KEPT).write_text(json.dumps(self._now))
