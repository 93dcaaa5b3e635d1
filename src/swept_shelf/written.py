"""One report, or a question sheet, into one file, of the kind that the file's ending says."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.reports import (
    Report,
    before_after,
    owner_html,
    questions_html,
    questions_markdown,
    report_csv,
    report_html,
    report_json,
)

KINDS = ".html (the page for the owner, or with --full the whole record), .pdf, .json, .csv or .cdx.json"


def write_questions(order: Order, survey: Survey, path: Path, now: datetime, by: str) -> None:
    """The question sheet: .html or .pdf to be printed, .md to come back answered. Raises Refused."""
    name = path.name.lower()
    if name.endswith(".pdf"):
        from swept_shelf.desk.parts.pdf import write_pdf

        sheet = questions_html(order, survey, now, by, printed=True)
        write_pdf(sheet, path, survey.machine.name, one_sheet=False)
        return
    if name.endswith((".html", ".htm")):
        text = questions_html(order, survey, now, by)
    elif name.endswith(".md"):
        text = questions_markdown(order, survey)
    else:
        raise Refused(
            "a question sheet is a file that ends in .html, .pdf, or .md (to come back answered)", str(path)
        )
    try:
        path.write_bytes(text.encode("utf-8", "backslashreplace"))
    except OSError as error:
        raise Refused(f"cannot be written: {error.strerror}", str(path)) from None


def write_one(report: Report, path: Path, full: bool = False, side: str = "difference") -> None:
    """`full`: the whole record where there is a page for the owner too. Raises Refused for another ending, and where it cannot
    be written."""
    name = path.name.lower()
    if name.endswith(".pdf"):
        from swept_shelf.desk.parts.pdf import write_pdf

        page = report_html(report) if full else owner_html(report, printed=True)
        write_pdf(page, path, report.survey.machine.name, one_sheet=not full)
        return
    if name.endswith((".html", ".htm")):
        page = report_html(report) if full else owner_html(report)
        data = page.encode("utf-8", "backslashreplace")
    elif name.endswith(".cdx.json"):
        data = before_after(report)[side]
    elif name.endswith(".json"):
        data = report_json(report)
    elif name.endswith(".csv"):
        data = report_csv(report)
    else:
        raise Refused(f"a report is a file that ends in {KINDS}", str(path))
    try:
        path.write_bytes(data)
    except OSError as error:
        raise Refused(f"cannot be written: {error.strerror}", str(path)) from None
