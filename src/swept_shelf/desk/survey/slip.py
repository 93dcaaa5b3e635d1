"""The order slip: always in sight while surveying, because people decide while they look."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.order import Order, OrderLine
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.terms import PARTS, Verdict
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.dragging import lines_in
from swept_shelf.desk.parts.labels import Elided, Side, button, label, rule
from swept_shelf.desk.parts.volume_bar import VolumeBar
from swept_shelf.desk.stations.questions import titles
from swept_shelf.desk.survey.list_columns import VERDICT_WORDS
from swept_shelf.desk.theme import theme

_MOVES = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}


class SlipLine(QPushButton):
    """A line of the slip: Enter takes it in hand, Delete takes it off, Alt and an arrow move it, N notes."""

    taken_off = Signal()
    moved = Signal(int)
    note_wanted = Signal()

    def __init__(self, name: str, size: str, note: str) -> None:
        super().__init__()
        self.setProperty("plain", True)
        self.setAccessibleName(spoken(f"{name}, {note}, {size}. Delete takes it off."))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 2, 0, 3)
        outer.setSpacing(0)
        top = QHBoxLayout()
        top.setSpacing(12)
        top.addWidget(Elided(name, "bold"), 1)
        top.addWidget(label(size))
        outer.addLayout(top)
        outer.addWidget(Elided(note, "small", second=True))
        self.setMinimumHeight(outer.sizeHint().height())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.taken_off.emit()
        elif event.key() in _MOVES and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.moved.emit(_MOVES[Qt.Key(event.key())])
        elif event.key() == Qt.Key.Key_N and not event.modifiers():
            self.note_wanted.emit()
        else:
            super().keyPressEvent(event)


class Slip(Side):
    line_chosen = Signal(str)
    line_taken_off = Signal(str)
    lines_dropped = Signal(list)
    line_moved = Signal(str, int)
    note_wanted = Signal(str)
    rehearse_wanted = Signal()
    carry_wanted = Signal()

    def __init__(self) -> None:
        super().__init__("Order slip")
        self.setAcceptDrops(True)
        self._follow = ""
        self._rehearse, self._carry = button("Rehearse"), button("Carry out…", filled=True)
        self._rehearse.clicked.connect(self.rehearse_wanted)
        self._carry.clicked.connect(self.carry_wanted)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._rehearse, 2)
        row.addWidget(self._carry, 3)
        self.foot.addLayout(row)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if lines_in(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.lines_dropped.emit(lines_in(event.mimeData()))
        event.acceptProposedAction()

    def show_order(
        self, order: Order | None, survey: Survey | None, verdicts: Mapping[str, str] | None = None
    ) -> None:
        """`verdicts`: what was decided before the survey is whole and an order can be drawn."""
        body = self.clear()
        self._rehearse.setEnabled(order is not None)
        self._carry.setEnabled(order is not None)
        body.addWidget(label(f"Order {order.id}" if order else "Order", "head"))
        if survey is not None and survey.so_far and verdicts:
            self._show_decided(survey, verdicts)
            return
        if order is None or survey is None:
            hint = (
                "Nothing is on it yet. Space or a double click puts what is in hand on the order."
                if survey
                else "Survey this computer first."
            )
            body.addWidget(label(hint, "small", second=True, wrap=True))
            body.addStretch(1)
            if survey:
                _volumes(self.stand_still(), survey, None)
            return
        for line in order.lines:
            size, note = human_bytes(line.comes_back), line_note(line, order, survey)
            self._add_line(body, line.id, line.name, size, note, _where(line, survey))
        body.addStretch(1)
        body = self.stand_still()
        extra = len(order.packages) - sum(1 for line in order.lines if line.packages)
        if extra > 0:
            body.addWidget(
                label(
                    f"{plural(extra, 'more package')} that nothing else needs",
                    "small",
                    second=True,
                    wrap=True,
                )
            )
        thick = rule()
        thick.setFixedHeight(2)
        thick.setStyleSheet(f"background: {theme().hex('ink')};")
        body.addWidget(thick)
        row = QHBoxLayout()
        row.addWidget(label("Comes back", "head"), 1)
        figure = label(human_bytes(order.total), "figure", loud=True)
        figure.setToolTip(spoken(f"{order.total} bytes"))
        row.addWidget(figure)
        body.addLayout(row)
        _volumes(body, survey, order)
        _settle(body, order)

    def show_past(self, why: str, order: Order | None, survey: Survey | None) -> None:
        """The order of an earlier visit, as it was carried out."""
        body = self.clear()
        self._rehearse.setEnabled(False)
        self._carry.setEnabled(False)
        body.addWidget(label(f"Order {order.id}" if order else "No order", "head"))
        body.addWidget(label(f"{why}.", "small", second=True, wrap=True))
        for line in order.lines if order else ():
            note = line_note(line, order, survey) if order else ""
            self._add_line(body, line.id, line.name, human_bytes(line.comes_back), note)
        body.addStretch(1)
        if survey is not None:
            _volumes(self.stand_still(), survey, None)

    def follow(self, line: str) -> None:
        """The keyboard goes along when this line has moved."""
        self._follow = line

    def _add_line(self, body: QVBoxLayout, id: str, name: str, size: str, note: str, tip: str = "") -> None:
        made = SlipLine(name, size, note)
        made.clicked.connect(lambda: self.line_chosen.emit(id))
        made.taken_off.connect(lambda: self.line_taken_off.emit(id))
        made.moved.connect(lambda by: self.line_moved.emit(id, by))
        made.note_wanted.connect(lambda: self.note_wanted.emit(id))
        made.setToolTip(spoken(printable(tip)))
        if id == self._follow:
            self._follow = ""
            QTimer.singleShot(0, made, made.setFocus)  # once it stands there
        body.addWidget(made)
        body.addWidget(rule(dotted=True))

    def _show_decided(self, survey: Survey, verdicts: Mapping[str, str]) -> None:
        body = self.clear()
        body.addWidget(label("Decided so far", "head"))
        for id, verdict in verdicts.items():
            if (entry := survey.find(id)) is not None:
                size = human_bytes(entry.bytes.total)
                self._add_line(body, id, entry.name, size, VERDICT_WORDS[verdict])
        body.addStretch(1)
        why = "When the survey is whole the order is drawn from this: what goes along, what comes back, what must be asked first."
        body = self.stand_still()
        body.addWidget(label(why, "small", second=True, wrap=True))
        _volumes(body, survey, None)


def line_note(line: OrderLine, order: Order, survey: Survey | None) -> str:
    """What is done, what stays, and a doubt: who removes what is barely known to be unused should ask first."""
    stays = next((s for s in order.settle if s.line == line.id and s.question == "personal"), None)
    words = VERDICT_WORDS[line.verdict]
    if line.verdict == Verdict.KEEP:
        words = "left out"
    if stays is not None and stays.answer == "they_stay":
        words += " · personal content stays"
    entry = survey.find(line.id) if survey else None
    if line.verdict == Verdict.REMOVE and isinstance(entry, Application) and entry.type in PARTS:
        words += " · all that use it go" if entry.needed_by else ""
    elif (
        line.verdict == Verdict.REMOVE
        and isinstance(entry, Application)
        and entry.last_use.certainty == "barely"
    ):
        words += " · last used is barely known: ask"
    return f"{words} · {line.note}" if line.note else words


def _where(line: OrderLine, survey: Survey) -> str:
    """What it frees on each volume, and the note in full."""
    mounts = {v.id: v.mount for v in survey.volumes}
    parts = [f"{human_bytes(n)} on {mounts.get(v, v)}" for v, n in line.comes_back_on.items() if n]
    return "\n".join(x for x in (" · ".join(parts), line.note) if x)


def _volumes(body: QVBoxLayout, survey: Survey, order: Order | None) -> None:
    back = {c.volume: c.now + c.when_emptied + c.when_ended for c in order.comes_back} if order else {}
    for v in survey.volumes:
        body.addWidget(VolumeBar(v.mount, v.capacity, v.free, back.get(v.id, 0)))


def _settle(body: QVBoxLayout, order: Order) -> None:
    if not order.settle:
        return
    left = order.unsettled
    head = f"{plural(len(left), 'thing')} to settle first" if left else "Everything is settled"
    body.addSpacing(6)
    body.addWidget(label(head, "bold", wrap=True))
    titles(body, left)
