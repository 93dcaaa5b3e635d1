"""A note for a line of the order: why it was decided so, in the technician's own words."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.order import LONGEST_NOTE
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label
from swept_shelf.desk.theme import theme


class NotePage(QDialog):
    """`noted`: the text; an empty one takes the note away."""

    noted = Signal(str)

    def __init__(self, name: str, note: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(spoken("A note"))
        self.setAccessibleName(spoken(f"A note for {printable(name)}"))
        self.setWindowModality(Qt.WindowModality.WindowModal)
        body = QVBoxLayout(self)
        body.setContentsMargins(24, 24, 24, 24)
        body.setSpacing(8)
        head = Elided("", "head")
        head.set(name)
        head.setMinimumWidth(theme().px(440))
        body.addWidget(head)
        body.addWidget(
            label("It stands on the slip, in the order and in the reports.", "small", second=True, wrap=True)
        )
        self.field = QLineEdit(note)
        self.field.setFont(theme().font("body"))
        self.field.setMaxLength(LONGEST_NOTE)
        self.field.setAccessibleName(spoken("The note"))
        body.addWidget(self.field)
        body.addSpacing(8)
        row = QHBoxLayout()
        row.addStretch(1)
        cancel, self.keep = button("Cancel"), button("Keep the note", filled=True)
        cancel.setAutoDefault(False)
        cancel.clicked.connect(self.reject)
        self.keep.setDefault(True)
        self.keep.clicked.connect(self._keep)
        row.addWidget(cancel)
        row.addWidget(self.keep)
        body.addLayout(row)
        self.field.setFocus()

    def _keep(self) -> None:
        self.noted.emit(self.field.text().strip())
        self.accept()
