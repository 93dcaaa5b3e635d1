"""clearance, report, visits."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from swept_shelf.cli.common import format_option, out, out_json, say, table, with_workshop, work
from swept_shelf.core.documents.clearance import FAMILIES, Clearance
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import day, rfc3339
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.reports import report_html, report_json
from swept_shelf.workshop import Workshop

_MARKS = {Looked.CLEAR: "clear", Looked.COULD_NOT_LOOK: "?", Looked.NOT_PART: "-"}


@click.command()
@click.argument("visit", default="latest")
@format_option
@with_workshop
def clearance(shop: Workshop, visit: str, form: str) -> None:
    """Look again at every place that could still point at what was removed."""
    row = shop.ledger.visit(shop.machine.key, visit)
    request = shop.clearance_request(shop.last_run(row))
    work(request, "Looking again")
    found = shop.keep_clearance(row, request)
    if form == "json":
        out_json(to_json(found))
    else:
        print_clearance(found)
    if found.findings or found.unread:
        say(f"{plural(found.findings, 'finding')}, {plural(found.unread, 'place')} could not be looked at")
        sys.exit(1)


def print_clearance(found: Clearance) -> None:
    rows = [
        [f, *(_mark(line.cells[i].state, len(line.cells[i].findings)) for line in found.lines)]
        for i, f in enumerate(FAMILIES)
    ]
    table(["Family", *(line.name for line in found.lines)], rows)
    for line in found.lines:
        for cell in line.cells:
            for f in cell.findings:
                out(
                    f"{line.name} · {cell.family}: {f.path}{f', line {f.line}' if f.line else ''}: {f.detail}: {f.text}"
                )
    for v in found.volumes:
        out(
            f"{v.mount}: {human_bytes(v.promised)} promised, {human_bytes(v.came_back)} "
            f"back now, {human_bytes(v.on_shelf)} on the holding shelf"
        )


def _mark(state: Looked, findings: int) -> str:
    return _MARKS.get(state, f"{findings} found")


@click.command()
@click.argument("visit", default="latest")
@click.option("-o", "--output", required=True, metavar="FILE", help="report.html or report.json")
@with_workshop
def report(shop: Workshop, visit: str, output: str) -> None:
    """Write the report of a visit: HTML for the owner, JSON for other programs (by the file's ending)."""
    made = shop.report(shop.ledger.visit(shop.machine.key, visit))
    if not output.endswith((".html", ".htm", ".json")):
        raise Refused("a report is a .html or a .json file", output)
    data = (
        report_json(made)
        if output.endswith(".json")
        else report_html(made).encode("utf-8", "backslashreplace")
    )
    try:
        Path(output).write_bytes(data)
    except OSError as error:
        raise Refused(f"cannot be written: {error.strerror}", output) from None
    say(f"wrote {output}")


@click.command()
@click.option("--all", "everywhere", is_flag=True, help="Of all machines in the ledger.")
@click.option("--close", default=None, metavar="VISIT", help="Close a visit.")
@format_option
@with_workshop
def visits(shop: Workshop, everywhere: bool, close: str | None, form: str) -> None:
    """Visits in the ledger, newest first."""
    if close is not None:
        closed = shop.ledger.close_visit(shop.machine.key, close)
        say(f"visit {closed.number} is closed")
    rows = shop.ledger.visits(None if everywhere else shop.machine.key)
    for path, why in shop.damaged_runs():
        say(f"{path}: {why}: it was left alone")
    if form == "json":
        out_json(
            [
                {
                    "id": v.id,
                    "number": v.number,
                    "machine": v.machine,
                    "name": v.machine_name,
                    "opened_at": rfc3339(v.opened_at),
                    "closed_at": rfc3339(v.closed_at) if v.closed_at else None,
                    "surveys": v.surveys,
                    "order": v.order,
                    "lines": v.lines,
                }
                for v in rows
            ]
        )
        return
    table(
        ["Visit", "Machine", "Opened", "Surveys", "Order", "State"],
        (
            [
                str(v.number),
                v.machine_name,
                day(v.opened_at),
                str(v.surveys),
                v.order or "looked only",
                "closed" if v.closed_at else "open",
            ]
            for v in rows
        ),
        right=(0, 3),
    )
