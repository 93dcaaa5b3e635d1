"""Free space over the visits of this machine: a line of steps, rust where an order gave space back."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.painted import Painted, line_height
from swept_shelf.desk.theme import theme


class FreeChart(Painted):
    def __init__(self) -> None:
        super().__init__()
        self._free: list[int] = []
        self._now = 0
        self._first = ""
        self._capacity = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(spoken("Free space over the visits"))
        self.setFixedHeight(round(96 + line_height("small") * 2))

    def show_free(self, free: list[int], now: int, first: str, capacity: int) -> None:
        """Bytes free at the start of each visit, oldest first, and now. Less than a twentieth of the volume stays flat."""
        self._free, self._now, self._first, self._capacity = free, now, first, capacity
        self.setAccessibleDescription(spoken(f"{human_bytes(now)} free now"))
        self.refresh()

    def sizeHint(self) -> QSize:
        return QSize(400, self.height())

    def lay_out(self) -> None:
        if not self._free:
            return
        high, top = 84.0, line_height("small") + 6
        values = [*self._free, self._now]
        most, least = max(values), min(values)
        span = max(1, most - least, self._capacity // 20)

        def y(value: int) -> float:
            return top + (high - 20) * (1 - (value - least) / span) + 6

        left, right = 8.0, self.width() - 12.0
        step = (right - left) / max(1, len(self._free))
        free, now = self._free, self._now

        def draw(p: QPainter) -> None:
            p.setPen(QPen(theme().color("used"), 2))
            x = left
            for i, value in enumerate(free):
                p.drawLine(QPointF(x, y(value)), QPointF(x + step, y(value)))
                after = free[i + 1] if i + 1 < len(free) else now
                rises = after > value
                p.setPen(QPen(theme().color("rust" if rises else "used"), 4 if rises else 2))
                p.drawLine(QPointF(x + step, y(value)), QPointF(x + step, y(after)))
                p.setPen(QPen(theme().color("used"), 2))
                x += step

        self.shapes.append(draw)
        self.text(left, 0, right - left, f"{human_bytes(most)} at most", "small", "ink2")
        foot = top + high
        self.text(left, foot, (right - left) / 2, self._first, "small", "ink2")
        self.text(
            right - (right - left) / 2,
            foot,
            (right - left) / 2,
            f"now {human_bytes(self._now)}",
            "small",
            "ink2",
            align=Qt.AlignmentFlag.AlignRight,
        )
