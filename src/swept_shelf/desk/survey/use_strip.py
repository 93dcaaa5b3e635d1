"""The strip of use: one line per kind of sign, a stroke for each, over the last 24 months."""

from __future__ import annotations

from datetime import datetime, timedelta

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.survey import LastUse
from swept_shelf.core.documents.times import day
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.theme import theme


class UseStrip(Painted):
    def __init__(self) -> None:
        super().__init__()
        self._use: LastUse | None = None
        self._now = datetime.now().astimezone()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setAccessibleName("Signs of use")

    def show_use(self, use: LastUse | None, now: datetime) -> None:
        self._use, self._now = use, now
        self.setAccessibleDescription("; ".join(f"{s.kind} {day(s.at)}" for s in use.signs) if use else "")
        self.updateGeometry()
        self.refresh()

    def _kinds(self) -> list[str]:
        if self._use is None:
            return []
        return list(dict.fromkeys([*self._use.looked_at, *(s.kind for s in self._use.signs)]))

    def sizeHint(self) -> QSize:
        return QSize(160, round((line_height("small") + 9) * (len(self._kinds()) + 1.4)))

    def minimumSizeHint(self) -> QSize:
        return QSize(100, self.sizeHint().height())

    def lay_out(self) -> None:
        if self._use is None:
            return
        left, high = self.width() * 0.66, line_height("small") + 9
        width, y = self.width() - left - 4, 0.0
        begin = self._now - timedelta(days=730)
        for kind in self._kinds():
            self.text(0, y, left - 6, kind, "small", "ink2", "paper")
            self.fill(left, y + high - 5, width, 1, "line")
            for s in self._use.signs:
                part = (s.at - begin) / timedelta(days=730)
                if s.kind == kind and 0 <= part <= 1.001:
                    rect = QRectF(left + (width - 2) * min(1.0, part), y + high - 15, 2, 10)
                    token = "line" if s.set_aside else "ink"
                    self.shapes.append(lambda p, r=rect, c=token: p.fillRect(r, theme().color(c)))  # type: ignore[misc]
            y += high
        counted = len({s.kind for s in self._use.signs if not s.set_aside})
        words = {0: "no sign counts", 1: "1 sign"}.get(
            counted, f"{counted} signs agree" if self._use.certainty == "sure" else f"{counted} signs"
        )
        said = text_width(words, "small") + 2
        self.text(0, y, min(said, self.width()), words, "small", "ink2", "paper")
        span = f"{begin:%b ’%y} – now"
        wide = text_width(span, "small") + 2
        if said + wide + 8 > self.width():
            return
        self.text(self.width() - wide - 4, y, wide, span, "small", "ink2", "paper", Qt.AlignmentFlag.AlignRight)
