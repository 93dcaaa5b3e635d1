"""order, rehearse."""

from __future__ import annotations

import sys
from collections.abc import Container
from dataclasses import replace
from pathlib import Path

import click

from swept_shelf.cli.common import find_line, format_option, out, out_json, say, table, with_workshop
from swept_shelf.core.carry.ops import describe
from swept_shelf.core.carry.rehearse import Rehearsal
from swept_shelf.core.carry.room import ELSEWHERE
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.documents.wire import read_order, to_json, to_plain
from swept_shelf.core.ledger.store import VisitRow
from swept_shelf.core.orders import Choice
from swept_shelf.core.orders.answers import with_answers
from swept_shelf.core.orders.moving import movable
from swept_shelf.core.orders.stopping import to_stop
from swept_shelf.core.reports.questions import read_sheet
from swept_shelf.handed_in import read_handed_in
from swept_shelf.workshop import Surveyed, Workshop


def load_order(path: str) -> Order:
    """Raises Refused for what is no regular file, too large for an order, or no order."""
    return read_order(read_handed_in(path, "order"), path)


def _notes(survey: Survey, given: tuple[str, ...], lines: Container[str]) -> dict[str, str]:
    found = {}
    for text in given:
        app, sign, words = text.partition("=")
        if not sign:
            raise Refused(f"--note takes APP=TEXT, not {text}")
        id = find_line(survey, app).id
        if id not in lines:
            raise Refused(f"--note: {app} is not on the order")
        found[id] = words
    return found


def _targets(survey: Survey, told: tuple[str, ...]) -> dict[str, str]:
    """Where the data of each goes, by id."""
    found = {}
    for text in told:
        name, sign, folder = text.partition("=")
        if not sign or not folder.startswith("/"):
            raise Refused(f"--move-data takes APP=DIR, DIR from / on, not {text}")
        entry = find_line(survey, name)
        if not movable(entry):
            raise Refused(f"{entry.id} keeps nothing that could be moved")
        found[entry.id] = folder.rstrip("/") or "/"
    return found


@click.command()
@click.argument("apps", nargs=-1, metavar="[APP]...")
@click.option("--clear-cache", multiple=True, metavar="APP", help="Only clear the cache of APP.")
@click.option(
    "--stop-starting", multiple=True, metavar="APP", help="Turn off what starts APP by itself; it stays."
)
@click.option("--ask", multiple=True, metavar="APP", help="Ask the owner about APP (see `questions`).")
@click.option(
    "--answers", default="", metavar="FILE", help="The owner's answers, on the sheet that `questions` wrote."
)
@click.option(
    "--move-data",
    multiple=True,
    metavar="APP=DIR",
    help="Move what APP keeps into DIR on another volume; a link stands in its place.",
)
@click.option("--keep", multiple=True, metavar="APP", help="Put APP on the order as kept.")
@click.option(
    "--from",
    "earlier",
    default="",
    metavar="FILE",
    help="What an order says that was drawn on another day, or from another ledger, for this machine.",
)
@click.option("--tick", multiple=True, metavar="PATH", help="Take this belonging along.")
@click.option("--untick", multiple=True, metavar="PATH", help="Leave this belonging where it is.")
@click.option("--settle", multiple=True, metavar="ID=ANSWER", help="Answer a question.")
@click.option(
    "--note", multiple=True, metavar="APP=TEXT", help="A note for APP, in the order and the reports."
)
@click.option(
    "-o",
    "--output",
    default="-",
    metavar="FILE",
    help="Where the order is written. Default: standard output.",
)
@with_workshop
def order(
    shop: Workshop,
    apps: tuple[str, ...],
    clear_cache: tuple[str, ...],
    stop_starting: tuple[str, ...],
    ask: tuple[str, ...],
    answers: str,
    move_data: tuple[str, ...],
    keep: tuple[str, ...],
    earlier: str,
    tick: tuple[str, ...],
    untick: tuple[str, ...],
    settle: tuple[str, ...],
    note: tuple[str, ...],
    output: str,
) -> None:
    """Draw an order from the latest survey. APP by id, name, package or launcher: its verdict is remove."""
    visit, surveyed = shop.latest()
    if earlier:
        if any((apps, clear_cache, stop_starting, ask, answers, move_data, keep, tick, untick, note)):
            raise Refused("--from takes the whole of an order: only --settle goes with it")
        again = shop.orders.draw_again(load_order(earlier), visit, surveyed, earlier)
        for difference in again.differs:
            say(f"differs: {difference}")
        answers_now = _settled(settle)
        at = {id: shop.machine.now() for id in answers_now}
        choice = replace(
            again.choice,
            answers={**again.choice.answers, **answers_now},
            answered_at={**again.choice.answered_at, **at},
        )
        _hand_out(shop, visit, surveyed, choice, output)
        return
    verdicts = {find_line(surveyed.survey, a).id: Verdict.REMOVE for a in apps}
    to = _targets(surveyed.survey, move_data)
    for names, verdict in (
        (to, Verdict.MOVE_DATA),
        (clear_cache, Verdict.CLEAR_CACHE),
        (stop_starting, Verdict.STOP_STARTING),
        (ask, Verdict.ASK_OWNER),
        (keep, Verdict.KEEP),
    ):
        for name in names:
            id = find_line(surveyed.survey, name).id
            if id in verdicts:
                raise Refused(f"{id} has two verdicts")
            if verdict == Verdict.STOP_STARTING and not any(to_stop(find_line(surveyed.survey, name))):
                raise Refused(f"nothing starts {id} by itself")
            verdicts[id] = verdict
    if not verdicts:
        raise Refused("nothing to order: name an application")
    settled = _settled(settle)
    notes = _notes(surveyed.survey, note, verdicts)
    sheet = read_sheet(read_handed_in(answers, "sheet of answers"), answers) if answers else None
    choice = Choice(
        verdicts,
        frozenset(tick),
        frozenset(untick),
        settled,
        {id: shop.machine.now() for id in settled},
        notes=notes,
        to=to,
    )
    if sheet is not None:
        choice = with_answers(choice, sheet, shop.machine.now())
    _hand_out(shop, visit, surveyed, choice, output)


def _settled(given: tuple[str, ...]) -> dict[str, str]:
    found = {}
    for text in given:
        id, sign, answer = text.rpartition("=")
        if not sign:
            raise Refused(f"--settle takes ID=ANSWER, not {text}")
        found[id] = answer
    return found


def _hand_out(shop: Workshop, visit: VisitRow, surveyed: Surveyed, choice: Choice, output: str) -> None:
    """Draw the order, keep it in the ledger, and write it."""
    drawn = shop.orders.draw(visit, surveyed, choice)
    unknown = set(choice.answers) - {s.id for s in drawn.settle}
    if unknown:
        raise Refused(
            f"no question {sorted(unknown)[0]}; asked are: {', '.join(s.id for s in drawn.settle) or 'none'}"
        )
    shop.ledger.add_order(visit.id, drawn)
    if output == "-":
        out_json(to_json(drawn))
    else:
        try:
            Path(output).write_bytes(to_json(drawn))
        except OSError as error:
            raise Refused(f"cannot be written: {error.strerror}", output) from None
    say(f"order {drawn.id}: {plural(len(drawn.lines), 'line')}, {human_bytes(drawn.total)} come back")
    for question in drawn.unsettled:
        say(
            f"to settle: {question.title}. {question.evidence}  --settle {question.id}={'|'.join(question.answers)}"
        )


@click.command()
@click.argument("file")
@format_option
@with_workshop
def rehearse(shop: Workshop, file: str, form: str) -> None:
    """List every operation of an order, in the order it will be done, changing nothing."""
    drawn = load_order(file)
    result = shop.orders.rehearse(drawn, file)
    if form == "json":
        out_json(to_plain(result.plan))
    else:
        rows = []
        for n, op in enumerate(result.plan.operations, 1):
            what, where = describe(op)
            rows.append(
                [
                    str(n),
                    what,
                    where,
                    human_bytes(size) if (size := getattr(op, "bytes", 0)) else "",
                    op.rights,
                ]
            )
        table(["", "What is done", "Where", "Bytes", "Rights"], rows, right=(0, 3))
        for left in result.plan.left_alone:
            out(f"left alone: {left.path} ({left.why})")
        for part in drawn.comes_back:
            out(
                f"comes back on {part.volume}: {human_bytes(part.now)} now, {human_bytes(part.when_emptied)} when the shelf is emptied"
            )
        out(f"originals kept until then: at most {human_bytes(result.originals)}")
        if result.registry:
            out(
                f"dpkg was asked: it would remove the same {plural(len(result.registry), 'package')}: {', '.join(result.registry)}"
            )
    for note in result.notes:
        say(note)
    for question in drawn.unsettled:
        say(f"to settle: {question.title}. {question.evidence}")
    for name, why in _problems(drawn, result):
        say(f"{name} cannot be carried out: {why}")
    if result.lacking:
        raise Refused(result.lacking_in_words, file)
    if result.refused:
        raise Refused(with_option(result.refused))
    if result.problems or drawn.unsettled:
        sys.exit(1)


def _problems(order: Order, result: Rehearsal) -> list[tuple[str, str]]:
    return [(line.name, result.problems[line.id]) for line in order.lines if line.id in result.problems]


def with_option(why: str) -> str:
    """Why an order was refused, with the option that helps."""
    return why.replace(ELSEWHERE, f"{ELSEWHERE} (carry-out --originals DIR)")
