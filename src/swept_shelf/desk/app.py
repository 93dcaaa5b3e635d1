"""Starts the desk: the window first, then what the ledger knows."""

from __future__ import annotations

import signal
import sys
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.desk.language import speak, wished
from swept_shelf.desk.mishap import tell_of_mishaps
from swept_shelf.desk.parts.drawn import own_icon
from swept_shelf.desk.window import Window

if TYPE_CHECKING:
    from swept_shelf.desk.dressing import Dressing


def run_desk(root: str, ledger: str | None, arguments: list[str], visit: str = "latest") -> int:
    """Returns the exit status. `visit`: an earlier one by its number, to be looked at only.

    Raises our own errors (no such root, no ledger) once the window is down."""
    app = QApplication.instance() or QApplication(arguments or sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Swept Shelf")
    app.setDesktopFileName("swept-shelf")
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    speak(wished())
    app.setWindowIcon(own_icon())
    window = Window()
    window.show()
    tell_of_mishaps(window)
    failed: list[SweptShelfError] = []
    desks: list[Dressing] = []

    def begin() -> None:
        try:
            desks.append(_furnish(window, root, ledger, visit))
        except SweptShelfError as error:
            failed.append(error)
            if sys.stderr is not None and sys.stderr.isatty():
                app.exit(2)  # it is read where it was started
            else:
                window.refuse(str(error))

    QTimer.singleShot(0, begin)
    status = app.exec()
    if failed:
        raise failed[0]
    return status


def _furnish(window: Window, root: str, ledger: str | None, visit: str) -> Dressing:
    from swept_shelf.desk.dressing import Dressing
    from swept_shelf.desk.parts.heard import make_pieces_heard
    from swept_shelf.desk.session import Session
    from swept_shelf.workshop import Workshop

    make_pieces_heard()
    session = Session(Workshop(root, ledger), visit)
    window.furnish(session)
    session.open()
    return Dressing(window, session)
