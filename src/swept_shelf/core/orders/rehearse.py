"""Rehearsal: every operation with the rights it needs, the registry's own word, and the room that must be there."""

from __future__ import annotations

import os
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import (
    EditLines,
    KeepOriginal,
    Operation,
    Plan,
    PurgePackages,
    RemovePackages,
    Shelve,
)
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.walled import missing_walls
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.read import ADMIN

SLACK = 4 << 20


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """`lacking`: operations the caller has no rights for; `registry`: what the package tool said it would remove; `notes`: what a
    technician should know, and does not hinder."""

    plan: Plan
    lacking: list[tuple[int, str]]
    registry: list[str]
    originals: int
    problems: list[str]
    notes: list[str]


def rehearse(plan: Plan, machine: Machine) -> Rehearsal:
    """Try everything that can be tried without changing anything."""
    lacking = [(n, op.rights) for n, op in enumerate(plan.operations, 1) if not may(op, machine)]
    problems: list[str] = []
    registry: list[str] = []
    for op in plan.operations:
        if isinstance(op, RemovePackages):
            try:
                registry = simulated(registry, op, machine)
            except (Refused, CouldNotRead) as error:
                problems.append(f"{', '.join(op.packages)}: {error.reason}")
    problems += _read_only(plan, machine)
    notes: list[str] = []
    if any(isinstance(op, RemovePackages | PurgePackages) for op in plan.operations) and not (
        machine.live or machine.chrootless
    ):
        problems += [why] if (why := change.cannot_work_inside(machine)) else []
        notes += [missing] if (missing := missing_walls()) else []
    originals = sum(op.bytes for op in plan.operations if isinstance(op, KeepOriginal))
    return Rehearsal(plan, lacking, sorted(registry), originals, problems, notes)


def _read_only(plan: Plan, machine: Machine) -> list[str]:
    """Places that the plan would change and that are mounted read-only, each once."""
    places = {
        ADMIN if isinstance(op, RemovePackages | PurgePackages) else parent(op.path)
        for op in plan.operations
        if not isinstance(op, KeepOriginal)
    }
    found: dict[int, str] = {}
    for place in sorted(places):
        try:
            with machine.folder(place) as fd:
                if os.fstatvfs(fd).f_flag & os.ST_RDONLY:
                    found.setdefault(os.fstat(fd).st_dev, place)
        except OSError:
            continue  # said when its turn comes
    return [f"{place} is mounted read-only: nothing there can be changed" for place in found.values()]


def simulated(before: list[str], op: RemovePackages, machine: Machine) -> list[str]:
    """The registry's word on this removal with those `before` it done; it must equal the order's. Raises Refused."""
    wanted = sorted({*before, *op.packages})
    said = change.simulate(machine, wanted)
    if said != wanted:
        raise Refused(f"dpkg would remove {', '.join(said) or 'nothing'}, the order says {', '.join(wanted)}")
    return said


def may(op: Operation, machine: Machine) -> bool:
    """Whether the caller has the rights for an operation."""
    if os.geteuid() == 0:
        return True
    if isinstance(op, RemovePackages | PurgePackages):
        return machine.chrootless and _writable(machine, ADMIN)
    if isinstance(op, KeepOriginal):
        return True
    if isinstance(op, Shelve | EditLines):
        return _writable(machine, parent(op.path))
    return False


def _writable(machine: Machine, folder: str) -> bool:
    try:
        with machine.folder(folder) as fd:
            return os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK)
    except OSError:
        return False
