"""Ordering: what the technician chose, the order drawn from it at every tick, and its rehearsal."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from swept_shelf.core.carry.rehearse import Rehearsal
from swept_shelf.core.documents.answers import Answers
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.orders import Choice
from swept_shelf.core.orders.again import Again
from swept_shelf.core.orders.answers import with_answers
from swept_shelf.core.orders.moving import large, movable, why_not_to

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class Ordering:
    """`problem`: why the order could not be rehearsed, or not be carried out; `name`: what the ledger calls the next order;
    `differs`: in what it is not what the file says that it came from."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.choice = Choice()
        self.order: Order | None = None
        self.rehearsal: Rehearsal | None = None
        self.problem = self.name = ""
        self.differs: list[str] = []
        self._before: list[Choice] = []
        self._after: list[Choice] = []

    # -- undo and redo --------------------------------------------------------------------------------------

    def _decide(self, choice: Choice) -> None:
        """Every decision goes this way, so that it can be undone."""
        if self._session.past:
            self._session.said.emit(f"{self._session.past}.")
            return
        if choice != self.choice or list(choice.verdicts) != list(self.choice.verdicts):
            self._before.append(self.choice)
            self._after = []
        self.choice = choice
        self.draw()

    @property
    def can_undo(self) -> bool:
        return bool(self._before)

    @property
    def can_redo(self) -> bool:
        return bool(self._after)

    def undo(self) -> None:
        self._go_to(self._before, self._after, "Undone")

    def redo(self) -> None:
        self._go_to(self._after, self._before, "Done again")

    def _go_to(self, there: list[Choice], here: list[Choice], word: str) -> None:
        if not there:
            return
        rehearsed, old = self.rehearsal is not None or self.rehearsing, self.choice
        here.append(old)
        self.choice = there.pop()
        self.draw()
        if rehearsed:
            self.rehearse()
        self._session.said.emit(f"{word}: {self._what_changed(old, self.choice)}.")

    def _what_changed(self, old: Choice, new: Choice) -> str:
        """In words, what stands differently in two choices."""
        survey = self._session.looking.in_view
        lines = [k for k in {**old.verdicts, **new.verdicts} if old.verdicts.get(k) != new.verdicts.get(k)]
        names = [e.name if survey and (e := survey.find(k)) else k for k in lines]
        if names:
            return f"{', '.join(names[:3])}{f' and {len(names) - 3} more' if len(names) > 3 else ''}"
        if old.notes != new.notes:
            return "a note"
        if list(old.verdicts) != list(new.verdicts):
            return "the order of the lines"
        return "a tick" if old.answers == new.answers else "an answer"

    # -- decisions ------------------------------------------------------------------------------------------

    def set_verdict(self, line: str, verdict: str) -> None:
        """Put a line on the order, change its verdict, or take it off ("")."""
        self._choose(self._decided([line], verdict, on=bool(verdict) and self.verdict(line) != verdict))

    def set_verdicts(self, lines: list[str], verdict: str) -> None:
        """The same verdict for several lines; when all have it already, take them all off."""
        self._choose(self._decided(lines, verdict, on=any(self.verdict(line) != verdict for line in lines)))

    def _decided(self, lines: list[str], verdict: str, on: bool) -> dict[str, str]:
        """The verdicts with this one for these lines, or without any; what others take along is kept then."""
        verdicts = dict(self.choice.verdicts)
        for line in lines:
            if on:
                verdicts[line] = verdict
            elif line in verdicts:
                del verdicts[line]
            elif self.verdict(line):
                verdicts[line] = Verdict.KEEP
        return verdicts

    def move_data(self, lines: list[str], to: str) -> None:
        """What these keep goes into a folder of another volume. What cannot go there is said, and nothing is decided."""
        survey = self._session.survey
        entries = [e for line in lines if survey is not None and (e := survey.find(line))]
        paths = [b.path for e in entries for b in movable(e) if large(b)]
        why = why_not_to(to, paths, survey.volumes) if survey is not None and paths else "takes nothing of it"
        if why:
            self._session.said.emit(f"{to} {why}")
            return
        verdicts = {**self.choice.verdicts, **dict.fromkeys(lines, Verdict.MOVE_DATA.value)}
        self._decide(
            replace(self.choice, verdicts=verdicts, to={**self.choice.to, **dict.fromkeys(lines, to)})
        )

    def add(self, lines: list[str]) -> None:
        """What was dropped on the slip goes; what has a verdict already keeps it."""
        survey = self._session.looking.in_view
        new = {k: Verdict.REMOVE.value for k in lines if survey is not None and survey.find(k) is not None}
        self._choose({**new, **self.choice.verdicts})

    def _choose(self, verdicts: dict[str, str]) -> None:
        self._decide(replace(self.choice, verdicts=verdicts))

    def set_note(self, line: str, note: str) -> None:
        """ "" takes it away."""
        notes = {k: v for k, v in self.choice.notes.items() if k != line}
        self._decide(replace(self.choice, notes=notes | ({line: note} if note else {})))

    def move(self, line: str, by: int) -> None:
        """A line of the order goes up (-1) or down; whoever needs another still goes before it."""
        lines = list(self.choice.verdicts)
        here = lines.index(line) if line in lines else -1
        there = here + by
        if here >= 0 and 0 <= there < len(lines):
            lines[here], lines[there] = lines[there], lines[here]
            self._decide(replace(self.choice, verdicts={k: self.choice.verdicts[k] for k in lines}))

    def verdict(self, line: str) -> str:
        return self.verdicts.get(line, "")

    @property
    def verdicts(self) -> dict[str, str]:
        """By line: what was decided, and what goes along with that."""
        along = {line.id: line.verdict for line in self.order.lines} if self.order else {}
        return {**along, **self.choice.verdicts}

    def set_tick(self, path: str, on: bool) -> None:
        if self._session.survey is None:
            self._session.said.emit("What goes along is chosen once the survey is whole.")
            return
        ticked, unticked = set(self.choice.ticked) - {path}, set(self.choice.unticked) - {path}
        (ticked if on else unticked).add(path)
        self._decide(replace(self.choice, ticked=frozenset(ticked), unticked=frozenset(unticked)))

    def answer(self, questions: list[str], answer: str) -> None:
        """The same answer for these questions; "" asks them again."""
        answers, when = dict(self.choice.answers), dict(self.choice.answered_at)
        for question in questions:
            answers.pop(question, None)
            when.pop(question, None)
            if answer:
                answers[question], when[question] = answer, self._session.shop.machine.now()
        self._decide(replace(self.choice, answers=answers, answered_at=when))
        self.rehearse()

    def take_answers(self, sheet: Answers) -> None:
        """What the owner said goes in; what it says of others than were asked about is refused in words."""
        try:
            self._decide(with_answers(self.choice, sheet, self._session.shop.machine.now()))
        except SweptShelfError as error:
            self._session.said.emit(str(error))
            return
        self.rehearse()

    def take_again(self, again: Again) -> None:
        """What an order of another day or desk says, by the survey of now."""
        self._decide(again.choice)
        self.differs = again.differs
        self.rehearse()

    def begin_again(self) -> None:
        """After a new survey: lines that are still there keep their verdict and note, ticks and answers are asked anew."""
        survey = self._session.survey
        verdicts = {k: v for k, v in self.choice.verdicts.items() if survey and survey.find(k)}
        notes = {k: v for k, v in self.choice.notes.items() if k in verdicts}
        to = {k: v for k, v in self.choice.to.items() if k in verdicts}
        self.choice, self._before, self._after = Choice(verdicts, notes=notes, to=to), [], []
        self.differs = []

    def take_over(self, other: Ordering) -> None:
        """The decisions of another desk on the same survey, with the way back through them."""
        self.choice, self._before, self._after = other.choice, other._before, other._after
        self.draw()

    def clear(self) -> None:
        """The order is being carried out."""
        self.choice, self.order, self._before, self._after = Choice(), None, [], []
        self.differs = []
        self._session.order_changed.emit()

    def draw(self) -> None:
        s = self._session
        self.order, self.rehearsal, self.problem = None, None, ""
        if s.surveyed is not None and s.visit is not None and self.choice.verdicts:
            try:
                self.order = s.shop.orders.draw(s.visit, s.surveyed, self.choice, self.name)
            except SweptShelfError as error:
                s.said.emit(str(error))
        s.order_changed.emit()

    def rehearse(self) -> None:
        """Every operation, the rights and the registry's own word; asked behind the desk. The newest order counts."""
        s, order = self._session, self.order
        self.rehearsal, self.problem = None, ""

        def failed(why: str) -> None:
            if self.order is order:
                self.refused(why)

        def done(rehearsal: Rehearsal) -> None:
            if self.order is order:
                self.rehearsal = rehearsal
                s.rehearsed.emit()

        if order is not None:
            name, originals = f"order {order.id}", s.carrying.originals_in
            s.behind.do("rehearsal", lambda: s.shop.orders.rehearse(order, name, originals), done, failed)
        s.rehearsed.emit()

    def refused(self, why: str) -> None:
        self.problem = why
        self._session.rehearsed.emit()

    @property
    def rehearsing(self) -> bool:
        return self._session.behind.doing("rehearsal")
