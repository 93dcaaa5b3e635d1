"""A piece of work in a process of its own, while this one goes on: it sees everything as it stood when it was begun."""

from __future__ import annotations

import contextlib
import gc
import multiprocessing
import os
import signal
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Generic, TypeVar

from swept_shelf.core.machine.confine import end_with

T = TypeVar("T")
CONTEXT = multiprocessing.get_context("fork")


class Beside(Generic[T]):
    """`work` is begun at once; what it returns has to be something that can be sent (pickle)."""

    def __init__(self, work: Callable[[], T]) -> None:
        self._work = work
        self._answer, into = CONTEXT.Pipe(duplex=False)
        self._process = CONTEXT.Process(target=_do, args=(work, into, os.getpid()), daemon=True)
        self._process.start()
        into.close()

    def result(self) -> T:
        """What the work returned. Where its process did not come to an end, it is done here, and raises what it raises."""
        try:
            answer: T = self._answer.recv()
        except EOFError:
            self._end()
            return self._work()
        except BaseException:  # a limit of time of ours, or the end of this process
            self._process.kill()
            self._end()
            raise
        self._end()
        return answer

    def _end(self) -> None:
        self._answer.close()
        self._process.join()


def begun(work: Callable[[], T], beside: bool) -> Callable[[], T]:
    """What gives the work's answer: begun now in a process beside this one, else done here when it is asked for. A process of its
    own is worth its making where there is much to do."""
    return Beside(work).result if beside else work


def _do(work: Callable[[], T], into: Connection, parent: int) -> None:
    gc.disable()  # it would touch, and so copy, every page
    end_with(parent)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    with contextlib.suppress(Exception):  # it is done once more, and fails there
        into.send(work())
