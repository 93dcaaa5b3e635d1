"""Rehearsal: every operation with the rights it needs, the registry's own word, and the room that must be there.

It asks what the carrier asks before each line, and changes nothing."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, field
from itertools import groupby

from swept_shelf.core.carry.asking import new_ask, running, why_not
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.carry.room import lacking as lacking_room
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.operations import KeepOriginal, Operation, Plan, RemovePackages
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.walled import missing_walls
from swept_shelf.core.orders.scope import Scope
from swept_shelf.core.registries.debian import change


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """`lacking`: operations the caller has no rights for; `registry`: what the package tool said it would remove; `problems`: by
    line, why nothing of it would be done; `refused`: why nothing at all would; `notes`: what a technician should know, and does
    not hinder."""

    plan: Plan
    lacking: list[tuple[int, str]]
    registry: list[str]
    originals: int
    problems: dict[str, str]
    refused: str = ""
    notes: list[str] = field(default_factory=list)

    @property
    def lacking_in_words(self) -> str:
        """What rights are lacking for, and what helps."""
        count, why = plural(len(self.lacking), "operation"), self.lacking[0][1]
        return f"needs rights you do not have for {count} ({why}): look with the administrator’s rights first, and draw the order then"


def by_line(plan: Plan) -> Iterator[tuple[str, list[tuple[int, Operation]]]]:
    """The operations of each line with their numbers, in the order of the plan."""
    for line, operations in groupby(enumerate(plan.operations, 1), key=lambda x: x[1].line):
        yield line, list(operations)


def rehearse(plan: Plan, machine: Machine, scope: Scope, originals: str = "") -> Rehearsal:
    """Try everything that can be tried without changing anything."""
    lacking = [
        (n, why)
        for n, op in enumerate(plan.operations, 1)
        if (why := module_of(op).why_not_mine(op, machine))
    ]
    ask = new_ask(machine, pure=True)
    busy = running(machine, scope.survey, plan.operations)
    if not lacking:
        ask.as_surveyed = _asked_at_once(plan, machine, scope, busy)
    problems: dict[str, str] = {}
    if not lacking:
        for line, operations in by_line(plan):
            why = [busy[line]] if line in busy else why_not(ask, [op for _, op in operations])
            if why:
                problems[line] = "; ".join(why)
    notes = list(ask.notes)
    packages = [op for op in plan.operations if isinstance(op, RemovePackages)]
    if packages and not (machine.live or machine.chrootless) and (missing := missing_walls()):
        notes.append(missing)
    kept = sum(op.bytes for op in plan.operations if isinstance(op, KeepOriginal))
    return Rehearsal(
        plan,
        lacking,
        sorted(ask.removed),
        kept,
        problems,
        lacking_room(machine, plan.operations, originals),
        notes,
    )


def _asked_at_once(
    plan: Plan, machine: Machine, scope: Scope, busy: Collection[str]
) -> Callable[[set[str]], bool] | None:
    """The registry's word on everything together, asked once; then the graph answers for every step of the way.

    None where something changed in the registry since the survey, or it would not do the whole: each line is asked then."""
    wanted = sorted(
        p
        for op in plan.operations
        if isinstance(op, RemovePackages) and op.line not in busy
        for p in op.packages
    )
    forced = any(isinstance(op, RemovePackages) and op.without_scripts for op in plan.operations)
    if not wanted or forced or change.cannot_work_inside(machine):
        return None
    try:
        known = {n: (p.status, p.version) for n, p in scope.packages.items() if p.installed}
        if change.all_states(machine) != known or change.simulate(machine, wanted) != wanted:
            return None
    except SweptShelfError:
        return None
    graph = scope.graph

    def accepts(packages: set[str]) -> bool:
        gone = {graph.number[n] for n in packages if n in graph.number}
        return len(gone) == len(packages) and graph.dependents(gone) == gone

    return accepts
