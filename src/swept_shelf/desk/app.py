"""Starts the desk: the window first, then what the ledger knows."""

from __future__ import annotations

import signal
import sys

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.desk.mishap import tell_of_mishaps
from swept_shelf.desk.window import Window


def run_desk(root: str, ledger: str | None, arguments: list[str]) -> int:
    """Raises our own errors (no such root, no ledger) after taking the window down; returns the exit status."""
    app = QApplication.instance() or QApplication(arguments or sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Swept Shelf")
    app.setDesktopFileName("swept-shelf")
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    window = Window()
    window.show()
    tell_of_mishaps(window)
    failed: list[SweptShelfError] = []

    def begin() -> None:
        try:
            _furnish(window, root, ledger)
        except SweptShelfError as error:
            failed.append(error)
            app.exit(2)

    QTimer.singleShot(0, begin)
    status = app.exec()
    if failed:
        raise failed[0]
    return status


def _furnish(window: Window, root: str, ledger: str | None) -> None:
    from swept_shelf.desk.session import RunState, Session
    from swept_shelf.workshop import Workshop

    session = Session(Workshop(root, ledger))
    window.furnish(session)

    def look() -> None:
        if session.survey is None and session.carrying.state not in (RunState.WORKING, RunState.INTERRUPTED):
            session.looking.take_survey()

    session.opened.connect(look)
    session.open()
