"""Where the work stands when the desk opens: the newest survey, and a run that goes on, was cut off, or is to be proved."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.documents.clearance import Clearance
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.times import day
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.survey.ahead import Ahead, look_ahead
from swept_shelf.desk.session.carrying import RunNow, RunState, read_run
from swept_shelf.workshop import Surveyed, Workshop


@dataclass(slots=True)
class Found:
    """What the ledger and the run folders say; `problem`: what of it could not be read."""

    visit: VisitRow | None = None
    surveyed: Surveyed | None = None
    problem: str = ""
    run: Run | None = None
    state: RunState = RunState.NONE
    now: RunNow | None = None
    clearance: Clearance | None = None
    gone: bool = False
    next_order: str = ""
    past: str = ""
    ahead: Ahead | None = None


def find(shop: Workshop, which: str = "latest") -> Found:
    """Read all of it; a survey may take a second, so not on the desk's own thread. `which`: an earlier visit by its number."""
    if which != "latest" and shop.ledger.visit(shop.machine.key, which) != shop.ledger.visit(
        shop.machine.key
    ):
        return _earlier(shop, which)
    found = Found()
    if any(v.surveys for v in shop.ledger.visits(shop.machine.key)):
        try:
            found.visit, found.surveyed = shop.latest()
            found.surveyed.index.packages  # noqa: B018 - read while nobody waits
            found.next_order = shop.ledger.next_order_name(found.visit)
        except SweptShelfError as error:
            found.problem = str(error)
    if found.surveyed is None and not found.problem:
        with suppress(SweptShelfError, OSError):
            found.ahead = look_ahead(shop.machine)
    if (working := shop.orders.working()) is not None:
        found.run, found.state = working, RunState.WORKING
    elif (cut_off := shop.orders.interrupted()) is not None:
        found.run, found.state = cut_off, RunState.INTERRUPTED
    elif found.visit is not None:
        _last_run(shop, found, found.visit)
    if found.run is not None:
        found.now = read_run(found.run)
    return found


def _earlier(shop: Workshop, which: str) -> Found:
    visit, surveyed = shop.latest(which)
    found = Found(visit, surveyed)
    found.past = f"Visit {visit.number} of {day(visit.opened_at)} is shown: nothing is decided or changed in this window"
    _last_run(shop, found, visit)
    if found.run is not None:
        found.now = read_run(found.run)
    return found


def _last_run(shop: Workshop, found: Found, visit: VisitRow) -> None:
    rows = [r for r in shop.ledger.runs(visit.id) if not r.left_of]
    if not rows or not (rows[-1].folder / "run.json").exists():
        return
    try:
        found.run, found.state = open_run(rows[-1].folder), RunState.ENDED
    except SweptShelfError as error:
        found.problem = str(error)
        return
    found.gone = rows[-1].put_back_at is not None or rows[-1].emptied_at is not None
    known = shop.ledger.clearance(visit.id)
    found.clearance = known if known and known.run == rows[-1].id else None
