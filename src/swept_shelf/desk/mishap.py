"""What a person is told when something went wrong that nobody foresaw: a sentence, and the details to copy."""

from __future__ import annotations

import sys
from types import TracebackType

from PySide6.QtWidgets import QApplication, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.logbook import went_wrong


class Mishap(QDialog):
    """Says it once; what is shown stays as it is."""

    def __init__(self, sentence: str, details: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("mishap")
        self.setWindowTitle(spoken("Swept Shelf"))
        self.setAccessibleName(spoken("Something went wrong"))
        self._details = details
        body = QVBoxLayout(self)
        body.setContentsMargins(24, 24, 24, 24)
        body.setSpacing(16)
        body.addWidget(label("Something went wrong", "head"))
        words = label(
            f"{sentence[0].upper()}{sentence[1:]}. Nothing of the machine was changed by it.", wrap=True
        )
        words.setMinimumWidth(420)
        body.addWidget(words)
        row = QHBoxLayout()
        row.addStretch(1)
        self.copy_button, self.close_button = button("Copy details"), button("Go on", filled=True)
        self.copy_button.clicked.connect(self.copy)
        self.close_button.clicked.connect(self.accept)
        row.addWidget(self.copy_button)
        row.addWidget(self.close_button)
        body.addLayout(row)

    def copy(self) -> None:
        QApplication.clipboard().setText(self._details)
        self.copy_button.setText(spoken("Copied"))


def tell_of_mishaps(window: QWidget) -> None:
    """From now on an error on the desk's thread is written down and said, and the desk goes on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        sentence, details = went_wrong(error, "the desk")
        if not window.findChildren(Mishap):
            Mishap(sentence, details, window).open()

    sys.excepthook = hook
