"""The owner's page: one sheet that says what was done, what stays and why, what waits, and what they should know."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from swept_shelf.core.documents.clearance import ClearanceLine, Finding
from swept_shelf.core.documents.order import FREED
from swept_shelf.core.documents.sign_off import known_by
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import STORE, Application, LeftBehind
from swept_shelf.core.documents.terms import Looked, Verdict
from swept_shelf.core.documents.times import day
from swept_shelf.core.reports.picture import as_address, free_space_svg, in_words
from swept_shelf.core.reports.visit import NOT_DONE, Report, has_gone, page

_WENT, _STAYS, _KNOW = 10, 4, 4  # rows of the page: one sheet, also where each takes two lines


@dataclass(frozen=True, slots=True)
class Row:
    what: str
    why: str
    size: str = ""


def owner_html(report: Report, printed: bool = False) -> str:
    """One page, by itself: no scripts, nothing fetched. Names on the machine are shown, never heeded. `printed`: for paper."""
    proved = report.clearance.lines if report.clearance else []
    findings, still = sum(len(x.found) for x in proved), sum(1 for _ in open_findings(report))
    went, stays, know = list(_went(report)), list(_stays(report)), list(_to_know(report))
    volumes = report.clearance.volumes if report.clearance else []
    return page(
        "owner.html",
        r=report,
        went=went[:_WENT],
        more_went=len(went) - _WENT,
        stays=stays[:_STAYS],
        more_stays=len(stays) - _STAYS,
        know=know[:_KNOW],
        more_know=len(know) - _KNOW,
        picture=as_address(free_space_svg(volumes)) if volumes else "",
        said=in_words(volumes),
        waiting=sum(v.on_shelf for v in volumes),
        open_findings=still,
        kept=findings - still,
        printed=printed,
    )


def open_findings(report: Report) -> Iterator[tuple[ClearanceLine, str, Finding]]:
    """(line, family, finding) of what still points and nobody left on purpose."""
    for line in report.clearance.lines if report.clearance else ():
        for family, finding in line.found:
            if known_by(line.id, finding) not in report.left:
                yield line, family, finding


def _went(report: Report) -> Iterator[Row]:
    for line in report.order.lines if report.order else ():
        size = human_bytes(line.comes_back)
        if line.id == FREED:
            yield Row(plural(len(line.packages), "part"), "nothing needs them any more", size)
        elif line.verdict == Verdict.CLEAR_CACHE:
            yield Row(line.name, "its cache only, which it makes again", size)
        elif line.verdict == Verdict.MOVE_DATA:
            yield Row(line.name, f"stays; what it keeps lies on another volume now ({line.to})", size)
        elif line.verdict == Verdict.STOP_STARTING:
            yield Row(line.name, "stays, and does not start by itself any more", size)
        elif has_gone(report, line):
            why = _why(report.survey.find(line.id))
            yield Row(line.name, f"{why}; {line.note}" if line.note else why, size)


def _why(entry: Application | LeftBehind | None) -> str:
    if isinstance(entry, LeftBehind):
        if entry.was.registry == STORE:
            return "fetched or made again where it is needed"
        return "left behind by what was removed before"
    used = entry.last_use if entry else None
    if used is None or used.at is None:
        return "no sign that anybody used it"
    return f"last used on {day(used.at)}{f' by {used.person}' if used.person else ''}"


def _stays(report: Report) -> Iterator[Row]:
    for line in report.order.lines if report.order else ():
        if line.verdict == Verdict.KEEP:
            yield Row(line.name, line.note or "kept, as was agreed")
    for proved in report.clearance.lines if report.clearance else ():
        for _, finding in proved.found:
            if left := report.left.get(known_by(proved.id, finding)):
                yield Row(finding.path, f"still names {proved.name}: {left.why}")
    if report.order:
        for question in report.order.settle:
            if question.answer == "they_stay":
                yield Row(question.title, question.evidence)


def _to_know(report: Report) -> Iterator[str]:
    if report.put_back_at:
        yield f"All of it was put back on {day(report.put_back_at)}."
    if report.order and not report.clearance:
        yield "It has not been looked at again yet: there is no proof."
    open_ones = list(open_findings(report))
    for line, _, finding in open_ones[:3]:
        if finding.kind == "path":
            yield f"{finding.path} of {line.name} {finding.detail}."
        else:
            yield f"{finding.path} still points at {line.name}: {finding.detail}."
    if len(open_ones) > 3:
        yield f"{plural(len(open_ones) - 3, 'more place')} are left: the full record names each."
    unseen = {
        (c.looked_at, c.helps)
        for line in (report.clearance.lines if report.clearance else ())
        for c in line.cells
        if c.state == Looked.COULD_NOT_LOOK
    }
    for looked, helps in sorted(unseen)[:2]:
        yield f"Could not look: {looked}{f' ({helps})' if helps else ''}."
    skipped = [r for r in (report.result.records if report.result else ()) if r.state in NOT_DONE]
    if skipped and not report.put_back_at:
        yield f"{plural(len(skipped), 'step')} of the order could not be done: {skipped[0].where}: {skipped[0].note.rstrip('.')}."
    if not report.survey.complete:
        first = report.survey.not_read[0]
        yield f"{plural(len(report.survey.not_read), 'place')} could not be read when the computer was surveyed: {first.path}."
