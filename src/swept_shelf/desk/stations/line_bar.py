"""Progress by line: one segment per line of the order, as long as its share of the operations."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.painted import Painted, line_height, text_width


class LineBar(Painted):
    def __init__(self) -> None:
        super().__init__()
        self._lines: list[tuple[str, int, int]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(spoken("Progress by line"))

    def show_lines(self, lines: list[tuple[str, int, int]]) -> None:
        """(name, operations ended, operations in all) per line."""
        self._lines = lines
        self.setAccessibleDescription(spoken("; ".join(f"{n}: {d} of {a}" for n, d, a in lines)))
        self.refresh()

    def sizeHint(self) -> QSize:
        return QSize(300, 20 + round(line_height("small")))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def lay_out(self) -> None:
        whole = sum(a for _, _, a in self._lines)
        if not whole:
            return
        gap, x = 4.0, 0.0
        room = self.width() - gap * (len(self._lines) - 1)
        for name, done, count in self._lines:
            width = room * count / whole
            self.fill(x, 0, width, 13, "free")
            self.fill(x, 0, width * done / count, 13, "used")
            now = 0 < done < count
            font = "small_bold" if now else "small"
            if text_width(name, font) <= width or width > 60:
                self.text(x, 16, width, name, font, "ink" if now else "ink2")
            x += width + gap
