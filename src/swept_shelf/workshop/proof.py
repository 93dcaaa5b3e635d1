"""Proving: looking again after the work, taking out what was found, leaving it with a reason, signing off, the report."""

from __future__ import annotations

import hashlib
import json
import shutil
import uuid
from collections.abc import Collection
from dataclasses import asdict, replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.carry.run import Run
from swept_shelf.core.documents.clearance import REMNANTS, Clearance, Finding, standing_id
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.sign_off import (
    SIGN_OFF_FORMAT,
    SIGN_OFF_VERSION,
    Left,
    SignedFinding,
    SignOff,
    Technician,
    came_since,
    digest_of,
    known_by,
)
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.documents.trace import Trace
from swept_shelf.core.documents.wire import read_document, to_json
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine.own_folders import own_folder
from swept_shelf.core.orders import Choice
from swept_shelf.core.reports import Report, before_after, owner_html, report_csv, report_html, report_json
from swept_shelf.core.survey.called import called
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.rights.mirror import is_mirror

if TYPE_CHECKING:
    from swept_shelf.workshop.workshop import Workshop

_SURVEYS = 10  # of so many visits, newest first, is it asked what a name was


class Proof:
    """Of one machine, with one ledger."""

    def __init__(self, shop: Workshop) -> None:
        self._shop = shop

    # -- looking again ----------------------------------------------------------------------------------------

    def last_run(self, visit: VisitRow) -> RunRow:
        """The visit's newest run that was not only of what an earlier one left. Raises Refused."""
        rows = [r for r in self._shop.ledger.runs(visit.id) if not r.left_of]
        if not rows:
            raise Refused(f"nothing was carried out in visit {visit.number}")
        return rows[-1]

    def clearance_request(self, row: RunRow) -> dict[str, Any]:
        folder = row.folder / "looking"
        folder.mkdir(exist_ok=True)
        if is_mirror(row.folder):
            return {BY_RIGHTS: True, "do": "clearance", "run": row.id, "folder": str(folder)}
        return {
            "do": "clearance",
            "root": self._shop.machine.root,
            "run_folder": str(row.folder),
            "folder": str(folder),
        }

    def keep_clearance(self, visit: VisitRow, request: dict[str, Any]) -> Clearance:
        path = Path(request["folder"]) / "clearance.json"
        clearance = read_document(Clearance, path.read_bytes(), str(path))
        self._shop.ledger.add_clearance(visit.id, clearance)
        if clearance.remnants:
            self._keep_remnants(request, visit.id)
        return clearance

    def trace_request(
        self,
        name: str,
        known: Application | None,
        since: datetime | None,
        folder: str,
        with_rights: bool = False,
    ) -> dict[str, Any]:
        """Looks for `known` as a survey of `since` knew it, else for the name alone; `with_rights`: by a helper that asks for the
        administrator's. Raises Refused where nobody can be asked."""
        by = (
            {BY_RIGHTS: True}
            if with_rights and self._shop.ask_for_rights()
            else {"root": self._shop.machine.root}
        )
        request: dict[str, Any] = {"do": "trace", "name": name, "folder": folder} | by
        if known is not None and since is not None:
            request |= {"id": known.id, "names": known.pointed_at, "since": rfc3339(since)}
        return request

    def trace_of(
        self, name: str, folder: str, passed_over: list[CouldNotRead] | None = None, with_rights: bool = False
    ) -> dict[str, Any]:
        """The request for whatever a name means to the newest visit that knows it. Raises Refused where it may mean several."""
        known, since = self._known(name, passed_over if passed_over is not None else [])
        return self.trace_request(name, known, since, folder, with_rights)

    def _known(
        self, name: str, passed_over: list[CouldNotRead]
    ) -> tuple[Application | None, datetime | None]:
        visits = [v for v in self._shop.ledger.visits(self._shop.machine.key) if v.surveys]
        for visit in visits[:_SURVEYS]:
            try:
                survey = self._shop.survey_called(visit.id)[1].survey
            except CouldNotRead as error:
                passed_over.append(error)
                continue
            if not (found := called(survey, name)):
                continue
            if len(found) > 1:
                raise Refused(f"{name} could mean: {', '.join(sorted(e.id for e in found))}")
            if isinstance(found[0], Application) and found[0].pointed_at:
                return found[0], survey.surveyed_at
        return None, None

    def read_trace(self, request: dict[str, Any]) -> Trace:
        path = Path(request["folder"]) / "trace.json"
        trace = read_document(Trace, path.read_bytes(), str(path))
        if (
            trace.remnants
        ):  # a part of the newest visit, also of a closed one: a visit of its own would have no survey
            visits = self._shop.ledger.visits(self._shop.machine.key)
            self._keep_remnants(request, visits[0].id if visits else "")
        return trace

    def _keep_remnants(self, request: dict[str, Any], visit: str) -> None:
        """The small survey of what was found left, into the ledger."""
        source = Path(request["folder"]) / REMNANTS
        folder = self._shop.ledger.new_survey_folder()
        for name in ("survey.json", "survey.index"):
            shutil.copyfile(source / name, folder / name)
        data = (folder / "survey.json").read_bytes()
        survey = read_document(Survey, data, str(folder / "survey.json"))
        self._shop.ledger.add_survey(survey, hashlib.sha256(data).hexdigest(), folder, visit)

    # -- what was found ---------------------------------------------------------------------------------------

    def take_out(self, remnants: str, chosen: Collection[str]) -> Run:
        """A small order of its own for findings, by their ids, ready to be carried out. Raises Refused."""
        if not remnants:
            raise Refused("nothing of what was found can be taken out by an order")
        surveyed = self._shop.surveyed(remnants)
        verdicts: dict[str, str] = {}
        answers: dict[str, str] = {}
        references: set[str] = set()
        places: set[str] = set()
        for app in surveyed.survey.applications:
            mine = [r for r in app.references if r.id in chosen and r.action != "leave"]
            paths = {b.path for b in app.belongings if standing_id(app.id, b.path) in chosen}
            if mine or paths:
                verdicts[app.id] = Verdict.REMOVE
                asked = any(r.action == "ask" for r in mine)
                answers[f"pointed_at:{app.id}"] = "go_too" if asked else "they_stay"
                references |= {r.id for r in mine}
                places |= paths
        if not verdicts:
            raise Refused("none of these can be taken out by an order")
        now = self._shop.machine.now()
        choice = Choice(
            verdicts,
            frozenset(places),
            answers=answers,
            answered_at=dict.fromkeys(answers, now),
            only=frozenset(references),
        )
        visit = self._shop.ledger.visit(self._shop.machine.key, self._shop.ledger.visit_of_survey(remnants))
        order = self._shop.orders.draw(visit, surveyed, choice)
        run = self._shop.orders.prepare_run(order, f"order {order.id}")
        self._shop.ledger.add_order(visit.id, order)
        return run

    def leave(self, line: str, finding: Finding, why: str) -> None:
        """Note why a finding is left where it is; "": nobody says so any more."""
        who = self.technician().name
        left = Left(known_by(line, finding), why.strip(), who, self._shop.machine.now())
        self._shop.ledger.leave(self._shop.machine.key, left)

    def left(self) -> dict[str, Left]:
        """What was left on purpose on this machine, by `known_by`."""
        return self._shop.ledger.left(self._shop.machine.key)

    # -- signing off ------------------------------------------------------------------------------------------

    @property
    def _technician_file(self) -> Path:
        if self._shop.machine.description:
            return self._shop.ledger.folder / "technician.json"
        return own_folder("config") / "technician.json"

    def technician(self) -> Technician:
        """Who works here, by the settings. Raises CouldNotRead where they are broken."""
        path = self._technician_file
        if not path.exists():
            return Technician()
        try:
            known = json.loads(path.read_bytes())
            return Technician(str(known.get("name", "")), str(known.get("workshop", "")))
        except (OSError, ValueError, AttributeError) as error:
            raise CouldNotRead(f"is no file of settings: {error}", str(path)) from None

    def name_technician(self, technician: Technician) -> None:
        path = self._technician_file
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(json.dumps(asdict(technician), ensure_ascii=False, indent=1) + "\n")
        except OSError as error:
            raise Refused(f"cannot be written: {error.strerror}", str(path)) from None

    def sign_off(self, visit: VisitRow, technician: Technician) -> SignOff:
        """Freeze the visit's clearance and close the visit. Raises Refused where there is none, or work is unfinished."""
        ledger = self._shop.ledger
        row, clearance = self.last_run(visit), ledger.clearance(visit.id)
        if clearance is None or clearance.run != row.id:
            raise Refused("nobody has looked again yet: there is nothing to sign for")
        ledger.close_visit(self._shop.machine.key, visit.id)
        left = self.left()
        found = []
        for line in clearance.lines:
            for family, f in line.found:
                id = known_by(line.id, f)
                why = left[id].why if id in left else ""
                found.append(SignedFinding(id, line.id, family, f.path, f.line, why))
        signed = SignOff(
            SIGN_OFF_FORMAT,
            SIGN_OFF_VERSION,
            str(uuid.uuid4()),
            self._shop.machine.key,
            visit.number,
            clearance.order,
            clearance.id,
            self._shop.machine.now(),
            technician,
            _sum(row.folder / "survey.json"),
            _sum(row.folder / "order.json"),
            _sum(row.folder / "result.json"),
            hashlib.sha256(to_json(clearance)).hexdigest(),
            found,
            clearance.unread,
        )
        signed = replace(signed, digest=digest_of(signed))
        ledger.add_sign_off(visit.id, signed)
        return signed

    def signed(self, visit: VisitRow) -> SignOff | None:
        return self._shop.ledger.sign_off(visit.id)

    def came_since(self, visit: VisitRow, clearance: Clearance) -> list[tuple[str, str, Finding]]:
        """(line, family, finding) of what came back since the visit was signed off."""
        signed = self.signed(visit)
        return came_since(signed, clearance) if signed and signed.clearance != clearance.id else []

    # -- the report -------------------------------------------------------------------------------------------

    def write_reports(self, visit: VisitRow, folder: Path) -> list[Path]:
        """Every report of a visit, but the printed page, into a folder that is there. Raises Refused."""
        report = self.report(visit)
        sides = before_after(report)
        name = f"visit-{visit.number}"
        documents = {
            f"{name}-page.html": owner_html(report).encode("utf-8", "backslashreplace"),
            f"{name}-record.html": report_html(report).encode("utf-8", "backslashreplace"),
            f"{name}.json": report_json(report),
            f"{name}.csv": report_csv(report),
            **{f"{name}-{side}.cdx.json": data for side, data in sides.items()},
        }
        written = []
        for called_so, data in documents.items():
            try:
                (folder / called_so).write_bytes(data)
            except OSError as error:
                raise Refused(f"cannot be written: {error.strerror}", str(folder / called_so)) from None
            written.append(folder / called_so)
        return written

    def report(self, visit: VisitRow) -> Report:
        ledger = self._shop.ledger
        survey, _, _ = ledger.survey(visit.id)
        rows = ledger.runs(visit.id)
        row = next((r for r in reversed(rows) if not r.left_of), None)
        if row is None:
            return Report(visit.number, survey)
        orders = ledger.orders(visit.id)
        order = next((o for o in reversed(orders) if o.id == row.order), None)
        clearance = ledger.clearance(visit.id)
        if order is not None and survey.id != order.survey.id:
            survey = ledger.survey_by_id(order.survey.id)[0]
        return Report(
            visit.number,
            survey,
            order,
            row.result,
            clearance if clearance and clearance.run == row.id else None,
            row.put_back_at,
            row.emptied_at,
            [r.result for r in rows if r.left_of == row.id and r.result is not None],
            self.left(),
            self.signed(visit),
            self.technician(),
        )


def _sum(path: Path) -> str:
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""
