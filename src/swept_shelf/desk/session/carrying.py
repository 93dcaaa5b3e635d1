"""Carrying out: the run in hand, followed by its journal, whoever carries it."""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.run import Record

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session

_EVERY = 120  # milliseconds between two looks at the journal


class RunState(StrEnum):
    """Where the run in hand stands; NONE: there is none."""

    NONE = ""
    WORKING = "working"
    INTERRUPTED = "interrupted"
    ENDED = "ended"


class Carrying:
    """`problem`: why the carrier ended as it did."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.run: Run | None = None
        self.records: list[Record] = []
        self.state = RunState.NONE
        self.problem = ""
        self._follow = QTimer(session)
        self._follow.setInterval(_EVERY)
        self._follow.timeout.connect(self._read)
        self._journal_size = -1

    def take(self, run: Run, state: RunState, records: list[Record]) -> None:
        """A run that the desk found when it opened."""
        self.run, self.state, self.records = run, state, records
        if state == RunState.WORKING:
            self._start_following()

    def carry_out(self) -> None:
        s, order, visit = self._session, self._session.ordering.order, self._session.visit
        if order is None or visit is None or s.busy:
            return

        def prepare() -> Run:
            run = s.shop.prepare_run(order, f"order {order.id}")
            s.shop.ledger.add_order(visit.id, order)
            return run

        s.behind.do("run", prepare, self._prepared, s.ordering.refused)
        s.rehearsed.emit()

    def _prepared(self, run: Run) -> None:
        self._session.proving.take(None)
        self._session.ordering.clear()
        self.carry(run)
        self._session.station_wanted.emit("Carry out")

    def again(self) -> None:
        """Try again what was skipped, or finish what was cut off."""
        if self.run is not None and self.state != RunState.WORKING:
            self.carry(open_run(self.run.folder))
            self._session.station_wanted.emit("Carry out")

    def carry(self, run: Run) -> None:
        """Carry out what is made ready, whatever station one stands at."""
        s = self._session
        self.run, self.state, self.problem = run, RunState.WORKING, ""
        (run.folder / "stop").unlink(missing_ok=True)
        s.start_worker(s.shop.carry_request(run), lambda _: self._ended(""), self._ended)
        self._start_following()
        s.run_changed.emit()

    def stop_after_this(self) -> None:
        if self.run is not None:
            (self.run.folder / "stop").touch()
            self._session.run_changed.emit()

    @property
    def stopping(self) -> bool:
        return self.run is not None and self.state == RunState.WORKING and (self.run.folder / "stop").exists()

    def _start_following(self) -> None:
        self._journal_size = -1
        self._follow.start()
        self._read()

    def _read(self) -> None:
        s = self._session
        if self.run is None:
            return
        path = self.run.journal_path
        size = path.stat().st_size if path.exists() else 0
        if size != self._journal_size:
            self._journal_size = size
            self.records = records_of(self.run)
            s.run_changed.emit()
        elif s.worker is None and not s.shop.working():
            self._ended("" if not self.run.interrupted else "the carrier ended early")

    def read_again(self) -> None:
        """The run as it stands on disk now."""
        assert self.run is not None
        self.records = records_of(self.run)
        self.state = RunState.INTERRUPTED if self.run.interrupted else RunState.ENDED

    def _ended(self, why: str) -> None:
        s = self._session
        self._follow.stop()
        self.read_again()
        self.problem = why
        s.proving.taken_out()
        s.shop.ledger.take_in()
        s.run_changed.emit()
        s.ledger_changed.emit()
        if self.state == RunState.ENDED:
            s.proving.look_again()

    def close(self) -> None:
        self._follow.stop()
