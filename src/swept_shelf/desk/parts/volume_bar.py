"""A volume as a bar: used, free, and rust hatching for what is promised and not yet back."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.band import paint_hatch
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.theme import theme


def short_free(now: int, then: int, capacity: int) -> str:
    """`14.6 → 23.9 GB free of 118`: figures in the unit of the capacity, as a person reads them."""
    if now == then:
        return f"{human_bytes(now)} free of {human_bytes(capacity)}"
    return f"{human_bytes(now)} → {human_bytes(then)} free of {human_bytes(capacity)}"


class VolumeBar(Painted):
    def __init__(
        self, mount: str, capacity: int, free: int, promised: int, background: str = "paper"
    ) -> None:
        super().__init__()
        self._mount, self._capacity, self._free, self._promised, self._ground = (
            mount,
            capacity,
            free,
            promised,
            background,
        )
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(spoken(f"{mount}: {short_free(free, free + promised, capacity)}"))
        self.setToolTip(spoken(f"{free} bytes free of {capacity}; {promised} bytes promised"))

    def sizeHint(self) -> QSize:
        two = self._two_lines(self.width() or theme().slip_width - 34)
        return QSize(200, round(line_height("small") * (2 if two else 1)) + 14)

    def minimumSizeHint(self) -> QSize:
        return QSize(60, self.sizeHint().height())

    def _two_lines(self, width: float) -> bool:
        figures = short_free(self._free, self._free + self._promised, self._capacity)
        return text_width(self._mount, "small_bold") + text_width(figures, "small") + 12 > width

    def lay_out(self) -> None:
        width, high = self.width(), line_height("small")
        figures = short_free(self._free, self._free + self._promised, self._capacity)
        two = self._two_lines(width)
        name = text_width(self._mount, "small_bold") + 2
        self.text(
            0, 0, width if two else min(name, width * 0.5), self._mount, "small_bold", background=self._ground
        )
        at = high if two else 0
        left = 0 if two else name + 8
        self.text(
            left,
            at,
            width - left,
            figures,
            "small",
            "ink2",
            self._ground,
            Qt.AlignmentFlag.AlignLeft if two else Qt.AlignmentFlag.AlignRight,
        )
        y = at + high + 3
        used = width * (self._capacity - self._free) / max(1, self._capacity)
        back = max(2.0, width * self._promised / max(1, self._capacity)) if self._promised > 0 else 0
        self.fill(0, y, width, 8, "free")
        self.fill(0, y, used, 8, "used")
        if back:
            rect = QRectF(max(0.0, used - back), y, min(back, used), 8)
            self.shapes.append(lambda p: paint_hatch(p, rect))
        self.setFixedHeight(round(y + 11))
