"""A signal from the keyboard: it stops what is done, yet never in the middle of reading our own modules, where the interpreter
makes another error of it, or ends by the signal once more."""

from __future__ import annotations

import contextlib
import signal
from collections.abc import Iterator
from types import FrameType


class Stopped(KeyboardInterrupt):
    """Somebody pressed Ctrl-C. A class of its own: of the bare one the interpreter keeps that it was raised in code made from text
    (every dataclass is), and ends by the signal although it was caught."""


_reading = 0  # how many modules are being read
_came = False  # while they were


def hear_the_keyboard() -> None:
    """From now on. Who was started with the signal ignored goes on ignoring it."""
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _stop)


@contextlib.contextmanager
def unbroken() -> Iterator[None]:
    """What is read in here is read to its end; a signal that came meanwhile stops then."""
    global _reading, _came
    _reading += 1
    try:
        yield
    finally:
        _reading -= 1
        if _came and not _reading:
            _came = False
            raise Stopped


def _stop(_number: int, _frame: FrameType | None) -> None:
    global _came
    if not _reading:
        raise Stopped
    _came = True
