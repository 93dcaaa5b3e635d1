"""Work that the desk's own thread may not wait for: done behind it, the answer brought back to it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from swept_shelf.core.documents.errors import SweptShelfError


class _Answers(QObject):
    came = Signal(object, object)


class _Work(QRunnable):
    def __init__(self, act: Callable[[], Any], answers: _Answers) -> None:
        super().__init__()
        self._act, self._answers = act, answers

    def run(self) -> None:
        try:
            result, error = self._act(), None
        except BaseException as caught:
            result, error = None, caught
        self._answers.came.emit(result, error)


class Behind(QObject):
    """One piece of work after the other, each in its turn. `changed` when something is begun or ended."""

    changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._waiting: dict[_Answers, str] = {}

    @property
    def busy(self) -> bool:
        return bool(self._waiting)

    def doing(self, what: str) -> bool:
        return what in self._waiting.values()

    def do(
        self, what: str, act: Callable[[], Any], then: Callable[[Any], None], failed: Callable[[str], None]
    ) -> None:
        """`then` gets what `act` returned, on the desk's thread; `failed` the sentence of our own errors. Others are raised."""
        answers = _Answers(self)
        self._waiting[answers] = what

        def take(result: Any, error: BaseException | None) -> None:
            del self._waiting[answers]
            answers.deleteLater()
            self.changed.emit()
            if isinstance(error, SweptShelfError):
                failed(str(error))
            elif isinstance(error, OSError):
                failed(
                    f"{error.filename}: {error.strerror}" if error.filename else str(error.strerror or error)
                )
            elif error is not None:
                raise error
            else:
                then(result)

        answers.came.connect(take)
        self._pool.start(_Work(act, answers))
        self.changed.emit()

    def end(self) -> None:
        """Wait for what is begun; nothing of it is heard any more."""
        for answers in self._waiting:
            answers.came.disconnect()
        self._pool.waitForDone(5000)
        self._waiting.clear()
