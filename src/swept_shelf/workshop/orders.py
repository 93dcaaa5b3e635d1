"""Orders: drawn from a survey, rehearsed, made ready to be carried out; the runs that came of them."""

from __future__ import annotations

import contextlib
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.carry.journal import damaged, read_journal, replay
from swept_shelf.core.carry.prepare import prepare
from swept_shelf.core.carry.rehearse import Rehearsal, rehearse
from swept_shelf.core.carry.run import Run, carrier_works, open_run
from swept_shelf.core.documents.errors import CouldNotRead, Interrupted, Refused, SweptShelfError
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.terms import Ended, Task
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.orders import Choice, check_order, draw_order, make_plan
from swept_shelf.core.orders.again import Again, draw_again
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.rights.mirror import is_mirror, make_mirror, waiting_in

if TYPE_CHECKING:
    from swept_shelf.workshop.workshop import Surveyed, Workshop


class Orders:
    """Of one machine, with one ledger."""

    def __init__(self, shop: Workshop) -> None:
        self._shop = shop

    def draw(self, visit: VisitRow, surveyed: Surveyed, choice: Choice, name: str = "") -> Order:
        """`name`: the order's, where the ledger was asked for the next one before."""
        return draw_order(
            surveyed.scope, choice, name or self._shop.ledger.next_order_name(visit), self._shop.machine.now()
        )

    def draw_again(
        self, earlier: Order, visit: VisitRow, surveyed: Surveyed, path: str, name: str = ""
    ) -> Again:
        """An order of another day, or another ledger's, on this survey. Raises Refused."""
        called = name or self._shop.ledger.next_order_name(visit)
        return draw_again(
            earlier, surveyed.scope, lambda choice: self.draw(visit, surveyed, choice, called), path
        )

    def surveyed_of(self, order: Order, path: str) -> Surveyed:
        """The survey an order was drawn from, after the strict check. Raises Refused."""
        if order.machine.key != self._shop.machine.key:
            raise Refused(f"is for another machine ({order.machine.name})", path)
        try:
            found = self._shop.surveyed(order.survey.id)
        except Refused:
            why = "was drawn from a survey that this ledger does not have: `swept-shelf order --from FILE` draws it by the latest"
            raise Refused(why, path) from None
        check_order(order, found.scope, path)
        return found

    def services_of(self, order: Order) -> list[str]:
        """What runs of an order's applications by itself, as the system's manager calls it."""
        try:
            applications = self._shop.surveyed(order.survey.id).survey.applications
        except SweptShelfError:
            return []
        lines = {line.id for line in order.lines}
        starts = [s for a in applications if a.id in lines for s in a.starts if s.person == EVERYONE]
        return [base(s.path) for s in starts if s.path.endswith(".service")]

    def rehearse(self, order: Order, path: str, originals: str = "") -> Rehearsal:
        found = self.surveyed_of(order, path)
        plan = make_plan(order, found.scope, self._shop.machine)
        rehearsal = rehearse(plan, self._shop.machine, found.scope, originals)
        if rehearsal.lacking and self._shop.by_rights(found.survey):
            asked = "the administrator’s rights are asked for once, when it is carried out"
            return replace(rehearsal, lacking=[], notes=[*rehearsal.notes, asked])
        return rehearsal

    def prepare_run(self, order: Order, path: str, originals: str = "") -> Run:
        """Everything that can refuse a run does so here, before anything changes. Raises Refused, Interrupted."""
        found = self.surveyed_of(order, path)
        self.must_be_free()
        by_rights = self._shop.by_rights(found.survey)
        if by_rights and originals:
            raise Refused("originals of packages stay on the holding shelf where rights are asked for", path)
        run, lacking = prepare(
            order,
            path,
            found.scope,
            found.folder,
            self._shop.machine,
            self._shop.runs,
            originals,
            by_rights=by_rights,
        )
        if lacking:
            make_mirror(run.folder)
        visit = self._shop.ledger.visit_of_survey(order.survey.id)
        self._shop.ledger.add_run(visit, run.id, order.id, run.folder, found.survey.left_of)
        return run

    def again(self, order: Order) -> Run | None:
        """The run of this very order that left something skipped and was not put back or emptied."""
        for row in reversed(self._shop.ledger.runs(self._shop.ledger.visit_of_survey(order.survey.id))):
            if row.order == order.id and row.result is not None:
                if row.put_back_at:
                    raise Refused(f"order {order.id} was put back: survey again and draw a new one")
                run = open_run(row.folder)
                if run.order.lines != order.lines or run.order.survey != order.survey:
                    continue
                if row.emptied_at or not (row.result.unfinished or row.result.state == Ended.STOPPED):
                    raise Refused(f"order {order.id} is carried out already")
                return run
        return None

    def unfinished(self, visit: str) -> tuple[VisitRow, Run]:
        """The newest run of a visit that skipped something, or was cut off carrying out, and is on the shelf still. Raises Refused."""
        known = self._shop.ledger.visit(self._shop.machine.key, visit)
        for row in reversed(self._shop.ledger.runs(known.id)):
            if row.put_back_at or row.emptied_at:
                continue
            run = open_run(row.folder)
            if row.result is None and run.state.mode != Task.CARRY_OUT:
                raise Refused(
                    f"order {run.order.id} was cut off being put back or emptied: `swept-shelf resume`"
                )
            if row.result is None or row.result.unfinished:
                return known, run
        raise Refused(f"nothing of visit {known.number} was skipped or cut off")

    def carry_request(self, run: Run) -> dict[str, Any]:
        if is_mirror(run.folder):
            order = to_plain(run.order)
            return {
                BY_RIGHTS: True,
                "do": Task.CARRY_OUT,
                "run": run.id,
                "folder": str(run.folder),
                "order": order,
            }
        return {
            "do": Task.CARRY_OUT,
            "root": self._shop.machine.root,
            "runs": str(self._shop.runs),
            "run_folder": str(run.folder),
        }

    def interrupted(self, visit: str = "") -> Run | None:
        """A run of this machine, or of one visit of it, that was cut off, its carrier gone."""
        return None if carrier_works(self._shop.machine) else self._cut_off(visit)

    def working(self) -> Run | None:
        """The run that a carrier works on now, so that the desk finds it again."""
        return self._cut_off() if carrier_works(self._shop.machine) else None

    def _cut_off(self, visit: str = "") -> Run | None:
        """The newest run whose journal does not end, and that can be read: one that is damaged is left alone."""
        for row in self._shop.run_rows(visit):
            if not replay(read_journal(row.folder / "journal.jsonl")).ended:
                with contextlib.suppress(CouldNotRead):
                    return open_run(row.folder)
        return None

    def damaged_runs(self) -> list[tuple[Path, str]]:
        """Run folders of this machine that cannot be read, and journals with lines that are no records, with why."""
        found = []
        for row in self._shop.run_rows():
            try:
                open_run(row.folder)
                waiting_in(row.folder)
            except CouldNotRead as error:
                found.append((row.folder, error.reason))
            if lines := damaged(row.folder / "journal.jsonl"):
                found.append(
                    (row.folder / "journal.jsonl", f"line {lines[0]} is no record: it was passed over")
                )
        return found

    def must_be_free(self) -> None:
        if carrier_works(self._shop.machine):
            raise Refused("another carrier works on this machine")
        if (run := self.interrupted()) is not None:
            raise Interrupted(
                f"order {run.order.id} was cut off: `swept-shelf resume --finish` or `resume --put-back` first"
            )
