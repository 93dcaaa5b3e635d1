"""From an order to a run folder: everything that can refuse a run does so here, before anything changes."""

from __future__ import annotations

from pathlib import Path

from swept_shelf.core.carry.rehearse import rehearse
from swept_shelf.core.carry.run import Run, create_run
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.orders import Scope, make_plan


def prepare(
    order: Order,
    path: str,
    scope: Scope,
    survey_folder: Path,
    machine: Machine,
    runs: Path,
    originals: str = "",
    id: str = "",
    by_rights: bool = False,
) -> tuple[Run, bool]:
    """A run folder for a checked order, and whether more rights than one's own are needed for it; `path` is the order's file.

    `by_rights`: where they are, another carries it out with them, and asks all of this again as such; `id`: what the run is
    called. Raises Refused."""
    if order.unsettled:
        asked = "; ".join(f"{s.id} = {' or '.join(s.answers)}" for s in order.unsettled)
        raise Refused(f"must be settled first: {asked}", path)
    originals = str(Path(originals).absolute()) if originals else ""
    plan = make_plan(order, scope, machine)
    if not plan.operations:
        raise Refused("has nothing to carry out", path)
    result = rehearse(plan, machine, scope, originals)
    if result.lacking and not by_rights:
        raise Refused(result.lacking_in_words, path)
    if not result.lacking:
        if result.refused:
            raise Refused(result.refused)
        if set(result.problems) >= {op.line for op in plan.operations}:
            raise Refused(next(iter(result.problems.values())), path)
    return create_run(runs, machine, order, survey_folder, plan, originals, id), bool(result.lacking)
