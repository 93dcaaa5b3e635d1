"""carry-out, resume, put-back, empty."""

from __future__ import annotations

import sys
from collections.abc import Iterable
from itertools import groupby

import click

from swept_shelf.cli.archiving import written
from swept_shelf.cli.common import find_line, say, with_workshop, work
from swept_shelf.cli.ordering import load_order, with_option
from swept_shelf.core.carry.archive.place import check_place
from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.documents.errors import Interrupted, Refused
from swept_shelf.core.documents.order import FREED
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.terms import Ended, Task, Went
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine.facts import restart_needed
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.workshop import Workshop

_LONGEST = 200  # characters of a list of packages that are said


@click.command()
@click.argument("file")
@click.option(
    "--originals", default="", metavar="DIR", help="Keep package originals there, not on the holding shelf."
)
@click.option(
    "--archive",
    "archive_to",
    default="",
    metavar="FILE",
    help="Write what goes into FILE as well, on another medium, and compare it.",
)
@with_workshop
def carry_out(shop: Workshop, file: str, originals: str, archive_to: str) -> None:
    """Carry an order out. What was skipped is tried again when the same order is given again."""
    order = load_order(file)
    shop.orders.surveyed_of(order, file)
    if archive_to:
        check_place(archive_to, order.total)
    try:
        run = shop.orders.again(order) or shop.orders.prepare_run(order, file, originals)
    except Refused as error:
        error.args = (with_option(str(error)),)
        raise
    whole = carried(shop, run)
    if archive_to:
        whole = written(shop, shop.shelves.archive_request_of(run.id, archive_to)) and whole
    if not whole:
        sys.exit(1)


def carry(shop: Workshop, run: Run) -> None:
    """The same; exit status 1 where something is left."""
    if not carried(shop, run):
        sys.exit(1)


def carried(shop: Workshop, run: Run) -> bool:
    """Carry a run out, and say how it went; False where something is left."""
    try:
        work(shop.orders.carry_request(run), f"Order {run.order.id}")
    except Interrupted:
        shop.ledger.take_in()
        raise Interrupted(
            f"order {run.order.id} was cut off: `swept-shelf resume --finish` or `swept-shelf resume --put-back`"
        ) from None
    shop.ledger.take_in()
    path = run.folder / "result.json"
    result = read_document(RunResult, path.read_bytes(), str(path))
    done = sum(r.state == Went.DONE for r in result.records)
    say(f"order {run.order.id}: {done} of {plural(len(result.records), 'operation')} done")
    for record in result.skipped:
        where = record.where if len(record.where) <= _LONGEST else record.where[:_LONGEST] + " …"
        say(f"skipped {record.number}: {record.what} {where}: {record.note}")
    for (line, note), records in groupby(
        (r for r in result.records if r.state == Went.LEFT), lambda r: (r.line, r.note)
    ):
        count, known = len(list(records)), run.order.line(line)
        say(f"left: {plural(count, 'operation')} of {known.name if known else line}: {note}")
    if again := restart_needed(shop.machine):
        say(again)
    return not (result.unfinished or result.state == Ended.STOPPED)


@click.command()
@click.argument("visit", default="latest")
@click.option("--finish", "how", flag_value="finish", default=None, help="Carry on to the end.")
@click.option("--put-back", "how", flag_value="put_back", help="Put everything back.")
@with_workshop
def resume(shop: Workshop, visit: str, how: str | None) -> None:
    """Finish, or put back, what was cut off in VISIT."""
    known = shop.ledger.visit(shop.machine.key, visit) if shop.ledger.visits(shop.machine.key) else None
    run = shop.orders.interrupted(known.id if known and visit != "latest" else "")
    if run is None:
        say("nothing was interrupted" if visit == "latest" else f"nothing was interrupted in visit {visit}")
        return
    if how is None:
        raise Refused(f"order {run.order.id} was cut off: say --finish or --put-back")
    mode = run.state.mode
    row = shop.ledger.run(run.id)
    assert row is not None
    if mode == Task.EMPTY:
        if how == Task.PUT_BACK:
            raise Refused("emptying cannot be undone: say --finish, then put back what is left")
        left = _shelf_work(shop, Task.EMPTY, row, [])
    elif mode == Task.PUT_BACK or how == Task.PUT_BACK:
        left = _shelf_work(shop, Task.PUT_BACK, row, [])
    else:
        carry(shop, run)
        return
    if left:
        sys.exit(1)


@click.command()
@click.argument("visit", default="latest")
@click.argument("apps", nargs=-1, metavar="[APP]...")
@with_workshop
def put_back(shop: Workshop, visit: str, apps: tuple[str, ...]) -> None:
    """Put back what waits on the holding shelf: all of a visit, or some applications of it; of the latest where none is named."""
    _not_interrupted(shop, "put-back")
    if visit not in {
        "latest",
        *(x for v in shop.ledger.visits(shop.machine.key) for x in (str(v.number), v.id)),
    }:
        visit, apps = "latest", (visit, *apps)
    _each(shop, Task.PUT_BACK, [(row, _lines(row, apps)) for row in _rows(shop, visit)])


@click.command()
@click.argument("visit", default="latest")
@with_workshop
def empty(shop: Workshop, visit: str) -> None:
    """Empty the holding shelf of a visit. This cannot be undone."""
    _not_interrupted(shop, Task.EMPTY)
    _each(shop, Task.EMPTY, [(row, []) for row in _rows(shop, visit)])


def _each(shop: Workshop, kind: str, rows: list[tuple[RunRow, list[str]]]) -> None:
    """Newest first; what one leaves keeps nobody from the others."""
    if sum(_shelf_work(shop, kind, row, lines) for row, lines in rows):
        sys.exit(1)


def _not_interrupted(shop: Workshop, what: str) -> None:
    if (run := shop.orders.interrupted()) is not None:
        raise Interrupted(
            f"order {run.order.id} was cut off: {what} of it is `swept-shelf resume --put-back`"
            if what == "put-back"
            else f"order {run.order.id} was cut off: `swept-shelf resume` first"
        )


def _rows(shop: Workshop, visit: str) -> list[RunRow]:
    """Runs of the visit with something on a shelf, newest first. What no ledger knows is never among them."""
    waiting = {s.run for s in shop.shelves.waiting()}
    rows: list[RunRow] = []
    if shop.ledger.visits(shop.machine.key):
        rows = [
            r
            for r in reversed(shop.ledger.runs(shop.ledger.visit(shop.machine.key, visit).id))
            if r.id in waiting
        ]
    if not rows:
        unknown = shop.shelves.unknown()
        more = (
            f"; {plural(len(unknown), 'run')} that this ledger does not know: `swept-shelf take-over` lists them"
            if unknown
            else ""
        )
        if others := shop.shelves.others():
            more += f"; {', '.join(others)} is called like a shelf and is another’s: nothing on it was heeded"
        raise Refused(f"nothing of this visit waits on the holding shelf{more}")
    return rows


def _lines(row: RunRow, apps: Iterable[str]) -> list[str]:
    wanted = list(apps)
    survey = open_run(row.folder).survey if wanted else None
    return [FREED if a == FREED else find_line(survey, a).id for a in wanted if survey is not None]


def _shelf_work(shop: Workshop, kind: str, row: RunRow, lines: list[str]) -> int:
    """How much was left."""
    before = {v.id: v.free for v in read_volumes(shop.machine)}
    result = work(
        shop.shelves.request(kind, row, lines), "Putting back" if kind == Task.PUT_BACK else "Emptying"
    )
    shop.shelves.keep_result(kind, row, lines, result)
    gained = sum(v.free - before[v.id] for v in read_volumes(shop.machine))
    if result["left"]:
        say(f"{result['left']} left")
    elif kind == Task.PUT_BACK:
        say("everything was put back")
    else:
        say(f"the holding shelf is empty: {human_bytes(gained)} came back")
    for entry in result["why"]:
        say(f"stays on the shelf: {entry['path'] or entry['line']}: {entry['why']}")
    return int(result["left"])
