"""The drawer of the Places lens: whose the path in hand is and by which proof, what lies in it, what to do."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QVBoxLayout

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.orders.places import why_protected
from swept_shelf.core.survey.places import Part, account_in_words, owner_name
from swept_shelf.core.survey.whose import Answer
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label
from swept_shelf.desk.parts.painted import elide
from swept_shelf.desk.theme import theme


class PlaceDrawer(QFrame):
    verdict_wanted = Signal(str)
    shown_wanted = Signal(str)
    told = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("drawer")
        self.setAccessibleName(spoken("Drawer"))
        self._line, self._path = "", ""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 10, 16, 8)
        outer.setSpacing(6)
        top = QHBoxLayout()
        top.setSpacing(12)
        self._name, self._facts = (
            label("Nothing in hand", "head"),
            Elided("", "small", second=True, middle=True),
        )
        self._name.setMaximumWidth(theme().px(260))
        self.order_button, self.show_button = button("Put on the order"), button("Show it")
        for b in (self.order_button, self.show_button):
            b.setMinimumHeight(theme().px(26))
        self.order_button.clicked.connect(lambda: self.verdict_wanted.emit(self._line))
        self.show_button.clicked.connect(lambda: self.shown_wanted.emit(self._line))
        top.addWidget(self._name)
        top.addWidget(self._facts, 1)
        self.its_button = button("")
        self.its_button.setMinimumHeight(theme().px(26))
        self.its_button.clicked.connect(lambda: self.told.emit(self._path))
        top.addWidget(self.its_button)
        top.addWidget(self.show_button)
        top.addWidget(self.order_button)
        outer.addLayout(top)
        grid = QGridLayout()
        grid.setHorizontalSpacing(24)
        grid.setVerticalSpacing(4)
        grid.addWidget(Elided("Whose it is", "bold"), 0, 0)
        self._head = Elided("Inside", "bold")
        grid.addWidget(self._head, 0, 1)
        self._whose, self._reason = label("", wrap=True), label("", "small", second=True, wrap=True)
        self._proofs = [Elided("", "small", second=True, middle=True) for _ in range(3)]
        self._inside = [Elided("") for _ in range(7)]
        left, right = QVBoxLayout(), QVBoxLayout()
        for column in (left, right):
            column.setSpacing(3)
        for widget in (self._whose, self._reason, *self._proofs):
            left.addWidget(widget)
        for inside in self._inside:
            right.addWidget(inside)
        left.addStretch(1)
        right.addStretch(1)
        grid.addLayout(left, 1, 0, Qt.AlignmentFlag.AlignTop)
        grid.addLayout(right, 1, 1, Qt.AlignmentFlag.AlignTop)
        grid.setColumnStretch(0, 62)
        grid.setColumnStretch(1, 38)
        outer.addLayout(grid)
        outer.addStretch(1)

    def show_answer(
        self,
        answer: Answer | None,
        inside: list[Part],
        survey: Survey | None,
        ordered: frozenset[str],
        in_hand: str = "",
    ) -> None:
        """`in_hand`: the application that the place can be said to belong to, by id."""
        shown = answer is not None and survey is not None
        self._line = (
            answer.owner if answer is not None and survey is not None and survey.find(answer.owner) else ""
        )
        self._name.setText(
            spoken(
                elide(printable(answer.path.rsplit("/", 1)[1] or "/"), "head", theme().px(250))
                if answer
                else "Nothing in hand"
            )
        )
        self.order_button.setVisible(bool(self._line))
        self.show_button.setVisible(bool(self._line))
        taker = survey.find(in_hand) if survey is not None else None
        self._path = answer.real if answer else ""
        self.its_button.setVisible(
            survey is not None
            and isinstance(taker, Application)
            and answer is not None
            and answer.whose in ("nobody", "person")
            and not why_protected(answer.real, survey)
        )
        if isinstance(taker, Application):
            self.its_button.setText(
                spoken(elide(printable(f"It is {taker.name}’s"), "body", theme().px(170)))
            )
            self.its_button.setAccessibleName(spoken(printable(f"This place belongs to {taker.name}")))
        if not shown or answer is None or survey is None:
            return
        on = self._line in ordered
        self.order_button.setText(spoken("Take off the order" if on else "Put on the order"))
        self.order_button.setAccessibleName(self.order_button.text())
        self.show_button.setAccessibleName(spoken(f"Show {printable(answer.name)}"))
        files = f" · {plural(answer.files, 'file')}" if answer.files > 1 else ""
        self._facts.set(f"{answer.real} · {human_bytes(answer.bytes)}{files}")
        name = {"nobody": "no application known"}.get(answer.whose, answer.name)
        self._whose.setText(spoken(printable(name)))
        self._reason.setText(
            spoken(printable(answer.reason + (f" ({answer.proof})" if answer.proof else "")))
        )
        proofs = [f"{p.proof}: {p.path}{f', line {p.line}' if p.line else ''}" for p in answer.evidence]
        proofs += [f"points at {owner_name(survey, p.owner)}: {p.detail}" for p in answer.points_at]
        for i, widget in enumerate(self._proofs):
            widget.set(proofs[i] if i < len(proofs) else "")
            widget.setVisible(i < len(proofs))
        account = account_in_words(survey, answer.real)
        self._head.set("What the volume says is used" if account else "Inside")
        room = int((self.height() - theme().px(62)) / (theme().metrics("body").height() + 3))
        for i, widget in enumerate(self._inside):
            widget.setVisible(i < max(3, room))
            words = f"{human_bytes(inside[i].bytes)} {inside[i].name}" if i < len(inside) else ""
            if account:
                words = account[i] if i < len(account) else ""
            widget.set(words or ("nothing below it" if i == 0 else ""))
