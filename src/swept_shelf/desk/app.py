"""Starts the desk: the window first, then what the ledger knows."""

from __future__ import annotations

import signal
import sys

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from swept_shelf.desk.session import Session
from swept_shelf.desk.window import Window
from swept_shelf.workshop import Workshop


def run_desk(root: str, ledger: str | None, arguments: list[str]) -> int:
    """Raises our own errors before a window exists; returns the exit status."""
    shop = Workshop(root, ledger)
    app = QApplication.instance() or QApplication(arguments or sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Swept Shelf")
    app.setDesktopFileName("swept-shelf")
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    session = Session(shop)
    window = Window(session)
    window.show()

    def begin() -> None:
        session.open()
        if session.survey is None and session.run_state not in ("working", "interrupted"):
            session.take_survey()

    QTimer.singleShot(0, begin)
    return app.exec()
