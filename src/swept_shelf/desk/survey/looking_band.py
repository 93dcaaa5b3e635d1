"""The line above the lenses while a survey is taken: what is looked at, what is known by now, and how to stop it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QVBoxLayout, QWidget

from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.core.documents.times import clock
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button
from swept_shelf.desk.theme import theme

_KNOWN = {
    "": "What is registered is read first. Nothing on the computer is changed.",
    SoFar.REGISTERED: "Names are there, and the sizes that packages say they have. You can sort and decide already.",
    SoFar.SIZED: "Programs have their true sizes. What belongs to them and when they were used is still looked for.",
    SoFar.BELONGINGS: "Everything has its true size. When it was used is still looked for.",
}


class LookingBand(QWidget):
    stop_wanted = Signal()
    look_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 0, 0, 0)
        outer.setSpacing(6)
        row = QHBoxLayout()
        row.setSpacing(16)
        words = QVBoxLayout()
        words.setSpacing(0)
        self.head, self.known = Elided("", "head"), Elided("", "small", second=True)
        words.addWidget(self.head)
        words.addWidget(self.known)
        row.addLayout(words, 1)
        self.stop, self.again = button("Stop looking"), button("Survey this computer", filled=True)
        self.stop.clicked.connect(self.stop_wanted)
        self.again.clicked.connect(self.look_wanted)
        row.addWidget(self.stop)
        row.addWidget(self.again)
        outer.addLayout(row)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName(spoken("Progress of the survey"))
        self.bar.setFixedHeight(4)
        self.bar.setStyleSheet(
            f"QProgressBar {{ background: {theme().hex('free')}; border: none; }}"
            f"QProgressBar::chunk {{ background: {theme().hex('used')}; }}"
        )
        outer.addWidget(self.bar)

    def show_progress(self, progress: tuple[str, int, int] | None, survey: Survey | None) -> None:
        """`survey`: what stands below. With no progress: the survey was stopped before it was whole."""
        so_far = survey.so_far if survey else ""
        self.setVisible(progress is not None or bool(so_far))
        for widget in (self.stop, self.bar):
            widget.setVisible(progress is not None)
        self.again.setVisible(progress is None)
        if progress is None:
            self.head.set("Looking was stopped")
            self.known.set(
                "What stands below is not whole. Nothing of it can be carried out, and it is not kept."
            )
            return
        what, done, total = progress
        self.head.set(f"Looking: {what or 'starting'} · step {min(done + 1, total)} of {total}")
        if survey is not None and not so_far:
            self.known.set(
                f"Below stands the survey of {clock(survey.surveyed_at)} until the new one is whole. "
                "Nothing on the computer is changed."
            )
        else:
            self.known.set(_KNOWN[so_far])
        self.bar.setMaximum(total)
        self.bar.setValue(done)
