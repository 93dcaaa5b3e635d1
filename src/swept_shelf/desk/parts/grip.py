"""The upper edge of the drawer, which can be drawn up and down."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPointF, Qt, Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QWidget

from swept_shelf.desk.language import spoken

_HIGH = 6


class Grip(QWidget):
    """Lies on the upper edge of `below`. `drawn`: pixels upwards since the button went down, and whether it was let go; `let_go_of`: as high as it was at first."""

    drawn = Signal(int, bool)
    let_go_of = Signal()

    def __init__(self, below: QWidget) -> None:
        super().__init__(below)
        self._from: QPointF | None = None
        below.installEventFilter(self)
        self.setCursor(Qt.CursorShape.SizeVerCursor)
        self.setToolTip(spoken("Drag: the drawer higher or lower. A double click: as it was at first."))
        self.setAccessibleName(spoken("Edge of the drawer"))

    def eventFilter(self, below: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.Resize, QEvent.Type.LayoutRequest) and isinstance(below, QWidget):
            self.setGeometry(0, 0, below.width(), _HIGH)
            self.raise_()
        return super().eventFilter(below, event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.globalPosition()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self.drawn.emit(round(self._from.y() - event.globalPosition().y()), False)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self.drawn.emit(round(self._from.y() - event.globalPosition().y()), True)
        self._from = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._from = None
        self.let_go_of.emit()
