"""Which line of an order takes which packages: each its own, in an order that the registry accepts; what several lines free
together goes after all of them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from swept_shelf.core.documents.survey import Application
from swept_shelf.core.orders.scope import Scope


@dataclass(frozen=True, slots=True)
class Shares:
    """Packages by line, in the order in which the lines are worked; `freed` by no line alone."""

    lines: dict[str, list[str]]
    freed: list[str]

    @property
    def all(self) -> list[str]:
        return sorted([*(p for own in self.lines.values() for p in own), *self.freed])


def share_out(scope: Scope, removed: Sequence[Application]) -> Shares:
    """Whoever needs another goes before it. A line takes what goes with it alone and nobody who is still there needs."""
    order = _dependents_first(scope, removed)
    parts = {a.id: set(a.own_packages) for a in order}
    taken: set[str] = set()
    lines: dict[str, list[str]] = {}
    for a in order:
        head = a.own_packages[0]
        others: set[str] = set().union(*(p for id, p in parts.items() if id != a.id and id not in lines))
        alone = set(scope.goes_alone(head)) - taken
        mine = alone - (others - {head})
        if mine != alone:
            mine = _nobody_left_needs(scope, mine, taken)
        if head in mine or head in taken:
            taken |= mine
        else:
            mine = set()  # somebody who stays longer needs it: it goes with what several free
        lines[a.id] = sorted(mine, key=lambda n, a=a: (n not in a.own_packages, n != a.own_packages[0], n))  # type: ignore[misc]
    gone = scope.goes_with({a.own_packages[0] for a in removed}) if removed else []
    return Shares(lines, [p for p in gone if p not in taken])


def _dependents_first(scope: Scope, removed: Sequence[Application]) -> list[Application]:
    """Stable: only where one needs another it is moved before it."""
    graph = scope.graph
    heads = {a.own_packages[0]: a for a in removed}
    needed_first: list[Application] = []
    done: set[str] = set()

    def place(a: Application) -> None:
        if a.id in done:
            return
        done.add(a.id)
        number = graph.number.get(a.own_packages[0])
        if number is not None:
            for other in sorted(graph.names[i] for i in graph.dependents({number})):
                if other in heads:
                    place(heads[other])
        needed_first.append(a)

    for a in removed:
        place(a)
    return needed_first


def _nobody_left_needs(scope: Scope, wanted: set[str], taken: Collection[str]) -> set[str]:
    """Of `wanted` what may go when `taken` is gone already and everything else stays."""
    graph = scope.graph
    gone = {graph.number[n] for n in taken if n in graph.number}
    going = {graph.number[n] for n in wanted if n in graph.number}
    changed = True
    while changed:
        changed = False
        for number, groups in enumerate(graph.hard):
            if number in going or number in gone:
                continue
            for group in groups:
                if not group - going - gone and (back := group & going):
                    going -= back
                    changed = True
    return {graph.names[i] for i in going}
