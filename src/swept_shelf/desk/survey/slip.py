"""The order slip: always in sight while surveying, because people decide while they look."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from swept_shelf.core.documents.order import Order, OrderLine
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.desk.parts.labels import Elided, Side, button, label, rule
from swept_shelf.desk.parts.volume_bar import VolumeBar
from swept_shelf.desk.stations.questions import titles
from swept_shelf.desk.survey.list_columns import VERDICT_WORDS
from swept_shelf.desk.theme import theme


class SlipLine(QPushButton):
    """A line of the slip: Enter takes it in hand, Delete takes it off."""

    taken_off = Signal()

    def __init__(self, line: OrderLine, note: str) -> None:
        super().__init__()
        self.setProperty("plain", True)
        self.setAccessibleName(f"{line.name}, {note}, {human_bytes(line.comes_back)}. Delete takes it off.")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 2, 0, 3)
        outer.setSpacing(0)
        top = QHBoxLayout()
        top.addWidget(Elided(line.name, "bold"), 1)
        top.addWidget(label(human_bytes(line.comes_back)))
        outer.addLayout(top)
        outer.addWidget(Elided(note, "small", second=True))
        self.setMinimumHeight(outer.sizeHint().height())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.taken_off.emit()
        else:
            super().keyPressEvent(event)


class Slip(Side):
    line_chosen = Signal(str)
    line_taken_off = Signal(str)
    rehearse_wanted = Signal()
    carry_wanted = Signal()

    def __init__(self) -> None:
        super().__init__("Order slip")
        self._rehearse, self._carry = button("Rehearse"), button("Carry out…", filled=True)
        self._rehearse.clicked.connect(self.rehearse_wanted)
        self._carry.clicked.connect(self.carry_wanted)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self._rehearse, 2)
        row.addWidget(self._carry, 3)
        self.foot.addLayout(row)

    def show_order(self, order: Order | None, survey: Survey | None) -> None:
        body = self.clear()
        self._rehearse.setEnabled(order is not None)
        self._carry.setEnabled(order is not None)
        body.addWidget(label(f"Order {order.id}" if order else "Order", "head"))
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
            made = SlipLine(line, line_note(line, order, survey))
            made.clicked.connect(lambda _=False, i=line.id: self.line_chosen.emit(i))
            made.taken_off.connect(lambda i=line.id: self.line_taken_off.emit(i))
            body.addWidget(made)
            body.addWidget(rule(dotted=True))
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
        figure.setToolTip(f"{order.total} bytes")
        row.addWidget(figure)
        body.addLayout(row)
        _volumes(body, survey, order)
        _settle(body, order)


def line_note(line: OrderLine, order: Order, survey: Survey | None) -> str:
    """What is done, what stays, and a doubt: who removes what is barely known to be unused should ask first."""
    stays = next((s for s in order.settle if s.line == line.id and s.question == "personal"), None)
    words = VERDICT_WORDS[line.verdict]
    if line.verdict == Verdict.KEEP:
        words = "left out"
    if stays is not None and stays.answer == "they_stay":
        words += " · personal content stays"
    entry = survey.find(line.id) if survey else None
    if (
        line.verdict == Verdict.REMOVE
        and isinstance(entry, Application)
        and entry.last_use.certainty == "barely"
    ):
        words += " · last used is barely known: ask"
    return words


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
