"""The desk follows the desktop while it is open: light or dark, and the size of text. It is furnished anew where it stands."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from swept_shelf.desk.mishap import tell_of_mishaps
from swept_shelf.desk.session import Session
from swept_shelf.desk.theme import is_out_of_date, set_theme
from swept_shelf.desk.window import Window

_WAITS = 400  # milliseconds: a desktop tells several times, and a worker is not left alone


class Dressing(QObject):
    """`window`, `session`: those that are shown now."""

    def __init__(self, window: Window, session: Session) -> None:
        super().__init__()
        self.window, self.session = window, session
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._dress)
        QGuiApplication.styleHints().colorSchemeChanged.connect(lambda _: self._soon.start(_WAITS))
        window.desktop_changed.connect(lambda: self._soon.start(_WAITS))

    def _dress(self) -> None:
        """Once nothing is at work: a worker tells the session that began it."""
        if not is_out_of_date():
            return
        old, before = self.session, self.window
        if old.taken or old.busy or QApplication.activeModalWidget() is not None:
            self._soon.start(_WAITS)
            return
        set_theme()
        session = Session(old.shop, old.which)
        window = Window().furnish(session)
        session.opened.connect(lambda: self._take_over(old, before))
        self.window, self.session = window, session
        window.desktop_changed.connect(lambda: self._soon.start(_WAITS))
        window.setGeometry(before.geometry())
        window.show()
        tell_of_mishaps(window)
        session.open()

    def _take_over(self, old: Session, before: Window) -> None:
        """What was decided and in hand goes along; then the old desk is cleared away."""
        self.session.ordering.take_over(old.ordering)
        self.session.select(old.selected)
        self.window.survey.take_lens(before.survey.lens_name)
        self.window.survey.find_field.setText(before.survey.find_field.text())
        self.window.go(before.station)
        old.close()
        before.hide()
        before.deleteLater()
