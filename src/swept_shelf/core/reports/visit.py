"""The report of a visit: the full record as one HTML page that stands alone, and as one JSON document."""

from __future__ import annotations

import json
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from importlib import resources

from swept_shelf.core.documents.answers import BOXES
from swept_shelf.core.documents.clearance import FAMILIES, Clearance, ClearanceLine
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.order import Order, OrderLine
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.sign_off import Left, SignOff, Technician, known_by
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.terms import Looked, Verdict, Went
from swept_shelf.core.documents.times import clock, day, rfc3339
from swept_shelf.core.documents.used import months_of_use
from swept_shelf.core.documents.wire import to_plain


@dataclass(frozen=True, slots=True)
class Report:
    """Everything a report says; `taken_out`: what was taken out after looking again; `left`: why findings stay, by `known_by`."""

    visit: int
    survey: Survey
    order: Order | None = None
    result: RunResult | None = None
    clearance: Clearance | None = None
    put_back_at: datetime | None = None
    emptied_at: datetime | None = None
    taken_out: list[RunResult] = field(default_factory=list)
    left: dict[str, Left] = field(default_factory=dict)
    signed: SignOff | None = None
    technician: Technician = field(default_factory=Technician)


NOT_DONE = (Went.SKIPPED, Went.LEFT, Went.PUT_BACK, Went.WAITS)


def has_gone(report: Report, line: OrderLine) -> bool:
    """Whether what a line was to remove went: by the clearance, and where nobody looked again by how its operations went."""
    if line.verdict != Verdict.REMOVE or report.result is None or report.put_back_at:
        return False
    known = next((x for x in report.clearance.lines if x.id == line.id), None) if report.clearance else None
    if known is not None:
        states = {c.family: c.state for c in known.cells}
        return states["registry" if line.packages else "files"] != Looked.FOUND
    mine = [r.state for r in report.result.records if r.line == line.id]
    return bool(mine) and not any(s in NOT_DONE for s in mine)


def report_json(report: Report) -> bytes:
    """One JSON document: format swept-shelf/report, with the documents it is made of."""
    plain = {
        "format": "swept-shelf/report",
        "version": 1,
        "visit": report.visit,
        "machine": to_plain(report.survey.machine),
        "survey": {
            "id": report.survey.id,
            "surveyed_at": rfc3339(report.survey.surveyed_at),
            "complete": report.survey.complete,
            "applications": len(report.survey.applications),
            "volumes": [to_plain(v) for v in report.survey.volumes],
        },
        "order": to_plain(report.order) if report.order else None,
        "run": to_plain(report.result) if report.result else None,
        "last_use": [
            {"id": a.id, "name": a.name, **to_plain(replace(a.last_use, signs=[]))}
            for a in _of_interest(report)
        ],
        "clearance": to_plain(report.clearance) if report.clearance else None,
        "taken_out": [to_plain(x) for x in report.taken_out],
        "left": [to_plain(x) for x in report.left.values()],
        "signed": to_plain(report.signed) if report.signed else None,
        "technician": to_plain(report.technician),
        "put_back_at": rfc3339(report.put_back_at) if report.put_back_at else None,
        "emptied_at": rfc3339(report.emptied_at) if report.emptied_at else None,
    }
    return json.dumps(plain, ensure_ascii=False, indent=1).encode() + b"\n"


def page(template: str, **values: object) -> str:
    """A page made from one of our templates: names are shown as text, whatever they are made of."""
    from jinja2 import Environment

    environment = Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True)
    environment.filters |= {"bytes": human_bytes, "day": day, "clock": clock, "plain": printable}
    environment.globals |= {"plural": plural, "families": FAMILIES, "known_by": known_by}
    text = resources.files(__package__).joinpath(template).read_text("utf-8")
    return environment.from_string(text).render(**values)


def report_html(report: Report) -> str:
    """The full record: every operation, every place that was looked at, every finding. No scripts, nothing fetched."""
    return page(
        "record.html",
        r=report,
        used=_of_interest(report),
        on_purpose=_on_purpose,
        boxes=BOXES,
        months=lambda use: months_of_use(use, report.survey.surveyed_at),
        looked={x.family: x.places for x in report.clearance.looked_in} if report.clearance else {},
    )


def _on_purpose(line: ClearanceLine) -> list[str]:
    """What of it stays, and who needs it: a clearance says so behind what it looked at."""
    return [said for cell in line.cells if cell.family == "files" for said in cell.looked_at.split("; ")[1:]]


def _of_interest(report: Report) -> list[Application]:
    """The applications of the order, or all of them where nothing was ordered, least recently used first."""
    ordered = {line.id for line in report.order.lines} if report.order else None
    early = datetime(1, 1, 1, tzinfo=UTC)
    found = [a for a in report.survey.applications if ordered is None or a.id in ordered]
    return sorted(found, key=lambda a: (a.last_use.at or early, a.name.lower()))
