"""What is settled before an order is carried out: each question with its evidence and its answers, many of one kind together."""

from __future__ import annotations

from collections import defaultdict

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.order import Settle
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.times import clock
from swept_shelf.core.orders.settle import ANSWER_WORDS
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, rule
from swept_shelf.desk.theme import theme

_TOGETHER = 4  # so many of one kind are one block
_SHOWN = 3
_KINDS = {
    "personal": ("Personal content inside {}", "application"),
    "running": ("{} running now", "application"),
    "protected": ("{} protected", "application"),
    "needed_by": ("{} needed by others", "application"),
    "pointed_at": ("Somebody’s own places point at {}", "application"),
    "registry": ("{} registered elsewhere", "application"),
    "scripts": ("{} may not go their own way", "application"),
    "owner": ("{} for the owner to decide", "application"),
}


def titles(body: QVBoxLayout, settle: list[Settle]) -> None:
    """The first questions by their titles, the rest by their number."""
    for q in settle[:_SHOWN]:
        line = Elided(q.title, "small")
        line.setToolTip(spoken(f"{q.title}\n{q.evidence}"))
        body.addWidget(line)
    if len(settle) > _SHOWN:
        body.addWidget(label(f"and {len(settle) - _SHOWN} more", "small", second=True))


MOST_ANSWERS = 4  # that have a key


class Questions(QObject):
    """`answered`: the ids of questions, and the answer they all get ("": ask again)."""

    answered = Signal(list, str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._one_by_one: set[str] = set()
        self._next: list[QPushButton] = []  # the answers of the first question that has none

    def answer_next(self, number: int) -> None:
        """Give the first question that is open the answer of that number, from 1."""
        if 0 < number <= len(self._next):
            self._next[number - 1].click()

    def show(self, body: QVBoxLayout, settle: list[Settle]) -> None:
        self._next = []
        groups = defaultdict[str, list[Settle]](list)
        for q in settle:
            groups[q.question].append(q)
        for kind, members in groups.items():
            if len(members) >= _TOGETHER and kind not in self._one_by_one:
                body.addWidget(rule(dotted=True))
                self._group(body, kind, members)
                continue
            for q in members:
                body.addWidget(rule(dotted=True))
                self._question(body, q)

    def _group(self, body: QVBoxLayout, kind: str, members: list[Settle]) -> None:
        words, thing = _KINDS.get(kind, ("{} to settle", "question"))
        title = words.format(plural(len(members), thing))
        body.addWidget(label(title, "bold", wrap=True))
        titles(body, members)
        left = [q for q in members if not q.answer]
        if len(left) < len(members):
            body.addWidget(
                label(f"{len(members) - len(left)} of {len(members)} settled", "small", second=True)
            )
        open_ = button("One by one", plain=True, name=f"One by one: {title}")
        open_.clicked.connect(lambda: self._open(kind))
        if left:
            common = [a for a in left[0].answers if all(a in q.answers for q in left)]
            words_ = {a: ANSWER_WORDS[a] for a in common}
            self._answers(body, words_, title, [q.id for q in left], "for all")
        else:
            answers = {ANSWER_WORDS[q.answer] for q in members}
            body.addWidget(label(", ".join(sorted(answers)), "bold", wrap=True))
            self._change(body, title, [q.id for q in members])
        row = QHBoxLayout()
        row.addWidget(open_)
        row.addStretch(1)
        body.addLayout(row)

    def _open(self, kind: str) -> None:
        self._one_by_one.add(kind)
        self.answered.emit([], "")

    def _question(self, body: QVBoxLayout, q: Settle) -> None:
        body.addWidget(label(q.title, "bold", wrap=True))
        body.addWidget(label(q.evidence, "small", second=True, wrap=True))
        if q.answer:
            when = f" · settled {clock(q.answered_at)}" if q.answered_at else ""
            when += f", {printable(q.answered_by)}" if q.answered_by else ""
            body.addWidget(label(f"{ANSWER_WORDS[q.answer]}{when}", "bold", wrap=True))
            self._change(body, q.title, [q.id])
            return
        self._answers(body, {a: ANSWER_WORDS[a] for a in q.answers}, q.title, [q.id])

    def _change(self, body: QVBoxLayout, title: str, ids: list[str]) -> None:
        change = button("Change", name=f"Change the answer: {title}")
        change.setMinimumHeight(theme().px(26))
        change.clicked.connect(lambda: self.answered.emit(ids, ""))
        row = QHBoxLayout()
        row.addWidget(change)
        row.addStretch(1)
        body.addLayout(row)

    def _answers(
        self, body: QVBoxLayout, answers: dict[str, str], title: str, ids: list[str], more: str = ""
    ) -> None:
        row, room, first = QHBoxLayout(), 0, not self._next
        for answer, words in answers.items():
            made = button(words, name=f"{words}{f' {more}' if more else ''}: {title}")
            made.setMinimumHeight(theme().px(26))
            made.clicked.connect(lambda _=False, a=answer: self.answered.emit(ids, a))
            wide = made.sizeHint().width() + 6
            if room + wide > theme().slip_width - 40 and room:
                row.addStretch(1)
                body.addLayout(row)
                row, room = QHBoxLayout(), 0
            row.addWidget(made)
            room += wide
            if first:
                self._next.append(made)
        row.addStretch(1)
        body.addLayout(row)
        if first and len(answers) <= MOST_ANSWERS:
            body.addWidget(label(f"keys 1 to {len(answers)} answer it", "small", second=True))
