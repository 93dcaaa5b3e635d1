"""Carrying out: the run in hand, followed by its journal, whoever carries it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from swept_shelf.at_start import AtStart
from swept_shelf.core.carry.archive.place import check_place
from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.run import Record
from swept_shelf.core.documents.terms import Went
from swept_shelf.core.machine.facts import restart_needed
from swept_shelf.desk.behind import Behind
from swept_shelf.rights.asking import BY_RIGHTS

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session

_EVERY = 120  # milliseconds between two looks at the journal


class RunState(StrEnum):
    """Where the run in hand stands; NONE: there is none."""

    NONE = ""
    WORKING = "working"
    INTERRUPTED = "interrupted"
    ENDED = "ended"


@dataclass(frozen=True, slots=True)
class RunNow:
    """A run as its folder has it now. `stopping`: it was asked to stop after the operation at work; `planned`: what it skipped is
    finished at the next start, `may_plan`: it could be."""

    records: list[Record]
    interrupted: bool
    stopping: bool
    planned: bool
    may_plan: bool


def read_run(run: Run) -> RunNow:
    start = AtStart()
    may_plan = not start.why_not(run.order.machine.root == "/")
    return RunNow(
        records_of(run), run.interrupted, (run.folder / "stop").exists(), may_plan and start.planned, may_plan
    )


class Carrying:
    """`problem`: why the carrier ended as it did; `asking`: it needs rights that are asked for first; `stopping`: it was asked to
    stop after the operation at work; `archive_to`: the file that what goes is written into as soon as it waits on the shelf, "" for
    none; `originals_in`: the folder in which this order's originals of packages are kept, "" for the shelf's."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.run: Run | None = None
        self.records: list[Record] = []
        self.state = RunState.NONE
        self.problem = self.archive_to = self.originals_in = ""
        self.asking = self.stopping = self.planned = self.may_plan = False
        self._follow = QTimer(session)
        self._follow.setInterval(_EVERY)
        self._follow.timeout.connect(self._read)
        self._beside = Behind(session)
        self._journal_size = -1

    def take(self, run: Run, state: RunState, now: RunNow) -> None:
        """A run that the desk found when it opened."""
        self.now(now)
        self.run, self.state = run, state
        if state == RunState.WORKING:
            self._start_following()

    def carry_out(self) -> None:
        s, order, visit = self._session, self._session.ordering.order, self._session.visit
        if order is None or visit is None or s.taken:
            return

        originals = self.originals_in

        def prepare() -> tuple[Run, str]:
            run = s.shop.orders.prepare_run(order, f"order {order.id}", originals)
            s.shop.ledger.add_order(visit.id, order)
            return run, s.shop.ledger.next_order_name(visit)

        s.behind.do("run", prepare, self._prepared, s.ordering.refused)
        s.rehearsed.emit()

    def _prepared(self, made: tuple[Run, str]) -> None:
        run, self._session.ordering.name = made
        self.originals_in = ""
        self._session.proving.take(None)
        self._session.ordering.clear()
        self.carry(run)
        self._session.station_wanted.emit("Carry out")

    def keep_originals_in(self, folder: str) -> None:
        """Choose, or with "" not any more, where this order's originals of packages are kept; whether there is room is asked."""
        self.originals_in = folder
        self._session.ordering.rehearse()

    def archive_first(self, file: str) -> None:
        """Choose, or with "" not any more, where what goes is archived. What is wrong with it is said at once."""
        s, order = self._session, self._session.ordering.order
        if order is None:
            return

        def chosen(_: None) -> None:
            self.archive_to = file
            s.order_changed.emit()

        s.behind.do("archive", lambda: check_place(file, order.total) if file else None, chosen, s.said.emit)

    def again(self) -> None:
        """Try again what was skipped, or finish what was cut off."""
        s, run = self._session, self.run
        if run is not None and self.state != RunState.WORKING and not s.taken:
            s.behind.do("run", lambda: open_run(run.folder), self._begin_again, s.said.emit)

    def at_start(self, wanted: bool) -> None:
        """Plan, or call off, that what was skipped is finished when this computer starts next."""
        s, run = self._session, self.run
        if run is None or s.visit is None:
            return
        folder, ledger, visit = run.folder, s.shop.ledger.file, str(s.visit.number)

        def plan() -> bool:
            start = AtStart()
            if wanted:
                start.plan(folder, ledger, visit, s.shop.orders.services_of(run.order))
            else:
                start.drop()
            return start.planned

        s.behind.do("at start", plan, self._planned, s.said.emit)

    def _planned(self, planned: bool) -> None:
        self.planned = planned
        self._session.said.emit(
            "It is finished when this computer starts next, before anybody logs in."
            if planned
            else "Nothing is planned for the next start."
        )
        self._session.run_changed.emit()

    def _begin_again(self, run: Run) -> None:
        self.carry(run)
        self._session.station_wanted.emit("Carry out")

    @property
    def begun(self) -> bool:
        """Whether anything of the run was tried yet."""
        return any(r.state != Went.WAITS for r in self.records)

    def carry(self, run: Run) -> None:
        """Carry out what is made ready, whatever station one stands at."""
        s = self._session
        self.run, self.state, self.problem = run, RunState.WORKING, ""
        self.stopping = False
        request = s.shop.orders.carry_request(run)
        self.asking = BY_RIGHTS in request
        s.start_worker(request, lambda _: self._ended(""), self._ended)
        self._start_following()
        s.run_changed.emit()

    def stop_after_this(self) -> None:
        if self.run is not None:
            self.stopping = True
            self._beside.do("stop", (self.run.folder / "stop").touch, lambda _: None, self._session.said.emit)
            self._session.run_changed.emit()

    def _start_following(self) -> None:
        self._journal_size = -1
        self._follow.start()
        self._read()

    def _read(self) -> None:
        """How far it is, read beside the desk; where no worker of ours is at it, whether anybody is."""
        s, run, seen, ours = self._session, self.run, self._journal_size, self._session.worker is not None
        if run is None or self._beside.busy:
            return

        def look() -> tuple[int, RunNow | None, bool]:
            path = run.journal_path
            size = path.stat().st_size if path.exists() else 0
            if size == seen:
                return size, None, not ours and not s.shop.orders.working()
            return size, read_run(run), False

        self._beside.do("journal", look, lambda found: self._heard(run, *found), s.said.emit)

    def _heard(self, run: Run, size: int, now: RunNow | None, nobody: bool) -> None:
        if self.run is not run or self.state != RunState.WORKING:
            return
        self._journal_size = size
        if now is not None:
            self.records, self.stopping = now.records, now.stopping
            self._session.run_changed.emit()
            self._session.standing.look_soon()
        elif nobody and self._session.worker is None:
            self._ended("")

    def now(self, found: RunNow) -> None:
        """The run as its folder has it."""
        self.records, self.stopping = found.records, False
        self.planned, self.may_plan = found.planned, found.may_plan
        self.state = RunState.INTERRUPTED if found.interrupted else RunState.ENDED

    def _ended(self, why: str) -> None:
        s, run = self._session, self.run
        self._follow.stop()
        assert run is not None

        def look() -> tuple[RunNow, str, str]:
            again = restart_needed(s.shop.machine)
            try:
                s.shop.ledger.take_in()
            except (SweptShelfError, OSError) as error:
                return read_run(run), f"the ledger could not take it in: {error}", again
            return read_run(run), "", again

        def read(found: tuple[RunNow, str, str]) -> None:
            now, not_kept, again = found
            self.now(now)
            self.problem = why or not_kept or ("the carrier ended early" if now.interrupted else "")
            if not_kept or again:
                s.said.emit(not_kept or f"{again[0].upper()}{again[1:]}.")
            s.proving.taken_out()
            s.run_changed.emit()
            s.standing.look()
            if self.state != RunState.ENDED or not self.begun:
                return  # what was cut off is archived when it is finished; where nothing was done, nothing is to be proven
            file, self.archive_to = self.archive_to, ""
            if file and any(r.state == Went.DONE for r in self.records):
                s.archiving.write_run(run.id, file, s.proving.look_again)
            else:
                s.proving.look_again()

        def unread(problem: str) -> None:
            self.state, self.problem = RunState.INTERRUPTED, problem
            s.said.emit(problem)
            s.run_changed.emit()

        s.behind.do("run", look, read, unread)

    def close(self) -> None:
        self._follow.stop()
        self._beside.end()
