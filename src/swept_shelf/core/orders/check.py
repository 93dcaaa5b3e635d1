"""Checks an order against the survey it names, strictly: nothing is carried out that the survey does not bear out."""

from __future__ import annotations

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.orders.draw import index_knows, line_name, order_graph, settings_of_others, tickable
from swept_shelf.core.orders.places import why_protected
from swept_shelf.core.orders.settle import questions
from swept_shelf.core.tree.index import Index


def check_order(order: Order, survey: Survey, digest: str, index: Index, path: str) -> None:
    """Raises Refused naming the line and the path that does not hold; `path` is the order file's."""
    if order.machine.key != survey.machine.key:
        raise Refused("is for another machine", path)
    if order.survey.sha256 != digest or order.survey.id != survey.id:
        raise Refused("was drawn from another survey", path)
    if len({line.id for line in order.lines}) != len(order.lines):
        raise Refused("names a line twice", path)
    for line in order.lines:
        entry = survey.find(line.id)
        if entry is None:
            raise Refused(f"names {line.id}, which the survey does not know", path)
        if line.name != line_name(entry):
            raise Refused(f"calls {line.id} by another name than the survey", path)
        for what, named in (("path", line.ticks), ("package", line.packages), ("reference", line.references)):
            if len(set(named)) != len(named):
                raise Refused(f"names a {what} of {line.name} twice", path)
        known = {b.path for b in entry.belongings if tickable(entry, b)}
        known |= set(settings_of_others(entry, line.packages, index))
        for tick in line.ticks:
            if why := why_protected(tick, survey):
                raise Refused(f"names {tick}, which {why}", path)
            if tick not in known:
                raise Refused(f"names {tick}, which is not a belonging of {line.name}", path)
        references = {r.id for r in entry.references} if isinstance(entry, Application) else set()
        for reference in line.references:
            if reference not in references:
                raise Refused(f"names a reference {reference} that {line.name} does not have", path)
        if line.verdict != "remove" and (line.packages or line.references):
            raise Refused(f"removes packages of {line.name}, whose verdict is {line.verdict}", path)
    _packages(order, survey, index, path)
    _settled(order, survey, path)


def _packages(order: Order, survey: Survey, index: Index, path: str) -> None:
    heads = {
        a.own_packages[0]
        for line in order.lines
        if line.verdict == "remove"
        if isinstance(a := survey.find(line.id), Application) and a.registry == "debian"
    }
    wanted = order_graph(index).goes_with(heads)
    left = sorted(p for line in order.lines for p in line.packages if not index_knows(index, p))
    if sorted(order.packages) != wanted or left != wanted:
        raise Refused("names packages that do not go with its applications", path)


def _settled(order: Order, survey: Survey, path: str) -> None:
    """The questions are asked again: an order file cannot leave one out."""
    asked = {q.id: q for q in questions(survey, {line.id: line.verdict for line in order.lines})}
    answers = {s.id: s.answer for s in order.settle}
    for id, question in asked.items():
        if answers.get(id, "") and answers[id] not in question.answers:
            raise Refused(f"answers {id} with {answers[id]}", path)
        if id not in answers:
            raise Refused(f"leaves out a question: {id}", path)
        if answers[id] == "leave_out":
            raise Refused(f"carries out {question.line} although {id} says to leave it out", path)
