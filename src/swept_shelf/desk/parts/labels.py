"""Labels, buttons and frames in the house's type; each can be made anew when the theme changes."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from swept_shelf.core.documents.errors import printable
from swept_shelf.desk.language import spoken
from swept_shelf.desk.theme import theme


def label(
    text: str = "", font: str = "body", second: bool = False, loud: bool = False, wrap: bool = False
) -> QLabel:
    made = QLabel(spoken(printable(text)))
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setFont(theme().font(font))
    made.setProperty("font_key", font)
    made.setProperty("second", second)
    made.setProperty("loud", loud)
    made.setWordWrap(wrap)
    return made


class Elided(QLabel):
    """One line that ends in an ellipsis where it does not fit; the whole is its tool tip."""

    def __init__(
        self,
        text: str = "",
        font: str = "body",
        second: bool = False,
        middle: bool = False,
        loud: bool = False,
    ) -> None:
        super().__init__(spoken(printable(text)))
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setFont(theme().font(font))
        self.setProperty("font_key", font)
        self.setProperty("second", second)
        self.setProperty("loud", loud)
        self._mode = Qt.TextElideMode.ElideMiddle if middle else Qt.TextElideMode.ElideRight
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.setToolTip(spoken(printable(text)))

    def set(self, text: str) -> None:
        self.setText(spoken(printable(text)))
        self.setToolTip(spoken(printable(text)))

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(self.font())
        painter.setPen(self.palette().windowText().color())
        shown = self.fontMetrics().elidedText(self.text(), self._mode, self.contentsRect().width())
        painter.drawText(self.contentsRect(), self.alignment() | Qt.AlignmentFlag.AlignVCenter, shown)
        painter.end()


def button(text: str, filled: bool = False, plain: bool = False, name: str = "") -> QPushButton:
    made = QPushButton(spoken(printable(text)))
    made.setFont(theme().font("body" if not plain else "small"))
    made.setProperty("font_key", "body" if not plain else "small")
    made.setProperty("filled", filled)
    made.setProperty("plain", plain)
    made.setAccessibleName(spoken(name or printable(text)))
    made.setAutoDefault(True)
    made.setMinimumHeight(theme().px(24) if plain else theme().px(32))
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    return made


def on_taken(made: QAbstractButton, act: Callable[[], object]) -> None:
    """A button that stays down: taken by pointer, key, or an assistive program, which turns it over without a click."""
    made.toggled.connect(lambda _: act())


def set_taken(made: QAbstractButton, down: bool) -> None:
    """Down or up, as it was taken elsewhere."""
    with QSignalBlocker(made):
        made.setChecked(down)


def rule(dotted: bool = False) -> QFrame:
    made = QFrame()
    made.setFixedHeight(1)
    style = "dotted" if dotted else "solid"
    made.setStyleSheet(f"border: none; border-top: 1px {style} {theme().hex('line')};")
    return made


class Side(QFrame):
    """The paper at the right of every station: a body that scrolls, what stands still below it, and buttons at the foot."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAccessibleName(spoken(name))
        self.setFixedWidth(theme().slip_width)
        outer = QVBoxLayout(self)
        pad = 16
        outer.setContentsMargins(pad, pad, pad, pad)
        outer.setSpacing(8)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(self._area, 1)
        self._standing = QWidget()
        outer.addWidget(self._standing)
        self._outer = outer
        self.foot = QVBoxLayout()
        self.foot.setSpacing(8)
        outer.addLayout(self.foot)
        self.clear()

    def clear(self) -> QVBoxLayout:
        """A fresh, empty body; returns its layout. The old one goes later: what was pressed in it may still be at work."""
        if (old := self._area.takeWidget()) is not None:
            old.hide()
            old.deleteLater()
        body = QWidget()
        self.body = QVBoxLayout(body)
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(4)
        self._area.setWidget(body)
        self.stand_still()
        return self.body

    def stand_still(self) -> QVBoxLayout:
        """A fresh layout for what stands still below the body, however long that is."""
        old, self._standing = self._standing, QWidget()
        self._outer.replaceWidget(old, self._standing)
        old.hide()
        old.deleteLater()
        still = QVBoxLayout(self._standing)
        still.setContentsMargins(0, 0, 0, 0)
        still.setSpacing(4)
        return still
