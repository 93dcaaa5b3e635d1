"""A process beside this one that is asked something, perhaps several times, and keeps what it knows from one time to the next."""

from __future__ import annotations

import contextlib
import gc
import multiprocessing
import os
import signal
from collections.abc import Callable
from multiprocessing.connection import Connection
from types import TracebackType
from typing import Generic, TypeVar

from swept_shelf.core.machine.confine import end_with

Q = TypeVar("Q")
A = TypeVar("A")
_CONTEXT = multiprocessing.get_context("fork")


class Partner(Generic[Q, A]):
    """`answers` begins with everything as it stands here now. Questions and answers have to be such as can be sent (pickle).

    `beside`: whether a process of its own is worth its making; else all is answered here, when the answer is asked for."""

    def __init__(self, answers: Callable[[Q], A], beside: bool = True) -> None:
        self._answers = answers
        self._asked: list[Q] = []  # all that was not answered here
        self._open = 0  # questions whose answers were not taken yet
        self._line: Connection | None = None
        if beside:
            self._line, other = _CONTEXT.Pipe()
            serving = (answers, other, self._line, os.getpid())
            self._process = _CONTEXT.Process(target=_serve, args=serving, daemon=True)
            self._process.start()
            other.close()

    def __enter__(self) -> Partner[Q, A]:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None
    ) -> None:
        self.close(kill=error is not None)

    def close(self, kill: bool = False) -> None:
        """Nothing more is asked."""
        if self._line is not None:
            self._line.close()
            if kill:
                self._process.kill()
            self._process.join()
            self._line = None

    def ask(self, question: Q) -> None:
        self._asked.append(question)
        self._open += 1
        if self._line is not None:
            with contextlib.suppress(OSError):  # it is gone: `answer` sees to that
                self._line.send(question)

    def answer(self) -> A:
        """To the last question. Where the process came to an end, all it was asked is answered here, which raises what it raises."""
        try:
            if self._line is None:
                raise EOFError
            while self._open:
                answer: A = self._line.recv()
                self._open -= 1
        except (EOFError, OSError):
            asked, self._asked, self._open = self._asked, [], 0
            return [self._answers(question) for question in asked][-1]
        except BaseException:  # a limit of time of ours, or the end of this process
            self.close(kill=True)
            raise
        return answer


def _serve(answers: Callable[[Q], A], line: Connection, theirs: Connection, parent: int) -> None:
    theirs.close()  # else it would never see the end of the line
    gc.disable()  # it would touch, and so copy, every page
    end_with(parent)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    with contextlib.suppress(BaseException):  # it is answered once more by who asked, and fails there
        while True:
            line.send(answers(line.recv()))
