"""What Order, Carry out and Ledger have in common: a head, what stands below it, and the side."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, Side, label
from swept_shelf.desk.session import Session

LEFT = 8


class Sheet(QWidget):
    """`left` is the column; `head` its first row, a heading with a line of words beside it; `side` the panel."""

    def __init__(self, session: Session, name: str, side: str) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName(spoken(name))
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 16, 24, 24)
        row.setSpacing(16)
        self.left = QVBoxLayout()
        self.left.setSpacing(8)
        self.head = QHBoxLayout()
        self.head.setContentsMargins(LEFT, 0, 0, 0)
        self._head, self._sub = label("", "head"), Elided("", "small", second=True)
        self.head.addWidget(self._head)
        self.head.addWidget(self._sub, 1)
        row.addLayout(self.left, 1)
        self.side = Side(side)
        row.addWidget(self.side)
