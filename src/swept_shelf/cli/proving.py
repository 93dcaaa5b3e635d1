"""clearance, report, visits."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from swept_shelf.cli.carrying import carry
from swept_shelf.cli.common import format_option, out, out_json, say, table, with_workshop, work
from swept_shelf.core.documents.clearance import FAMILIES, Clearance, Finding
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sign_off import Left, Technician, known_by
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import day, rfc3339
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.upkeep.timer import timer
from swept_shelf.workshop import Workshop
from swept_shelf.written import KINDS, write_one

_MARKS = {Looked.CLEAR: "clear", Looked.COULD_NOT_LOOK: "?", Looked.NOT_PART: "-"}


take_out_option = click.option(
    "--take-out",
    "chosen",
    multiple=True,
    metavar="ID",
    help="Take out this finding now; `all`: all that is nobody's.",
)


@click.command()
@click.argument("visit", default="latest")
@take_out_option
@click.option("--leave", multiple=True, metavar="ID=WHY", help="Leave this finding where it is, and say why.")
@format_option
@with_workshop
def clearance(shop: Workshop, visit: str, chosen: tuple[str, ...], leave: tuple[str, ...], form: str) -> None:
    """Look again at every place that could still point at what was removed."""
    row = shop.ledger.visit(shop.machine.key, visit)
    run = shop.proof.last_run(row)
    reasons = dict(_reason(text) for text in leave)
    found = _look(shop, row, run)
    if reasons:
        _leave(shop, found, reasons)
    if chosen:
        rows = [(line.id, f) for line in found.lines for _, f in line.found]
        carry(shop, shop.proof.take_out(found.remnants, chosen_ids(shop, rows, chosen)))
        found = _look(shop, row, run)
    if form == "json":
        out_json(to_json(found))
    else:
        print_clearance(found, shop.proof.left())
        for id, family, f in shop.proof.came_since(row, found):
            say(f"since it was signed off: {id} · {family}: {f.path}: {f.detail}")
    if found.findings or found.unread:
        say(f"{plural(found.findings, 'finding')}, {plural(found.unread, 'place')} could not be looked at")
        sys.exit(1)


def _look(shop: Workshop, row: VisitRow, run: RunRow) -> Clearance:
    request = shop.proof.clearance_request(run)
    work(request, "Looking again")
    return shop.proof.keep_clearance(row, request)


def _reason(text: str) -> tuple[str, str]:
    id, sign, why = text.partition("=")
    if not sign or not why.strip():
        raise Refused(f"--leave takes ID=WHY, not {text}")
    return id, why


def _leave(shop: Workshop, found: Clearance, reasons: dict[str, str]) -> None:
    known = {f.id: (line.id, f) for line in found.lines for _, f in line.found}
    for id, why in reasons.items():
        if id not in known:
            raise Refused(f"no finding {id}: found are {', '.join(known) or 'none'}")
        shop.proof.leave(*known[id], why)


def chosen_ids(shop: Workshop, rows: list[tuple[str, Finding]], chosen: tuple[str, ...]) -> set[str]:
    """The findings meant, of (line, finding); `all`: what can be taken out, is nobody's own and is not left on purpose.
    Raises Refused for one that is not there."""
    known, left = {f.id: f for _, f in rows}, shop.proof.left()
    ids: set[str] = set()
    for text in chosen:
        if text == "all":
            ids |= {f.id for line, f in rows if f.action == "take_out" and known_by(line, f) not in left}
        elif text not in known:
            raise Refused(f"no finding {text}: found are {', '.join(known) or 'none'}")
        elif known[text].action == "leave":
            raise Refused("no order takes it out", f"{known[text].path}: {known[text].detail}")
        else:
            ids.add(text)
    return ids


_ACTIONS = {"take_out": "--take-out", "ask": "somebody's own: --take-out", "leave": "by hand:"}


def finding_line(f: Finding, why: str = "") -> str:
    """A finding with its place, and what to do about it."""
    where = f"{f.path}{f', line {f.line}' if f.line else ''}"
    return f"{where}: {f.detail}: {f.text}  [{f'left: {why}' if why else f'{_ACTIONS[f.action]} {f.id}'}]"


def print_mentions(mentions: list[Finding], whose: str = "") -> None:
    """Weaker than findings: by file, with the first line that names it."""
    for f in mentions:
        out(f"{whose}mentioned: {f.path}{f', line {f.line}' if f.line else ''}: {f.detail}: {f.text}")


def print_clearance(found: Clearance, left: dict[str, Left] | None = None) -> None:
    rows = [
        [f, *(_mark(line.cells[i].state, len(line.cells[i].findings)) for line in found.lines)]
        for i, f in enumerate(FAMILIES)
    ]
    table(["Family", *(line.name for line in found.lines)], rows)
    for line in found.lines:
        for family, f in line.found:
            known = (left or {}).get(known_by(line.id, f))
            out(f"{line.name} · {family}: {finding_line(f, known.why if known else '')}")
        print_mentions(line.mentions, f"{line.name} · ")
    unread = {
        (c.family, c.looked_at): c
        for line in found.lines
        for c in line.cells
        if c.state == Looked.COULD_NOT_LOOK
    }
    for cell in unread.values():
        out(f"could not look · {cell.family}: {cell.looked_at}{f': {cell.helps}' if cell.helps else ''}")
    for v in found.volumes:
        out(
            f"{v.mount}: {human_bytes(v.promised)} promised, {human_bytes(v.came_back)} back now, "
            f"{human_bytes(v.on_shelf)} on the holding shelf, {human_bytes(v.still_open)} still open, "
            f"{human_bytes(abs(v.by_others))} {'written' if v.by_others >= 0 else 'freed'} by others meanwhile"
        )


def _mark(state: Looked, findings: int) -> str:
    return _MARKS.get(state, f"{findings} found")


@click.command()
@click.argument("visit", default="latest")
@click.option("--name", default=None, help="Who signs; remembered.")
@click.option("--workshop", default=None, help="For which workshop; remembered.")
@format_option
@with_workshop
def sign_off(shop: Workshop, visit: str, name: str | None, workshop: str | None, form: str) -> None:
    """Freeze the clearance of a visit, with who answers for it, and close the visit."""
    technician = named(shop, name, workshop)
    if not technician.name:
        raise Refused("nobody signs: say --name NAME once")
    signed = shop.proof.sign_off(shop.ledger.visit(shop.machine.key, visit), technician)
    if form == "json":
        out_json(to_json(signed))
    else:
        out(
            f"order {signed.order} signed off by {technician.words} on {day(signed.signed_at)}: {signed.digest}"
        )
    reasons = sum(bool(f.why) for f in signed.found)
    say(
        f"{plural(len(signed.found), 'finding')}, {reasons} of them left with a reason; "
        f"{plural(signed.could_not_look, 'place')} could not be looked at"
    )
    if shop.machine.live and not timer().on:
        say(
            "upkeep is off: `swept-shelf upkeep --on` looks every week, and says what grew and what nobody uses"
        )


def named(shop: Workshop, name: str | None, workshop: str | None) -> Technician:
    """Who works here, with what was said now."""
    known = shop.proof.technician()
    technician = Technician(
        known.name if name is None else name, known.workshop if workshop is None else workshop
    )
    if technician != known:
        shop.proof.name_technician(technician)
    return technician


@click.command()
@click.option("--name", default=None, help="Your name, as reports have it.")
@click.option("--workshop", default=None, help="The workshop's name and address.")
@with_workshop
def technician(shop: Workshop, name: str | None, workshop: str | None) -> None:
    """Who works here: what reports and sign-offs say."""
    known = named(shop, name, workshop)
    out(known.words or "nobody has said who works here: --name NAME --workshop WORKSHOP")


@click.command()
@click.argument("visit", default="latest")
@click.option(
    "-o", "--output", required=True, metavar="FILE", help=f"A folder for all of them, or a file: {KINDS}."
)
@click.option("--full", is_flag=True, help="The whole record, not the page for the owner.")
@click.option(
    "--side",
    type=click.Choice(["before", "after", "difference"]),
    default="difference",
    help="Which inventory a .cdx.json is.",
)
@with_workshop
def report(shop: Workshop, visit: str, output: str, full: bool, side: str) -> None:
    """Write the report of a visit: a page for the owner, the full record, tables and inventories."""
    row, place = shop.ledger.visit(shop.machine.key, visit), Path(output)
    if place.is_dir():
        for path in shop.proof.write_reports(row, place):
            say(f"wrote {path}")
        return
    write_one(shop.proof.report(row), place, full, side)
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
    for path, why in shop.orders.damaged_runs():
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
