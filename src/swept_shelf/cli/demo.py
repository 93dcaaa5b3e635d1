"""demo: the made-up machine, with the desk or without a window."""

from __future__ import annotations

import shutil
import sys
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import click

from swept_shelf.cli.common import out, say
from swept_shelf.cli.desk import has_display, why_not
from swept_shelf.core.documents.sizes import human_bytes, plural, signed_bytes
from swept_shelf.core.documents.terms import Task, Verdict

_EARLIER = timedelta(days=86)


@click.command()
@click.option(
    "--at",
    "at",
    default=None,
    metavar="DIR",
    help="Build it there and leave it; an existing one is used again.",
)
@click.option("--headless", is_flag=True, help="Run the whole job without a window and print what was done.")
@click.option("--seed", default=1, show_default=True, help="Another seed, other names.")
def demo(at: str | None, headless: bool, seed: int) -> None:
    """Start on the made-up reading-room computer of a small herbarium."""
    from swept_shelf.core.demo import answer_snaps, build_demo

    folder = Path(at) if at else Path(tempfile.mkdtemp(prefix="swept-shelf-demo-"))
    if not (folder / "machine.json").exists():
        began = time.monotonic()
        build_demo(folder, seed)
        first_visit(folder)
        say(
            f"built the reading-room computer in {folder}, with a visit {_EARLIER.days} days before ({time.monotonic() - began:.1f} s)"
        )
    status = 0
    try:
        with answer_snaps(folder):
            why = "" if headless else why_not() if has_display() else "no display here"
            if headless or why:
                if not headless:
                    say(f"{why}: the whole example runs without a window")
                status = whole_job(folder)
            else:
                from swept_shelf.desk.app import run_desk

                status = run_desk(str(folder), None, sys.argv[:1])
    finally:
        if not at:
            _remove(folder)
    sys.exit(status)


def first_visit(folder: Path) -> None:
    """A visit of some months ago in the machine's ledger: what is new since then can be seen."""
    from swept_shelf.core.demo import as_it_was
    from swept_shelf.worker.client import run_worker
    from swept_shelf.workshop import Workshop

    with as_it_was(folder, datetime.now(UTC) - _EARLIER):
        shop = Workshop(str(folder))
        request = shop.survey_request()
        shop.keep_survey(request, run_worker(request))


def _remove(folder: Path) -> None:
    """Take the temporary machine away, unless a carrier still works on it."""
    from swept_shelf.core.carry.run import carrier_works
    from swept_shelf.core.machine import open_machine

    if carrier_works(open_machine(folder)):
        say(f"a carrier still works: the machine stays in {folder}")
        return
    shutil.rmtree(folder, ignore_errors=True)


def whole_job(folder: Path) -> int:
    """Every station in order, with the figures before and after. Returns the exit status."""
    from swept_shelf.cli.proving import print_clearance
    from swept_shelf.core.carry.ops import describe
    from swept_shelf.core.machine.volumes import read_volumes
    from swept_shelf.core.orders import Choice
    from swept_shelf.core.reports import report_html
    from swept_shelf.worker.client import run_worker
    from swept_shelf.workshop import Workshop

    shop = Workshop(str(folder))

    def volumes(word: str) -> None:
        for v in read_volumes(shop.machine):
            out(f"   {v.mount:<8}{human_bytes(v.free):>10} free of {human_bytes(v.capacity)} {word}")

    out("1. Look")
    volumes("before")
    request = shop.survey_request()
    surveyed = shop.keep_survey(request, run_worker(request))
    survey = surveyed.survey
    out(
        f"2. Inventory: {plural(len(survey.applications), 'application')}, {plural(len(survey.left_behind), 'application')} "
        "left something behind, "
        f"{plural(len(survey.shared_stores), 'shared store')}"
    )
    if len(shop.ledger.visits(shop.machine.key)) > 1:
        for change in shop.compare().changes[:3]:
            out(f"   {change.what} since the visit before: {change.name} {signed_bytes(change.more)}")
    for a in sorted(survey.applications, key=lambda a: -a.bytes.total)[:5]:
        out(
            f"   {a.name:<18}{human_bytes(a.bytes.total):>9}  last used {a.last_use.at:%Y-%m-%d}"
            if a.last_use.at
            else f"   {a.name}"
        )
    chosen = max(
        (a for a in survey.applications if not a.needed_by and not a.protected and not a.running),
        key=lambda a: len(a.pointers),
    )
    visit, _ = shop.latest()
    answers = {f"personal:{chosen.id}": "they_stay"}
    order = shop.orders.draw(visit, surveyed, Choice({chosen.id: Verdict.REMOVE}, answers=answers))
    shop.ledger.add_order(visit.id, order)
    out(f"3. Decide: remove {chosen.name}; {human_bytes(order.total)} come back; what is personal stays")
    rehearsal = shop.orders.rehearse(order, "the order")
    out(
        f"4. Prepare: {plural(len(rehearsal.plan.operations), 'operation')}; dpkg "
        f"was asked and would remove {', '.join(rehearsal.registry)}"
    )
    for n, op in enumerate(rehearsal.plan.operations, 1):
        out("   {:>2} {:<45} {}".format(n, *describe(op)))
    run = shop.orders.prepare_run(order, "the order")
    result = run_worker(shop.orders.carry_request(run))
    shop.ledger.take_in()
    out(f"5. Remove: {result['state'].replace('_', ' ')}, {result['left']} skipped")
    volumes("after carrying out")
    row = shop.proof.last_run(visit)
    look = shop.proof.clearance_request(row)
    run_worker(look)
    found = shop.proof.keep_clearance(visit, look)
    out(f"6. Prove: {plural(found.findings, 'finding')}")
    print_clearance(found)
    (folder / "report.html").write_text(report_html(shop.proof.report(visit)))
    out("7. Report: report.html written; then put back, and once more for good")
    back = run_worker(shop.shelves.request(Task.PUT_BACK, row, []))
    shop.shelves.keep_result(Task.PUT_BACK, row, [], back)
    out(f"   put back: {back['left']} left on the shelf")
    volumes("after putting back")
    request = shop.survey_request()
    surveyed = shop.keep_survey(request, run_worker(request))
    order = shop.orders.draw(visit, surveyed, Choice({chosen.id: Verdict.REMOVE}, answers=answers))
    shop.ledger.add_order(visit.id, order)
    before = {v.id: v.free for v in read_volumes(shop.machine)}
    run_worker(shop.orders.carry_request(shop.orders.prepare_run(order, "the order")))
    shop.ledger.take_in()
    row = shop.proof.last_run(visit)
    emptied = run_worker(shop.shelves.request(Task.EMPTY, row, []))
    shop.shelves.keep_result(Task.EMPTY, row, [], emptied)
    volumes("after emptying the shelf")
    gained = sum(v.free - before[v.id] for v in read_volumes(shop.machine))
    out(
        f"   promised {human_bytes(order.total)} ({order.total} bytes), came back {human_bytes(gained)} ({gained} bytes)"
    )
    return 1 if found.findings or back["left"] or emptied["left"] else 0
