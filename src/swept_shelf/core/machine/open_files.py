"""Who has a file of the machine open, as the kernel tells it of every process."""

from __future__ import annotations

from bisect import bisect_left
from contextlib import suppress
from time import monotonic

import psutil

from swept_shelf.core.documents.paths import within
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import inside, open_paths
from swept_shelf.core.machine.spawner import own_processes

_GOOD_FOR = (
    0.2  # seconds: thousands of moves follow each other, and to ask every process takes longer than a move
)
# When it was looked, and what was open: paths as the kernel names them, each with its process, sorted.
_known: tuple[float, list[tuple[str, int]]] = (0.0, [])


def holder(machine: Machine, top: str) -> tuple[int, str, str] | None:
    """(pid, program, path) of an open file at or below `top`; None where nobody has one, or may be looked at.

    Nobody is named by a look that is past: what was open a moment ago is looked at anew."""
    if monotonic() - _known[0] < _GOOD_FOR and _held(machine, top) is None:
        return None
    _look()
    return _held(machine, top)


def _held(machine: Machine, top: str) -> tuple[int, str, str] | None:
    start, rows = top if machine.live else machine.root + top, _known[1]
    at = bisect_left(rows, (start, 0))
    while at < len(rows) and rows[at][0].startswith(start):
        path, pid = rows[at]
        if within(place := inside(machine, path), top):
            with suppress(psutil.Error):
                return pid, psutil.Process(pid).name(), place
        at += 1
    return None


def _look() -> None:
    global _known
    began, found, ours = monotonic(), [], own_processes()
    for pid in psutil.pids():
        if pid in ours:
            continue
        with suppress(OSError):
            found += [(path, pid) for path in open_paths(pid) if path.startswith("/")]
    _known = began, sorted(found)
