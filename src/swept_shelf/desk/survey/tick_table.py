"""A table whose rows can be ticked: with the mouse in its first column, with Space anywhere."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent

from swept_shelf.desk.parts.rows import RowTable


class TickTable(RowTable):
    """A row's `extra` says whether it is ticked; None: it cannot be."""

    ticked = Signal(str, bool)

    def __init__(
        self,
        name: str,
        columns: Sequence[tuple[str, bool]],
        widths: Sequence[int],
        drop: Sequence[int] = (),
        least: int = 120,
    ) -> None:
        super().__init__(name, tuple(columns), tuple(widths), height=22, drop=tuple(drop), least=least)
        self.painter_of_rows.ground = "paper"
        self.clicked.connect(lambda index: self._toggle() if index.column() == 0 else None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self._toggle()
        else:
            super().keyPressEvent(event)

    def _toggle(self) -> None:
        index = self.currentIndex()
        if index.isValid():
            row = self.rows.rows[index.row()]
            if row.extra is not None:
                self.ticked.emit(row.key, not row.extra)
