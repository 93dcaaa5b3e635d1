"""Lines that are dragged from a lens to the slip: a list of our own, which no other program takes for something else."""

from __future__ import annotations

import json

from PySide6.QtCore import QMimeData, QPointF, Qt
from PySide6.QtGui import QColor, QDrag, QPainter, QPixmap
from PySide6.QtWidgets import QApplication, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.desk.parts.painted import elide, line_height, text_width
from swept_shelf.desk.theme import theme

LINES = "application/x-swept-shelf-lines+json"


def far_enough(begun: QPointF, now: QPointF) -> bool:
    return (now - begun).manhattanLength() >= QApplication.startDragDistance()


def drag_lines(source: QWidget, lines: list[str], said: str) -> None:
    """Until they are dropped; `said`: what goes along with the pointer."""
    data = QMimeData()
    data.setData(LINES, json.dumps(lines).encode())
    drag = QDrag(source)
    drag.setMimeData(data)
    drag.setPixmap(_picture(printable(said)))
    drag.exec(Qt.DropAction.CopyAction)


def lines_in(data: QMimeData) -> list[str]:
    """Empty where it is something else, or says something else than a list of texts."""
    try:
        found = json.loads(bytes(data.data(LINES).data())) if data.hasFormat(LINES) else []
    except ValueError:
        return []
    return [x for x in found if isinstance(x, str)] if isinstance(found, list) else []


def _picture(said: str) -> QPixmap:
    said = elide(said, "bold", theme().px(240))
    pixmap = QPixmap(round(text_width(said, "bold")) + 24, round(line_height("bold")) + 12)
    pixmap.fill(QColor(theme().color("paper")))
    painter = QPainter(pixmap)
    painter.setFont(theme().font("bold"))
    painter.setPen(theme().color("ink"))
    painter.drawRect(pixmap.rect().adjusted(0, 0, -1, -1))
    painter.drawText(pixmap.rect(), Qt.AlignmentFlag.AlignCenter, said)
    painter.end()
    return pixmap
