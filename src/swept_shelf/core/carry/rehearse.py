"""Rehearsal: every operation with the rights it needs, the registry's own word, and the room that must be there.

It asks what the carrier asks before each line, and changes nothing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import groupby

from swept_shelf.core.carry.asking import new_ask, running, why_not
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.carry.room import why_no_room
from swept_shelf.core.documents.operations import KeepOriginal, Operation, Plan, RemovePackages
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.walled import missing_walls


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


def by_line(plan: Plan) -> Iterator[tuple[str, list[tuple[int, Operation]]]]:
    """The operations of each line with their numbers, in the order of the plan."""
    for line, operations in groupby(enumerate(plan.operations, 1), key=lambda x: x[1].line):
        yield line, list(operations)


def rehearse(plan: Plan, machine: Machine, survey: Survey, originals: str = "") -> Rehearsal:
    """Try everything that can be tried without changing anything."""
    lacking = [
        (n, why)
        for n, op in enumerate(plan.operations, 1)
        if (why := module_of(op).why_not_mine(op, machine))
    ]
    ask = new_ask(machine, pure=True)
    busy = running(machine, survey, (op.line for op in plan.operations))
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
        plan, lacking, sorted(ask.removed), kept, problems, why_no_room(machine, plan, originals), notes
    )
