"""The holding shelf into a file on another medium, and back from one."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from swept_shelf.core.documents.sizes import plural

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class Archiving:
    def __init__(self, session: Session) -> None:
        self._session = session

    def write(self, file: str) -> None:
        """All that waits of the visit in hand, into `file`; said when it was read again and compared."""
        s = self._session
        if s.taken or s.visit is None:
            return
        which = s.visit.id
        self._work(lambda: s.shop.shelves.archive_requests(file, which), lambda: None)

    def write_run(self, run: str, file: str, then: Callable[[], None]) -> None:
        """What one run put on the shelf; `then` in any case, when nothing is at work any more."""
        s = self._session
        self._work(lambda: [s.shop.shelves.archive_request_of(run, file)], then)

    def _work(self, drawn: Callable[[], list[dict[str, Any]]], then: Callable[[], None]) -> None:
        s = self._session

        def failed(why: str) -> None:
            self._failed(why)
            then()

        def begin(requests: list[dict[str, Any]]) -> None:
            request, *rest = requests
            s.start_worker(request, lambda result: done(request, rest, result), failed)
            s.ledger_changed.emit()

        def done(request: dict[str, Any], rest: list[dict[str, Any]], result: dict[str, Any]) -> None:
            def named(written: str) -> None:
                if rest:
                    begin(rest)
                    return
                left = f" Not in it: {result['left_out'][0]}." if result["left_out"] else ""
                things = plural(result["things"], "thing")
                s.said.emit(
                    f"{things} in {written}, read again and compared.{left} The shelf can be emptied."
                )
                s.standing.look()
                then()

            s.behind.do("archive", lambda: s.shop.shelves.archived(request), named, failed)

        s.behind.do("archive", drawn, begin, failed)

    def restore(self, file: str) -> None:
        """All that an archive holds, back to where it was."""
        s = self._session
        if s.taken:
            return

        def begin(request: dict[str, Any]) -> None:
            s.start_worker(request, done, self._failed)
            s.ledger_changed.emit()

        def done(result: dict[str, Any]) -> None:
            left = [f"{w['path']}: {w['why']}" for w in result["why"]]
            s.said.emit(
                f"Put back from the archive, but {len(left)} stay on the shelf: {left[0]}"
                if left
                else "Put back from the archive. Survey again, and it is in the list."
            )
            s.standing.look()

        s.behind.do("archive", lambda: s.shop.shelves.restore_request(file, [], False), begin, self._failed)

    def _failed(self, why: str) -> None:
        self._session.said.emit(why)
        self._session.standing.look()
