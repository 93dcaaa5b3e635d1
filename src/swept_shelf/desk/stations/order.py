"""The Order station: every operation in the order it will be done, and what must be settled first."""

from __future__ import annotations

import re

from PySide6.QtWidgets import QFileDialog, QHBoxLayout

from swept_shelf.core.carry.rehearse import Rehearsal
from swept_shelf.core.carry.room import ELSEWHERE
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.operations import KeepOriginal, Operation
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.documents.times import clock
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.fold import Fold
from swept_shelf.desk.parts.labels import button, label, rule
from swept_shelf.desk.parts.painted import elide_path
from swept_shelf.desk.parts.rows import Cell, Row, RowTable, WholeRows
from swept_shelf.desk.parts.volume_bar import VolumeBar
from swept_shelf.desk.session import Session
from swept_shelf.desk.stations.archive_file import ask_archive
from swept_shelf.desk.stations.operation_rows import is_folded, operation_rows
from swept_shelf.desk.stations.order_file import OrderFile
from swept_shelf.desk.stations.owner_sheet import OwnerSheet
from swept_shelf.desk.stations.questions import Questions
from swept_shelf.desk.stations.sheet import LEFT, Sheet
from swept_shelf.desk.survey.slip import line_note
from swept_shelf.desk.theme import theme

_COLUMNS = (
    ("What is done", False),
    ("Where", False),
    ("Bytes", True),
    ("Comes back", False),
    ("Rights", False),
)
_ELSEWHERE = "Keep the originals elsewhere…"
_NAME = 150  # pixels of a file on a button


class OrderStation(Sheet):
    def __init__(self, session: Session) -> None:
        super().__init__(session, "Order", "Settle first")
        self._questions = Questions(self)
        self._questions.answered.connect(self._answered)
        self.answer_next = self._questions.answer_next
        self.owner = OwnerSheet(session, self)
        self.file = OrderFile(session, self)
        self.left.addLayout(self.head)
        self._way_back = label("", "small", wrap=True)
        self._way_back.setContentsMargins(LEFT, 0, 0, 0)
        self.left.addWidget(self._way_back)
        self._in_full: Fold | None = None
        self.table = RowTable("Operations", _COLUMNS, (226, 0, 76, 106, 108), height=22, drop=(4, 3))
        self.left.addWidget(WholeRows(self.table), 1)
        self.table.opened.connect(self._turn)
        self._opened: set[str] = set()
        self._alone = label("", "small", second=True, wrap=True)
        self._alone.setContentsMargins(LEFT, 0, 0, 0)
        self.left.addWidget(self._alone)
        self.rehearse_button, self.carry_button = button("Rehearse"), button("Carry out", filled=True)
        self.rehearse_button.clicked.connect(session.ordering.rehearse)
        self.carry_button.clicked.connect(session.carrying.carry_out)
        buttons = QHBoxLayout()
        buttons.setSpacing(12)
        buttons.addWidget(self.rehearse_button, 2)
        buttons.addWidget(self.carry_button, 3)
        self.archive_button = button("Archive what goes first…")
        self.archive_button.clicked.connect(self._archive_first)
        self.originals_button = button(_ELSEWHERE)
        self.originals_button.clicked.connect(self._originals_elsewhere)
        self.side.foot.addWidget(self.originals_button)
        self.side.foot.addWidget(self.archive_button)
        self.side.foot.addLayout(buttons)
        session.rehearsed.connect(self._show)
        session.order_changed.connect(self._show)
        self._show()

    def _show(self) -> None:
        s, order = self._session, self._session.ordering.order
        rehearsal = s.ordering.rehearsal
        self._head.setText(spoken(f"Order {order.id}" if order else "No order"))
        operations = rehearsal.plan.operations if rehearsal else []
        known = (
            f"{plural(len(order.lines), 'line')}" if order else "Put an application on the order in Survey."
        )
        count = (
            f" · {plural(len(operations), 'operation')}, in the order they will be done" if rehearsal else ""
        )
        self._sub.set(
            known
            + count
            + (f" · drawn from the survey of {clock(s.survey.surveyed_at)}" if order and s.survey else "")
        )
        self._say_way_back()
        self.table.setVisible(order is not None)
        if not rehearsal:
            self._opened.clear()
        self._show_operations()
        left = rehearsal.plan.left_alone if rehearsal else []
        said = [f"{x.path.rsplit('/', 1)[1]}, {spoken(x.why)}" for x in left[:6]]
        said += [spoken(f"{len(left) - 6} more")] if len(left) > 6 else []
        self._alone.setText(f"{spoken('Left alone on purpose:')} {' · '.join(said)}" if left else "")
        self._alone.setToolTip("\n".join(f"{x.path}: {spoken(x.why)}" for x in left))
        self._alone.setVisible(bool(left))
        self._show_side(order)

    def _turn(self, key: str) -> None:
        if is_folded(key):
            self._opened ^= {key}
            self._show_operations()

    def _show_operations(self) -> None:
        order, r = self._session.ordering.order, self._session.ordering.rehearsal
        self.table.show_rows(self._rows(order, r.plan.operations if r else []) if order else [])

    def _fold(self, problem: str) -> None:
        """The whole of a long refusal, behind a line that opens."""
        if self._in_full is not None:
            self.left.removeWidget(self._in_full)
            self._in_full.deleteLater()
            self._in_full = None
        if len(problem) > len(first_sentence(problem)):
            self._in_full = Fold("In full", [problem], wrap=True)
            self._in_full.setContentsMargins(LEFT, 0, 0, 0)
            self.left.insertWidget(self.left.indexOf(self._way_back) + 1, self._in_full)

    def _say_way_back(self) -> None:
        s, r = self._session, self._session.ordering.rehearsal
        problem = (
            s.ordering.problem
            or (r.refused if r else "")
            or (_problem(r, s.ordering.order) if r and s.ordering.order else "")
        )
        if r and r.lacking and not problem:
            problem = f"{r.lacking_in_words[0].upper()}{r.lacking_in_words[1:]}."
        self._show_originals(ELSEWHERE in problem)
        self._fold(problem)
        if problem:
            self._way_back.setText(spoken(first_sentence(problem)))
        elif r is not None:
            kept = sum(isinstance(o, KeepOriginal) for o in r.plan.operations)
            words = "A way back exists for every line."
            if kept and r.registry:
                words += (
                    f" Originals of {plural(kept, 'package')} are kept, at most {human_bytes(r.originals)}, before anything goes."
                    f" The package tool was asked: it would remove the same {len(r.registry)}."
                )
            self._way_back.setText(spoken(" ".join([words, *(f"{n[0].upper()}{n[1:]}." for n in r.notes)])))
        else:
            self._way_back.setText(
                spoken(
                    ""
                    if not s.ordering.order
                    else "Asking the registry, the rights and the room for every line …"
                    if s.ordering.rehearsing
                    else "Not rehearsed yet: a rehearsal lists every operation and changes nothing."
                )
            )
        self._way_back.setProperty("loud", bool(problem))
        self._way_back.style().polish(self._way_back)
        self._way_back.setVisible(bool(self._way_back.text()))

    def _answered(self, ids: list[str], answer: str) -> None:
        if ids:
            self._session.ordering.answer(ids, answer)
        else:
            self._show_side(self._session.ordering.order)

    def _rows(self, order: Order, operations: list[Operation]) -> list[Row]:
        rows: list[Row] = []
        number = 0
        people = {p.name: p.home for p in self._session.survey.people} if self._session.survey else {}
        for line in order.lines:
            mine = [op for op in operations if op.line == line.id]
            note = line_note(line, order, self._session.survey) + (
                f" · {plural(len(mine), 'operation')}" if mine else ""
            )
            size = human_bytes(line.comes_back) if line.comes_back else ""
            rows.append(
                Row(
                    line.id,
                    (
                        Cell(line.name, font="bold"),
                        Cell(note, font="small", color="ink2"),
                        Cell(size, font="bold", right=True),
                    ),
                    heading=True,
                )
            )
            rows += operation_rows(number + 1, mine, self._opened, people)
            number += len(mine)
        return rows

    def _show_side(self, order: Order | None) -> None:
        s, body = self._session, self.side.clear()
        settle = order.settle if order else []
        left = order.unsettled if order else []
        body.addWidget(label("Settle first", "head"))
        words = (
            f"{len(settle) - len(left)} of {len(settle)} settled"
            if settle
            else "Nothing has to be settled."
            if order
            else "There is no order."
        )
        body.addWidget(label(words, "small", second=True, wrap=True))
        self.owner.show(body)
        self._questions.show(body, settle)
        self.file.show(body)
        body.addStretch(1)
        if order:
            body = self.side.stand_still()
            thick = rule()
            thick.setFixedHeight(2)
            thick.setStyleSheet(f"background: {theme().hex('ink')};")
            body.addWidget(thick)
            for words, count, font in (
                ("Comes back now", sum(c.now for c in order.comes_back), "bold"),
                ("when the shelf is emptied", sum(c.when_emptied for c in order.comes_back), "body"),
            ):
                row = QHBoxLayout()
                row.addWidget(label(words, font, wrap=True), 1)
                figure = label(human_bytes(count), font)
                figure.setToolTip(spoken(f"{grouped(count)} bytes"))
                row.addWidget(figure)
                body.addLayout(row)
            if s.survey:
                back = {c.volume: c.now + c.when_emptied + c.when_ended for c in order.comes_back}
                for v in s.survey.volumes:
                    body.addWidget(VolumeBar(v.mount, v.capacity, v.free, back.get(v.id, 0)))
            kept_here = not s.carrying.originals_in
            if kept_here and s.ordering.rehearsal and s.ordering.rehearsal.originals:
                body.addWidget(
                    label(
                        f"Until then the originals hold up to {human_bytes(s.ordering.rehearsal.originals)} of it.",
                        "small",
                        second=True,
                        wrap=True,
                    )
                )
        work = [line for line in order.lines if line.verdict != Verdict.KEEP] if order else []
        ready = (
            bool(work)
            and not left
            and s.ordering.rehearsal is not None
            and not s.ordering.rehearsal.problems
            and not s.ordering.rehearsal.lacking
            and not s.ordering.rehearsal.refused
        )
        self._show_archive(bool(work))
        self.carry_button.setText(spoken(f"{len(left)} to settle" if left else "Carry out"))
        self.carry_button.setAccessibleName(self.carry_button.text())
        self.carry_button.setEnabled(ready and not s.busy)
        self.rehearse_button.setEnabled(order is not None and not s.ordering.rehearsing)

    def _show_archive(self, any_work: bool) -> None:
        file = self._session.carrying.archive_to
        self.archive_button.setVisible(any_work)
        said = (
            f"Archived: {elide_path(printable(base(file)), 'bold', theme().px(_NAME))}"
            if file
            else "Archive what goes first…"
        )
        self.archive_button.setText(spoken(said))
        self.archive_button.setAccessibleName(self.archive_button.text())
        tip = (
            f"{printable(file)}: do not archive it"
            if file
            else "On another medium, as one open file, before the shelf is emptied"
        )
        self.archive_button.setToolTip(spoken(tip))

    def _show_originals(self, lacks_room: bool) -> None:
        """Where a volume has no room for originals, or they are kept elsewhere already."""
        folder = self._session.carrying.originals_in
        self.originals_button.setVisible(bool(folder) or lacks_room)
        said = (
            f"Originals: {elide_path(printable(folder), 'bold', theme().px(_NAME))}" if folder else _ELSEWHERE
        )
        self.originals_button.setText(spoken(said))
        self.originals_button.setAccessibleName(self.originals_button.text())
        tip = f"{printable(folder)}: keep them on the holding shelf" if folder else ""
        self.originals_button.setToolTip(spoken(tip))

    def _originals_elsewhere(self) -> None:
        """In which folder, or on the shelf after all."""
        carrying = self._session.carrying
        if carrying.originals_in:
            carrying.keep_originals_in("")
        elif folder := QFileDialog.getExistingDirectory(self, spoken("Keep originals of packages in"), "/"):
            carrying.keep_originals_in(folder)

    def _archive_first(self) -> None:
        """Where to, or no archive after all."""
        s = self._session
        if s.carrying.archive_to:
            s.carrying.archive_first("")
            return
        if path := ask_archive(self, "Archive what goes", s.visit.number if s.visit else 0):
            s.carrying.archive_first(path)


def _problem(rehearsal: Rehearsal, order: Order) -> str:
    """Which lines could not be carried out, and why the first of them."""
    if not rehearsal.problems:
        return ""
    names = [line.name for line in order.lines if line.id in rehearsal.problems]
    more = f" {plural(len(names) - 1, 'other line')} likewise." if len(names) > 1 else ""
    return f"{names[0]} cannot be carried out: {next(iter(rehearsal.problems.values()))}.{more}"


def first_sentence(text: str, most: int = 200) -> str:
    """As much of a long text as stands to its first end of a clause; whole where it is short."""
    if len(text) <= most:
        return text
    ends = [m.start() for m in re.finditer(r"[.;:] ", text[:most])]
    return f"{text[: ends[-1] if ends else most].rstrip('.;: ')}."
