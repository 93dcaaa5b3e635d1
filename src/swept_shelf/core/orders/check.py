"""Checks an order against the survey it names, strictly: nothing is carried out that the survey does not bear out."""

from __future__ import annotations

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import FREED, FREED_NAME, LONGEST_NOTE, Order, OrderLine
from swept_shelf.core.documents.survey import Application, line_name
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.orders.draw import freed_settings, kept_but_taken, settings_of_others
from swept_shelf.core.orders.moving import movable, why_not_to
from swept_shelf.core.orders.scope import Scope, goes_by_tool, goes_whole, is_program, tickable
from swept_shelf.core.orders.settle import questions
from swept_shelf.core.orders.shares import share_out
from swept_shelf.core.orders.stopping import to_stop


def check_order(order: Order, scope: Scope, path: str) -> None:
    """Raises Refused naming the line and the path that does not hold; `path` is the order file's."""
    if order.machine.key != scope.survey.machine.key:
        raise Refused("is for another machine", path)
    if order.survey.sha256 != scope.digest or order.survey.id != scope.survey.id:
        raise Refused("was drawn from another survey", path)
    if len({line.id for line in order.lines}) != len(order.lines):
        raise Refused("names a line twice", path)
    for line in order.lines:
        if line.id != FREED and line.id not in scope.entries:
            raise Refused(f"names {line.id}, which the survey does not know", path)
        if len(line.note) > LONGEST_NOTE:
            raise Refused(f"has a note of {len(line.note)} characters for {line.name}", path)
        if line.name != (FREED_NAME if line.id == FREED else line_name(scope.entries[line.id])):
            raise Refused(f"calls {line.id} by another name than the survey", path)
        for what, named in (("path", line.ticks), ("package", line.packages), ("reference", line.references)):
            if len(set(named)) != len(named):
                raise Refused(f"names a {what} of {line.name} twice", path)
        _ticks(line, scope, path)
        if line.verdict == Verdict.STOP_STARTING:
            ticks, references = to_stop(scope.entries[line.id])
            if line.packages or set(line.ticks) - set(ticks) or set(line.references) - set(references):
                raise Refused(f"takes more of {line.name} than what starts it", path)
        elif line.verdict == Verdict.MOVE_DATA:
            if why := why_not_to(line.to, line.ticks, scope.survey.volumes):
                raise Refused(f"moves data of {line.name} to {line.to or 'nothing'}, which {why}", path)
            if set(line.ticks) - {b.path for b in movable(scope.entries[line.id])}:
                raise Refused(f"moves more of {line.name} than its data", path)
        if line.to and line.verdict != Verdict.MOVE_DATA:
            raise Refused(f"says where {line.name} is moved, whose verdict is {line.verdict}", path)
        if line.verdict not in (Verdict.REMOVE, Verdict.STOP_STARTING) and (line.packages or line.references):
            raise Refused(f"removes packages of {line.name}, whose verdict is {line.verdict}", path)
    _packages(order, scope, path)
    _settled(order, scope, path)


def _ticks(line: OrderLine, scope: Scope, path: str) -> None:
    by_registry: set[str] = set()  # what its registry takes as one: nothing of it is moved by its path
    if line.id == FREED:
        known, references = set(freed_settings(scope, line.packages)), set[str]()
    else:
        entry = scope.entries[line.id]
        known = {b.path for b in entry.belongings if tickable(entry, b)}
        known |= set(settings_of_others(scope, entry, line.packages))
        if line.verdict == Verdict.STOP_STARTING:
            known = set(to_stop(entry)[0])
        if goes_whole(entry) and entry.type == "kernel" and line.verdict == Verdict.REMOVE:
            by_registry = {b.path for b in entry.belongings if is_program(b)}
        references = {r.id for r in entry.references} if isinstance(entry, Application) else set()
    for tick in line.ticks:
        if tick not in by_registry and (why := scope.why_protected(tick)):
            raise Refused(f"names {tick}, which {why}", path)
        if tick not in known:
            raise Refused(f"names {tick}, which is not a belonging of {line.name}", path)
    for reference in line.references:
        if reference not in references:
            raise Refused(f"names a reference {reference} that {line.name} does not have", path)


def _packages(order: Order, scope: Scope, path: str) -> None:
    """Exactly what the registry takes for all lines, each package in the line that takes it, nothing of what is kept."""
    removed = [
        a
        for line in order.lines
        if line.verdict == Verdict.REMOVE
        and (a := scope.entries.get(line.id)) is not None
        and goes_by_tool(a)
    ]
    shares = share_out(scope, removed)
    wanted = shares.lines | ({FREED: shares.freed} if shares.freed else {})
    named = {line.id: [p for p in line.packages if not scope.is_rest(p)] for line in order.lines}
    said = {id: sorted(packages) for id, packages in named.items() if packages}
    if sorted(order.packages) != shares.all or said != {id: sorted(p) for id, p in wanted.items() if p}:
        raise Refused("names packages that do not go with its applications", path)
    rests = {p for line in order.lines for p in line.packages if scope.is_rest(p)}
    if rests - {
        e.was.name
        for line in order.lines
        if (e := scope.entries.get(line.id)) and not isinstance(e, Application)
    }:
        raise Refused("names packages that do not go with its applications", path)
    kept_but_taken(scope, {line.id: line.verdict for line in order.lines}, shares.all)


def _settled(order: Order, scope: Scope, path: str) -> None:
    """The questions are asked again: an order file cannot leave one out."""
    asked = {
        q.id: q for q in questions(scope, {line.id: line.verdict for line in order.lines if line.id != FREED})
    }
    answers = {s.id: s.answer for s in order.settle}
    for id, question in asked.items():
        if answers.get(id, "") and answers[id] not in question.answers:
            raise Refused(f"answers {id} with {answers[id]}", path)
        if id not in answers:
            raise Refused(f"leaves out a question: {id}", path)
        if answers[id] == "leave_out":
            raise Refused(f"carries out {question.line} although {id} says to leave it out", path)
