"""Signing off: who answers for it, and where the reports go."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from swept_shelf.core.documents.sign_off import Technician
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.theme import theme


class Signing(QDialog):
    """`signed`: who, and the folder for the reports."""

    signed = Signal(object, object)

    def __init__(self, known: Technician, stands: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(spoken("Sign off"))
        self.setAccessibleName(spoken("Sign off"))
        self.setWindowModality(Qt.WindowModality.WindowModal)
        body = QVBoxLayout(self)
        body.setContentsMargins(24, 24, 24, 24)
        body.setSpacing(8)
        body.addWidget(label("Sign off", "head"))
        words = label(stands, second=True, wrap=True)
        words.setMinimumWidth(theme().px(440))
        body.addWidget(words)
        body.addSpacing(8)
        self.name = self._field(body, "Your name", known.name)
        self.workshop = self._field(body, "Workshop, as the report has it", known.workshop)
        body.addWidget(label("The reports go to", "small", second=True))
        row = QHBoxLayout()
        row.setSpacing(8)
        self.folder = QLineEdit(str(Path.home()))
        self.folder.setFont(theme().font("body"))
        self.folder.setAccessibleName(spoken("The reports go to"))
        choose = button("Choose…", name="Choose the folder for the reports")
        choose.clicked.connect(self._choose)
        row.addWidget(self.folder, 1)
        row.addWidget(choose)
        body.addLayout(row)
        self.wrong = label("", "small", loud=True, wrap=True)
        self.wrong.setVisible(False)
        body.addWidget(self.wrong)
        body.addSpacing(8)
        acts = QHBoxLayout()
        acts.addStretch(1)
        cancel, self.sign = button("Not yet"), button("Sign off, write the reports", filled=True)
        cancel.clicked.connect(self.reject)
        self.sign.clicked.connect(self._sign)
        self.sign.setDefault(True)
        acts.addWidget(cancel)
        acts.addWidget(self.sign)
        body.addLayout(acts)

    def _field(self, body: QVBoxLayout, name: str, value: str) -> QLineEdit:
        body.addWidget(label(name, "small", second=True))
        field = QLineEdit(value)
        field.setFont(theme().font("body"))
        field.setAccessibleName(spoken(name))
        body.addWidget(field)
        return field

    def _choose(self) -> None:
        if folder := QFileDialog.getExistingDirectory(
            self, spoken("The folder for the reports"), self.folder.text()
        ):
            self.folder.setText(folder)

    def _sign(self) -> None:
        folder = Path(self.folder.text()).expanduser()
        wrong = (
            "Say who signs."
            if not self.name.text().strip()
            else f"{folder} is not a folder."
            if not folder.is_dir()
            else ""
        )
        self.wrong.setText(spoken(wrong))
        self.wrong.setVisible(bool(wrong))
        if not wrong:
            self.signed.emit(Technician(self.name.text().strip(), self.workshop.text().strip()), folder)
            self.accept()
