"""Proving: looking again after the work, the report, signing off."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.documents.clearance import Clearance
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.reports import report_html, report_json
from swept_shelf.desk.session.carrying import RunState

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class Proving:
    """`gone`: what the run in hand moved was put back or emptied meanwhile."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.clearance: Clearance | None = None
        self.gone = False

    @property
    def due(self) -> bool:
        """Something was carried out, and nobody has looked again since."""
        carrying = self._session.carrying
        ended = carrying.run is not None and carrying.state == RunState.ENDED
        return ended and self.clearance is None and not self.gone

    def look_again(self) -> None:
        s = self._session
        if s.worker is not None or s.visit is None:
            return
        try:
            row = s.shop.proof.last_run(s.visit)
        except SweptShelfError as error:
            s.said.emit(str(error))
            return
        request = s.shop.proof.clearance_request(row)
        s.looking.progress = ("", 0, 3)
        s.start_worker(request, lambda _: self._looked(request, ""), lambda why: self._looked(request, why))
        s.clearance_changed.emit()

    def _looked(self, request: dict[str, Any], why: str) -> None:
        s = self._session
        s.looking.progress, s.looking.problem = None, why
        if not why and s.visit is not None:
            self.clearance = s.shop.proof.keep_clearance(s.visit, request)
        s.clearance_changed.emit()
        s.ledger_changed.emit()

    def write_report(self, path: str) -> None:
        s = self._session
        if s.visit is None:
            return
        made = s.shop.proof.report(s.visit)
        as_json = path.endswith(".json")
        data = report_json(made) if as_json else report_html(made).encode("utf-8", "backslashreplace")
        try:
            Path(path).write_bytes(data)
            s.said.emit(f"Wrote {path}")
        except OSError as error:
            s.said.emit(f"{path}: {error.strerror}")

    def sign_off(self, path: str) -> None:
        """Write the report and close the visit."""
        s = self._session
        self.write_report(path)
        try:
            s.shop.ledger.close_visit(s.shop.machine.key)
        except SweptShelfError as error:
            s.said.emit(str(error))
        s.ledger_changed.emit()
