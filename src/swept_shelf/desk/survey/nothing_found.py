"""What the survey shows when nothing is called by the words in the find field: what was searched, and what can be done."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label


class NothingFound(QWidget):
    """`trace_wanted`: look for the words everywhere; `clear_wanted`: take them out of the field."""

    trace_wanted = Signal()
    clear_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(spoken("Nothing found"))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 24, 24, 0)
        outer.setSpacing(8)
        self.head = Elided("", "title")
        self.said = label("", second=True, wrap=True)
        self.trace, self.clear = (
            button("Look everywhere for it", filled=True),
            button("Show everything again"),
        )
        self.trace.clicked.connect(self.trace_wanted)
        self.clear.clicked.connect(self.clear_wanted)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.trace)
        row.addWidget(self.clear)
        row.addStretch(1)
        outer.addWidget(self.head)
        outer.addWidget(self.said)
        outer.addSpacing(4)
        outer.addLayout(row)
        outer.addStretch(1)

    def show_words(self, words: str, survey: Survey) -> None:
        """`words`: as they stand in the field."""
        condition = "=" in words
        self.head.set(f"Nothing here holds for {words}" if condition else f"Nothing here is called “{words}”")
        searched = plural(len(survey.applications), "application") + " and what is left behind of others"
        self.said.setText(
            spoken(
                f"Asked of {searched}."
                if condition
                else f"Searched: names, packages, commands, paths and people of {searched}."
            )
        )
        self.trace.setVisible(not condition)
