"""A visit at the right of the Ledger: taken in hand by a click, marked by a bar at its left."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QSizePolicy

from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.times import clock, day
from swept_shelf.core.ledger import VisitRow
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.painted import elide, line_height, text_width
from swept_shelf.desk.theme import theme

_BAR = 4


class VisitButton(QAbstractButton):
    def __init__(self, visit: VisitRow, now: datetime, in_hand: bool) -> None:
        super().__init__()
        self.number = str(visit.number)
        today = day(visit.opened_at) == day(now)
        self.when = f"today, {clock(visit.opened_at)}" if today else day(visit.opened_at)
        self.did = f"order {visit.order} · {plural(visit.lines, 'line')}" if visit.order else "looked only"
        self.state = "closed" if visit.closed_at else "open"
        self.setCheckable(True)
        self.setChecked(in_hand)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(spoken(f"Visit {self.number}, {self.when}, {self.did}, {self.state}"))
        self.setToolTip(spoken(f"Visit {self.number}: {self.when}, {self.did}"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(round(line_height("bold") + line_height("small") + 8))

    def paintEvent(self, event: QPaintEvent) -> None:
        p, t = QPainter(self), theme()
        if self.isChecked() or self.hasFocus():
            p.fillRect(self.rect(), t.color("well"))
        if self.isChecked():
            p.fillRect(0, 0, _BAR, self.height(), t.color("ink"))
        first = round(text_width("888", "bold")) + 12
        row, below = round(line_height("bold")), round(line_height("small"))
        states = round(text_width(self.state, "small")) + 4
        wide = self.width() - first - 8
        for x, y, width, height, text, font, color, align in (
            (_BAR, 3, first - 10, row, self.number, "bold", "ink", Qt.AlignmentFlag.AlignRight),
            (first + 6, 3, wide - states, row, self.when, "body", "ink", Qt.AlignmentFlag.AlignLeft),
            (
                self.width() - states - 4,
                3,
                states,
                row,
                self.state,
                "small",
                "ink2",
                Qt.AlignmentFlag.AlignRight,
            ),
            (first + 6, 3 + row, wide, below, self.did, "small", "ink2", Qt.AlignmentFlag.AlignLeft),
        ):
            p.setFont(t.font(font))
            p.setPen(t.color(color))
            p.drawText(x, y, width, height, align | Qt.AlignmentFlag.AlignVCenter, elide(text, font, width))
        p.end()
