"""A process beside this one that is asked several times, and keeps what it knows from one time to the next."""

from __future__ import annotations

import contextlib
import gc
import os
import signal
from collections.abc import Callable
from multiprocessing.connection import Connection
from types import TracebackType
from typing import Generic, TypeVar

from swept_shelf.core.machine.beside import CONTEXT
from swept_shelf.core.machine.confine import end_with

Q = TypeVar("Q")
A = TypeVar("A")


class Partner(Generic[Q, A]):
    """`answers` begins with everything as it stands here now. Questions and answers have to be such as can be sent (pickle)."""

    def __init__(self, answers: Callable[[Q], A]) -> None:
        self._answers = answers
        self._asked: list[Q] = []  # all that was not answered here
        self._line, other = CONTEXT.Pipe()
        self._process = CONTEXT.Process(
            target=_serve, args=(answers, other, self._line, os.getpid()), daemon=True
        )
        self._process.start()
        other.close()

    def __enter__(self) -> Partner[Q, A]:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None
    ) -> None:
        self._line.close()
        if error:
            self._process.kill()
        self._process.join()

    def ask(self, question: Q) -> None:
        self._asked.append(question)
        with contextlib.suppress(OSError):  # it is gone: `answer` sees to that
            self._line.send(question)

    def answer(self) -> A:
        """To the last question. Where the process came to an end, all it was asked is answered here, which raises what it raises."""
        try:
            answer: A = self._line.recv()
        except (EOFError, OSError):
            asked, self._asked = self._asked, []
            return [self._answers(question) for question in asked][-1]
        return answer


def _serve(answers: Callable[[Q], A], line: Connection, theirs: Connection, parent: int) -> None:
    theirs.close()  # else it would never see the end of the line
    gc.disable()  # it would touch, and so copy, every page
    end_with(parent)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    with contextlib.suppress(Exception):  # it is answered once more by who asked, and fails there
        while True:
            line.send(answers(line.recv()))
