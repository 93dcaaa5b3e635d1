"""A fence around one reader: whatever goes wrong inside costs that reader alone, and no reader has all the time or memory.

The time is the alarm's (setitimer(2)), the memory is the process's own soft limit (RLIMIT_DATA), both given back at the end."""

from __future__ import annotations

import logging
import resource
import signal
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, nullcontext
from time import monotonic
from types import FrameType

from swept_shelf.core.documents.errors import SweptShelfError, printable

SECONDS = 60.0
MEMORY = 256 << 20
_AGAIN = 1.0  # seconds after which a reader that caught the end of its time is told again
log = logging.getLogger("swept_shelf")


_deadlines: list[tuple[float, object]] = []  # of the fences one stands in now, the outermost first


class _OutOfTime(BaseException):
    """Not an Exception: what a reader catches of others' mistakes must not swallow it. `whose`: the fence it ends."""

    def __init__(self, whose: object) -> None:
        self.whose = whose


@contextmanager
def fence(
    path: str, trouble: Callable[[str, str], None], seconds: float = SECONDS, memory: int | None = MEMORY
) -> Iterator[None]:
    """Run what stands inside; whatever it raises becomes `trouble(path, reason)`, and the work goes on behind it.

    `seconds` count in the main thread only, `memory` is bytes more than the process has now; None where a fence around this one
    says how many."""
    mine = object()
    try:
        with _time(seconds, mine), nullcontext() if memory is None else _memory(memory):
            yield
    except _OutOfTime as end:
        if end.whose is not mine:
            raise
        trouble(path, f"took longer than {seconds:.0f} s: the rest was left")
    except SweptShelfError as error:
        trouble(error.path or path, error.reason)
    except MemoryError:
        more = "more memory than is given" if memory is None else f"more than {memory >> 20} MiB of memory"
        trouble(path, f"asked for {more}: it was left")
    except Exception as error:
        log.exception("reading %s", printable(path))
        trouble(path, f"could not be read ({type(error).__name__}: {printable(str(error))[:120]})")


@contextmanager
def _time(seconds: float, whose: object) -> Iterator[None]:
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    outermost = not _deadlines
    before = signal.signal(signal.SIGALRM, _ring) if outermost else None
    _deadlines.append((monotonic() + seconds, whose))
    try:
        _wind()
        yield
    finally:
        _deadlines.pop()
        _wind()
        if outermost:
            signal.signal(signal.SIGALRM, before)


def _wind() -> None:
    """Set the alarm for the next of the deadlines."""
    left = min((at for at, _ in _deadlines), default=0.0) - monotonic()
    signal.setitimer(
        signal.ITIMER_REAL, max(0.001, left) if _deadlines else 0.0, _AGAIN if _deadlines else 0.0
    )


def _ring(_number: int, _frame: FrameType | None) -> None:
    now = monotonic()
    for at, whose in _deadlines:
        if at <= now:
            raise _OutOfTime(whose)


@contextmanager
def _memory(more: int) -> Iterator[None]:
    soft, hard = resource.getrlimit(resource.RLIMIT_DATA)
    wanted = _private_memory() + more
    if soft != resource.RLIM_INFINITY and soft <= wanted:
        yield
        return
    resource.setrlimit(resource.RLIMIT_DATA, (wanted, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_DATA, (soft, hard))


def _private_memory() -> int:
    """Bytes that the limit counts now (proc_pid_status(5), VmData)."""
    with open("/proc/self/status", "rb") as table:
        return next(int(line.split()[1]) * 1024 for line in table if line.startswith(b"VmData:"))
