"""Lines that stand behind a heading until somebody opens it."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label


class Fold(QWidget):
    """`wrap`: lines are shown whole. A heading that opens and closes by click, Space or Enter."""

    def __init__(self, heading: str, lines: list[str], opened: bool = False, wrap: bool = False) -> None:
        super().__init__()
        self._heading, self.opened = heading, opened
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head = button("", plain=True)
        self.head.clicked.connect(lambda: self.turn(not self.opened))
        column.addWidget(self.head)
        self._inside = QWidget()
        inner = QVBoxLayout(self._inside)
        inner.setContentsMargins(14, 0, 0, 4)
        inner.setSpacing(1)
        for line in lines:
            inner.addWidget(
                label(line, "small", second=True, wrap=True)
                if wrap
                else Elided(line, "small", second=True, middle=True)
            )
        column.addWidget(self._inside)
        self.turn(opened)

    def turn(self, opened: bool) -> None:
        self.opened = opened
        self._inside.setVisible(opened)
        self.head.setText(spoken(f"{'▾' if opened else '▸'} {self._heading}"))
        self.head.setAccessibleName(spoken(f"{self._heading}, {'open' if opened else 'folded'}"))
