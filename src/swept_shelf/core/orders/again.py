"""An order that was drawn earlier, or from another ledger, for the same machine: its decisions on the survey of now.

Nothing goes that it does not name, but what a registry takes along by now, which is said. An answer counts only where its
question is word for word the one that was answered; else it is asked again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import FREED, Order, OrderLine
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.orders.draw import Choice
from swept_shelf.core.orders.scope import Entry, Scope, tickable
from swept_shelf.core.orders.stopping import to_stop

Draw = Callable[[Choice], Order]


@dataclass(frozen=True, slots=True)
class Again:
    """`choice` gives `order`; `differs`: in what it is not the one that was handed in, a sentence each."""

    choice: Choice
    order: Order
    differs: list[str]


def draw_again(earlier: Order, scope: Scope, draw: Draw, path: str) -> Again:
    """`draw`: an order of a choice by `scope`; `path`: the earlier order's file. Raises Refused for another machine's, and where
    nothing of it is here."""
    if earlier.machine.key != scope.survey.machine.key:
        raise Refused(f"is for another machine ({earlier.machine.name})", path)
    choice = choice_of(earlier, scope)
    if not choice.verdicts:
        raise Refused("names nothing that the latest survey has", path)
    order = draw(choice)
    asked = {s.id: (s.title, s.evidence) for s in earlier.settle}
    changed = {s.id for s in order.settle if s.answer and asked.get(s.id) != (s.title, s.evidence)}
    if changed:
        choice = replace(choice, answers={k: v for k, v in choice.answers.items() if k not in changed})
        order = draw(choice)
    still = {s.id for s in order.settle}
    choice = replace(choice, answers={k: v for k, v in choice.answers.items() if k in still})
    return Again(choice, order, [*_differences(earlier, order, len(changed)), *_came_since(choice, scope)])


def _came_since(choice: Choice, scope: Scope) -> Iterator[str]:
    """What points at what goes and the earlier order does not name: left where it is, and said."""
    known = choice.only or frozenset()
    removed = [scope.entries[k] for k, v in choice.verdicts.items() if v == Verdict.REMOVE]
    new = [
        r.path
        for e in removed
        if isinstance(e, Application)
        for r in e.references
        if r.action == "take_out" and r.id not in known
    ]
    if new:
        more = " …" * (len(set(new)) > 5)
        yield f"{plural(len(new), 'reference')} not in its file, left as they are: {', '.join(sorted(set(new))[:5])}{more}"


def choice_of(order: Order, scope: Scope) -> Choice:
    """What was decided, as far as the survey knows it."""
    lines = [line for line in order.lines if line.id in scope.entries]
    wanted = {tick for line in order.lines for tick in line.ticks}
    known = {p for line in lines for p in _could_go(scope.entries[line.id], line)}
    answered = [s for s in order.settle if s.answer]
    return Choice(
        {line.id: line.verdict for line in lines},
        frozenset(known & wanted),
        frozenset(known - wanted),
        {s.id: s.answer for s in answered},
        {s.id: s.answered_at for s in answered if s.answered_at},
        {s.id: s.answered_by for s in answered if s.answered_by},
        only=frozenset(r for line in order.lines for r in line.references),
        notes={line.id: line.note for line in lines if line.note},
        to={line.id: line.to for line in lines if line.to},
    )


def _could_go(entry: Entry, line: OrderLine) -> list[str]:
    if line.verdict == Verdict.STOP_STARTING:
        return to_stop(entry)[0]
    return [b.path for b in entry.belongings if tickable(entry, b)]


def _differences(earlier: Order, now: Order, asked_again: int) -> Iterator[str]:
    here = {line.id: line for line in now.lines}
    gone = [line.name for line in earlier.lines if line.id not in here and line.id != FREED]
    if gone:
        yield f"not here any more: {', '.join(gone)}"
    for line in earlier.lines:
        new = here.get(line.id)
        if new is not None and new.verdict != line.verdict:
            yield f"{line.name}: {new.verdict.replace('_', ' ')} now, {line.verdict.replace('_', ' ')} then"
    added = [line.name for line in now.lines if earlier.line(line.id) is None and line.id != FREED]
    if added:
        yield f"goes too now: {', '.join(added)}"
    then, today = _all(earlier, "packages"), _all(now, "packages")
    if more := sorted(today - then):
        yield f"the registry takes along now: {', '.join(more)}"
    if less := sorted(then - today):
        yield f"the registry does not take now: {', '.join(less)}"
    then, today = _all(earlier, "ticks"), _all(now, "ticks")
    if less := sorted(then - today):
        yield f"{plural(len(less), 'place')} not here or not its own any more: {', '.join(less[:5])}{' …' * (len(less) > 5)}"
    if more := sorted(today - then):
        yield f"{plural(len(more), 'place')} of what goes along now: {', '.join(more[:5])}{' …' * (len(more) > 5)}"
    if lost := len(_all(earlier, "references") - _all(now, "references")):
        yield f"{plural(lost, 'reference')} not there any more"
    if asked_again:
        yield f"{plural(asked_again, 'question')} to be answered again: what is asked has changed"
    if earlier.total != now.total:
        yield f"{human_bytes(now.total)} come back now, {human_bytes(earlier.total)} then"


def _all(order: Order, what: str) -> set[str]:
    return {x for line in order.lines for x in getattr(line, what)}
