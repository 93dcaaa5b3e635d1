"""Opens the real window on a made-up machine and acts on it as a person would."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from helpers import MadeUp
from swept_shelf.desk.session import Session
from swept_shelf.desk.theme import set_theme
from swept_shelf.desk.window import Window
from swept_shelf.workshop import Workshop


class Desk:
    def __init__(
        self,
        machine: MadeUp,
        qtbot,
        size: tuple[int, int] = (1280, 800),
        dark: bool = False,
        scale: float = 1.0,
    ) -> None:
        set_theme(dark, scale)
        self.machine = machine
        self._qtbot = qtbot
        self.session = Session(Workshop(str(machine.folder)))
        self.window = Window().furnish(self.session)
        self.window.resize(*size)

    def __enter__(self) -> Desk:
        self.window.show()
        self.session.open()
        self.settle()
        return self

    def __exit__(self, *_: object) -> None:
        self.wait(lambda: not self.session.busy)
        self.session.close()
        self.window.close()
        self.window.deleteLater()
        self.settle()

    def settle(self) -> None:
        session = self.session
        self._qtbot.waitUntil(lambda: not (session.behind.busy or session.standing.busy), timeout=60_000)
        for _ in range(4):
            QApplication.processEvents()
            QTest.qWait(1)

    def wait(self, condition: Callable[[], bool], seconds: float = 60) -> None:
        self._qtbot.waitUntil(condition, timeout=round(seconds * 1000))
        self.settle()

    def click(self, widget: QWidget) -> None:
        assert widget.isVisible() and widget.isEnabled(), widget.accessibleName()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
        self.settle()

    def buttons(self, inside: QWidget) -> list[QPushButton]:
        return [b for b in inside.findChildren(QPushButton) if b.isVisible()]

    def button(self, text: str, inside: QWidget) -> QPushButton:
        return next(b for b in self.buttons(inside) if b.text() == text)

    def survey(self) -> None:
        self.session.looking.take_survey()
        self.wait(lambda: self.session.survey is not None and self.session.looking.progress is None)

    def carry(self) -> None:
        self.session.carrying.carry_out()
        self.wait(lambda: self.session.carrying.state == "ended" and not self.session.busy)
