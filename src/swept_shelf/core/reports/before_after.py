"""Before and after a visit's work for other programs: CycloneDX of both and of their difference, and a table of lines."""

from __future__ import annotations

import csv
from dataclasses import replace
from io import StringIO

from swept_shelf.core.documents.clearance import FAMILIES
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import Looked, Went
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.reports.comparison import compare, comparison_cyclonedx
from swept_shelf.core.reports.inventory import inventory_cyclonedx, plain_cell
from swept_shelf.core.reports.visit import NOT_DONE, Report, has_gone


def after_of(report: Report) -> Survey:
    """The survey without what went."""
    if report.order is None or report.result is None or report.put_back_at:
        return report.survey
    gone = {x.id for x in report.order.lines if has_gone(report, x)}
    packages = {p for x in report.order.lines if x.id in gone for p in x.packages}
    survey = report.survey
    system = replace(survey.system, packages=[p for p in survey.system.packages if p not in packages])
    return replace(
        survey,
        surveyed_at=report.result.finished_at,
        applications=[a for a in survey.applications if a.id not in gone],
        left_behind=[e for e in survey.left_behind if e.id not in gone],
        system=system,
    )


def before_after(report: Report) -> dict[str, bytes]:
    """Three CycloneDX 1.6 documents: before, after, difference."""
    after = after_of(report)
    difference = compare(report.survey, after, (report.visit, report.visit))
    return {
        "before": inventory_cyclonedx(report.survey),
        "after": inventory_cyclonedx(after),
        "difference": comparison_cyclonedx(difference),
    }


def report_csv(report: Report) -> bytes:
    """One row per line of the order, UTF-8: what came back, how the operations went, and the state of each family."""
    made = StringIO()
    writer = csv.writer(made, lineterminator="\r\n")
    writer.writerow(
        (
            "id",
            "name",
            "verdict",
            "bytes",
            "done",
            "not done",
            "last used",
            *FAMILIES,
            "findings",
            "mentions",
            "note",
        )
    )
    proved = {x.id: x for x in report.clearance.lines} if report.clearance else {}
    records = report.result.records if report.result else []
    used = {a.id: a.last_use.at for a in report.survey.applications}
    for line in report.order.lines if report.order else ():
        mine = [r.state for r in records if r.line == line.id]
        known, at = proved.get(line.id), used.get(line.id)
        states = {c.family: c.state for c in known.cells} if known else {}
        row = (
            line.id,
            line.name,
            str(line.verdict),
            line.comes_back,
            sum(s == Went.DONE for s in mine),
            sum(s in NOT_DONE for s in mine),
            rfc3339(at) if at else "",
            *(str(states.get(f, Looked.NOT_PART)) for f in FAMILIES),
            len(known.found) if known else 0,
            len(known.mentions) if known else 0,
            line.note,
        )
        writer.writerow([plain_cell(c) if isinstance(c, str) else c for c in row])
    return made.getvalue().encode("utf-8")
