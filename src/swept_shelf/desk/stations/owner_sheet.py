"""The owner's questions leave as a sheet, and come back answered."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.reports import read_sheet
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.session import Session
from swept_shelf.desk.theme import theme
from swept_shelf.handed_in import read_handed_in
from swept_shelf.written import write_questions

_KINDS = (("To be printed", ".html"), ("To be printed", ".pdf"), ("To come back answered", ".md"))
_SHEET = "sheet of answers"


class OwnerSheet:
    """Two buttons, where an order asks the owner anything."""

    def __init__(self, session: Session, above: QWidget) -> None:
        self._session, self._above = session, above

    def show(self, body: QVBoxLayout) -> None:
        order = self._session.ordering.order
        asked = [q for q in order.settle if q.question == "owner"] if order else []
        if not asked:
            return
        left = sum(not q.answer for q in asked)
        words = f"{plural(left, 'question')} for the owner" if left else "The owner has answered everything"
        body.addWidget(label(words, "bold", wrap=True))
        row = QHBoxLayout()
        sheet, answers = (
            button("Question sheet…"),
            button("Answers…", name="Answers of the owner, from a sheet…"),
        )
        for made, act in ((sheet, self._write), (answers, self._read)):
            made.setMinimumHeight(theme().px(26))
            made.clicked.connect(act)
            row.addWidget(made)
        row.addStretch(1)
        body.addLayout(row)

    def _write(self) -> None:
        s = self._session
        start = str(Path.home() / f"questions-{s.ordering.order.id if s.ordering.order else ''}.html")
        path, _ = QFileDialog.getSaveFileName(
            self._above,
            spoken("Write the question sheet"),
            start,
            ";;".join(f"{n} (*{e})" for n, e in _KINDS),
        )
        if path:
            self.write(path if path.endswith(tuple(e for _, e in _KINDS)) else path + ".html")

    def write(self, path: str) -> None:
        s = self._session
        order, survey = s.ordering.order, s.survey
        if order is None or survey is None:
            return
        now = s.shop.machine.now()

        def write() -> None:
            write_questions(order, survey, Path(path), now, s.shop.proof.technician().words)

        def written(_: object) -> None:
            s.said.emit(f"The question sheet is {path}.")

        if path.endswith(".pdf"):  # drawn by what only the desk's own thread may use
            try:
                write()
                written(None)
            except SweptShelfError as error:
                s.said.emit(str(error))
            return
        s.behind.do("sheet", write, written, s.said.emit)

    def _read(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self._above,
            spoken("The sheet that came back"),
            str(Path.home()),
            "Answered sheets (*.md *.txt);;All files (*)",
        )
        if path:
            self.read(path)

    def read(self, path: str) -> None:
        s = self._session
        s.behind.do(
            "answers",
            lambda: read_sheet(read_handed_in(path, _SHEET), path),
            s.ordering.take_answers,
            s.said.emit,
        )
