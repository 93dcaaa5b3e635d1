"""In place of the lenses while there is nothing to show: a machine never looked at, a survey that failed, one that is opened."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.survey.ahead import Ahead
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.parts.volume_bar import VolumeBar
from swept_shelf.desk.theme import theme

_NEVER = (
    "A survey lists every application with its size, its last use and all that belongs to it, whose each file is, "
    "and what was left behind of others."
)


class FirstPage(QWidget):
    look_wanted = Signal()
    machine_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        area, page = QScrollArea(), QWidget()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(page)
        whole.addWidget(area)
        outer = QVBoxLayout(page)
        outer.setContentsMargins(24, 24, 24, 24)
        outer.setSpacing(12)
        self.head, self.text = label("", "title", wrap=True), label("", second=True, wrap=True)
        self._ahead = QWidget()
        self._grid = QGridLayout(self._ahead)
        self._grid.setContentsMargins(0, 12, 0, 4)
        self._grid.setHorizontalSpacing(24)
        self._grid.setVerticalSpacing(10)
        self._grid.setColumnStretch(1, 1)
        self._shown: Ahead | None = None
        self.look = button("Survey this computer", filled=True)
        self.look.clicked.connect(self.look_wanted)
        row = QHBoxLayout()
        self.other = button("Another computer’s disk…")
        self.other.clicked.connect(self.machine_wanted)
        row.setSpacing(12)
        row.addWidget(self.look)
        row.addWidget(self.other)
        row.addStretch(1)
        for widget in (self.head, self.text):
            outer.addWidget(widget)
        outer.addLayout(row)
        outer.addWidget(self._ahead)
        outer.addStretch(1)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.look.setFocus()

    def show_nothing(self) -> None:
        """A survey is being taken, and the line above says so."""
        self._say("", "", "")

    def show_opening(self) -> None:
        self._say("Opening", "The newest survey of this computer is being read.", "")

    def show_failed(self, why: str) -> None:
        self._say("The survey failed", why, "Try again")

    def show_ahead(self, ahead: Ahead | None) -> None:
        self._say("This computer has not been looked at yet", _NEVER, "Survey this computer")
        self._ahead.setVisible(ahead is not None)
        if ahead is None or ahead is self._shown:
            return
        self._shown = ahead
        while (item := self._grid.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.deleteLater()
        top = Qt.AlignmentFlag.AlignTop
        for number, (what, answer) in enumerate(ahead.sentences()):
            self._grid.addWidget(label(what, "bold"), number, 0, top)
            self._grid.addWidget(label(printable(answer), wrap=True), number, 1, top)
        for number, volume in enumerate(ahead.volumes[:4], self._grid.rowCount()):
            bar = VolumeBar(volume.mount, volume.capacity, volume.free, 0, "desk")
            bar.setMaximumWidth(theme().px(420))
            self._grid.addWidget(bar, number, 1)

    def _say(self, head: str, text: str, act: str) -> None:
        self.head.setText(spoken(head))
        self.text.setText(spoken(text))
        self.look.setText(spoken(act))
        self.look.setAccessibleName(spoken(act))
        self.look.setVisible(bool(act))
        self.other.setVisible(bool(act))
        if act and self.isVisible() and not self.other.hasFocus():
            self.look.setFocus()
        self._ahead.hide()
