"""Which machine: systems whose disks are mounted here, or any folder that holds one; opened in a window of its own."""

from __future__ import annotations

import json

from PySide6.QtCore import QProcess, Signal
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.machine.systems import System
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.parts.rows import Cell, Row, RowTable
from swept_shelf.desk.theme import theme
from swept_shelf.own_python import FOLDER, own_python


class MachinesPage(QDialog):
    """`chosen`: the root of a machine."""

    chosen = Signal(str)

    def __init__(self, here: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._here = here
        self.setWindowTitle(spoken("Another computer’s disk"))
        self.setAccessibleName(spoken("Another computer’s disk"))
        self.resize(theme().px(680), theme().px(380))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 24, 24, 24)
        outer.setSpacing(12)
        outer.addWidget(label("Systems on disks that are mounted here", "head"))
        self.said = label("The mounted disks are being looked at.", "small", second=True, wrap=True)
        outer.addWidget(self.said)
        columns = (("System", False), ("Mounted at", False), ("", False))
        self.table = RowTable(
            "Systems on mounted disks", columns, (0, 220, 120), height=30, ruled=True, drop=(2,)
        )
        self.table.doubleClicked.connect(self._take)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show())
        outer.addWidget(self.table, 1)
        self.open_button = button("Open in a window of its own", filled=True)
        self.open_button.clicked.connect(self._take)
        self.folder_button, close = button("Choose a folder…"), button("Cancel")
        self.folder_button.clicked.connect(self._ask)
        close.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self.folder_button)
        row.addStretch(1)
        row.addWidget(close)
        row.addWidget(self.open_button)
        outer.addLayout(row)
        self.open_button.setDefault(True)  # what Return does in the table
        for other in (self.folder_button, close):
            other.setAutoDefault(False)
        self._show()
        self._process = QProcess(self)  # a disk that does not answer holds up nobody here
        self._process.finished.connect(self._heard)
        program, *arguments = own_python("swept_shelf", "systems", "--format", "json")
        self._process.setWorkingDirectory(FOLDER)
        self._process.start(program, arguments)

    def _heard(self) -> None:
        said = bytes(self._process.readAllStandardOutput().data())
        try:
            self._found([System(**row) for row in json.loads(said)])
        except (ValueError, TypeError):
            self.said.setText(
                spoken(
                    "The mounted disks could not be looked at. A folder that holds a system can be chosen."
                )
            )

    def _found(self, systems: list[System]) -> None:
        self.said.setText(
            spoken(
                "Each is looked at and worked on as it lies there; this computer’s own programs are not touched."
                if len(systems) > 1
                else "No other disk with a system on it is mounted. A folder that holds one can be chosen."
            )
        )
        self.table.show_rows([self._row(s) for s in systems])
        if systems:
            self.table.setCurrentIndex(self.table.rows.index(0, 0))
            self.table.setFocus()
        self._show()

    def _row(self, system: System) -> Row:
        words = "open here" if system.root == self._here else "this computer" if system.root == "/" else ""
        return Row(
            system.root,
            (
                Cell(system.os or system.name, font="bold"),
                Cell(system.root, path=True),
                Cell(words, font="small", color="ink2"),
            ),
        )

    def _show(self) -> None:
        key = self.table.key()
        self.open_button.setEnabled(bool(key) and key != self._here)

    def _take(self) -> None:
        if self.open_button.isEnabled():
            self.chosen.emit(self.table.key())
            self.accept()

    def _ask(self) -> None:
        """The desktop’s own dialog: a folder that holds /etc and /usr of a machine."""
        if folder := QFileDialog.getExistingDirectory(self, spoken("The root folder of a machine"), "/"):
            self.chosen.emit(folder)
            self.accept()

    def done(self, result: int) -> None:
        self._process.finished.disconnect(self._heard)
        self._process.kill()
        super().done(result)
