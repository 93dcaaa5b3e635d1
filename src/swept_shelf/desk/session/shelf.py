"""The holding shelf: what waits on it; put back and emptied by lines of a run."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.desk.session.carrying import RunNow, read_run

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class ShelfWork:
    def __init__(self, session: Session) -> None:
        self._session = session

    def waiting(self) -> list[Slot]:
        return self._session.standing.now.slots

    def resume(self) -> None:
        """Put back all of the run in hand."""
        if (run := self._session.carrying.run) is not None:
            self.work(Task.PUT_BACK, run.id, [])

    def work(self, task: Task, run: str, lines: list[str]) -> None:
        """Put back, or empty, lines of a run (all of it when none is named)."""
        s = self._session
        if s.taken:
            return

        s.behind.do(
            "shelf",
            lambda: s.shop.ledger.run(run),
            lambda row: self._begin(task, run, row, lines),
            self._failed,
        )

    def _begin(self, task: Task, run: str, row: RunRow | None, lines: list[str]) -> None:
        s = self._session
        if row is None:
            s.said.emit(
                f"No ledger here knows this run: `swept-shelf take-over {run}` on the command line says what it holds."
            )
            return
        s.start_worker(
            s.shop.shelves.request(task, row, lines),
            lambda result: self._done(task, row, lines, result),
            self._failed,
        )
        s.ledger_changed.emit()

    def _done(self, task: Task, row: RunRow, lines: list[str], result: dict[str, Any]) -> None:
        s = self._session
        of_run = s.carrying.run is not None and s.carrying.run.id == row.id

        def keep() -> RunNow | None:
            s.shop.shelves.keep_result(task, row, lines, result)
            return read_run(s.carrying.run) if of_run and s.carrying.run else None

        s.behind.do("shelf", keep, lambda went: self._kept(task, result, went), self._failed)

    def _kept(self, task: Task, result: dict[str, Any], went: RunNow | None) -> None:
        s = self._session
        if went is not None:
            s.carrying.now(went)
        word = "Put back" if task == Task.PUT_BACK else "Emptied"
        left = [f"{w['path'] or w['line']}: {w['why']}" for w in result["why"]]
        s.said.emit(f"{word}." if not left else f"{word}, but {len(left)} stay: {left[0]}")
        s.run_changed.emit()
        s.standing.look()

    def _failed(self, why: str) -> None:
        self._session.said.emit(why)
        self._session.standing.look()
