"""Work that the desk's own thread may not wait for: done behind it, the answer brought back to it."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from typing import Any, NamedTuple

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from swept_shelf.core.documents.errors import SweptShelfError


class _Answers(QObject):
    """One for all that is ever done: whoever emits from a thread of its own must find it there until that call has ended, which
    may be after the answer was heard."""

    came = Signal(int, object, object)


class _Work(QRunnable):
    def __init__(self, number: int, act: Callable[[], Any], answers: _Answers) -> None:
        super().__init__()
        self._number, self._act, self._answers = number, act, answers

    def run(self) -> None:
        try:
            result, error = self._act(), None
        except BaseException as caught:
            result, error = None, caught
        self._answers.came.emit(self._number, result, error)


class _Awaited(NamedTuple):
    what: str
    then: Callable[[Any], None]
    failed: Callable[[str], None]


class Behind(QObject):
    """One piece of work after the other, each in its turn. `changed` when something is begun or ended."""

    changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        # pkexec, started behind the desk, ends with the thread that started it (PR_SET_PDEATHSIG): somebody types a password
        self._pool.setExpiryTimeout(-1)
        self._numbers = count()
        self._waiting: dict[int, _Awaited] = {}
        self._answers = _Answers(self)
        self._answers.came.connect(self._take)

    @property
    def busy(self) -> bool:
        return bool(self._waiting)

    def doing(self, what: str) -> bool:
        return any(awaited.what == what for awaited in self._waiting.values())

    def do(
        self, what: str, act: Callable[[], Any], then: Callable[[Any], None], failed: Callable[[str], None]
    ) -> None:
        """`then` gets what `act` returned, on the desk's thread; `failed` the sentence of our own errors. Others are raised."""
        number = next(self._numbers)
        self._waiting[number] = _Awaited(what, then, failed)
        self._pool.start(_Work(number, act, self._answers))
        self.changed.emit()

    def _take(self, number: int, result: Any, error: BaseException | None) -> None:
        awaited = self._waiting.pop(number, None)
        if awaited is None:
            return  # of what was begun before the end
        self.changed.emit()
        if isinstance(error, SweptShelfError):
            awaited.failed(str(error))
        elif isinstance(error, OSError):
            awaited.failed(
                f"{error.filename}: {error.strerror}" if error.filename else str(error.strerror or error)
            )
        elif error is not None:
            raise error
        else:
            awaited.then(result)

    def end(self) -> None:
        """Wait for what is begun; nothing of it is heard any more."""
        self._waiting.clear()
        self._pool.waitForDone(5000)
