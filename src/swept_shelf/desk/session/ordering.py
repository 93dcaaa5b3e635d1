"""Ordering: what the technician chose, the order drawn from it at every tick, and its rehearsal."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from swept_shelf.core.carry.rehearse import Rehearsal
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.order import Order
from swept_shelf.core.orders import Choice

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class Ordering:
    """`problem`: why the order could not be rehearsed, or not be carried out."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.choice = Choice()
        self.order: Order | None = None
        self.rehearsal: Rehearsal | None = None
        self.problem = ""

    def set_verdict(self, line: str, verdict: str) -> None:
        """Put a line on the order, change its verdict, or take it off ("")."""
        verdicts = dict(self.choice.verdicts)
        if verdict and verdicts.get(line) != verdict:
            verdicts[line] = verdict
        else:
            verdicts.pop(line, None)
        self._choose(verdicts)

    def set_verdicts(self, lines: list[str], verdict: str) -> None:
        """The same verdict for several lines; when all have it already, take them all off."""
        verdicts = dict(self.choice.verdicts)
        on = any(verdicts.get(line) != verdict for line in lines)
        for line in lines:
            if on:
                verdicts[line] = verdict
            else:
                verdicts.pop(line, None)
        self._choose(verdicts)

    def _choose(self, verdicts: dict[str, str]) -> None:
        self.choice = replace(self.choice, verdicts=verdicts)
        self.draw()

    def verdict(self, line: str) -> str:
        return self.choice.verdicts.get(line, "")

    def set_tick(self, path: str, on: bool) -> None:
        ticked, unticked = set(self.choice.ticked) - {path}, set(self.choice.unticked) - {path}
        (ticked if on else unticked).add(path)
        self.choice = replace(self.choice, ticked=frozenset(ticked), unticked=frozenset(unticked))
        self.draw()

    def answer(self, question: str, answer: str) -> None:
        answers, when = dict(self.choice.answers), dict(self.choice.answered_at)
        answers[question], when[question] = answer, self._session.shop.machine.now()
        if not answer:
            answers.pop(question)
            when.pop(question)
        self.choice = replace(self.choice, answers=answers, answered_at=when)
        self.draw()
        self.rehearse()

    def begin_again(self) -> None:
        """After a new survey: lines that are still there keep their verdict, ticks and answers are asked anew."""
        survey = self._session.survey
        verdicts = {k: v for k, v in self.choice.verdicts.items() if survey and survey.find(k)}
        self.choice = Choice(verdicts)

    def clear(self) -> None:
        """The order is being carried out."""
        self.choice, self.order = Choice(), None
        self._session.order_changed.emit()

    def draw(self) -> None:
        s = self._session
        self.order, self.rehearsal, self.problem = None, None, ""
        if s.surveyed is not None and s.visit is not None and self.choice.verdicts:
            try:
                self.order = s.shop.draw(s.visit, s.surveyed, self.choice)
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
            s.behind.do("rehearsal", lambda: s.shop.rehearse(order, f"order {order.id}"), done, failed)
        s.rehearsed.emit()

    def refused(self, why: str) -> None:
        self.problem = why
        self._session.rehearsed.emit()

    @property
    def rehearsing(self) -> bool:
        return self._session.behind.doing("rehearsal")
