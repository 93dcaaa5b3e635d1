"""survey, show."""

from __future__ import annotations

import contextlib
import sys

import click

from swept_shelf.cli.common import find_line, format_option, out, out_json, say, table, with_workshop, work
from swept_shelf.core.documents.errors import SweptShelfError, printable
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.times import clock, day
from swept_shelf.core.documents.used import used_in_words
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.reports import UNMISSED, in_words, inventory_csv, inventory_cyclonedx, why_full
from swept_shelf.core.survey.conditions import SORTS, read_conditions, sort_key
from swept_shelf.core.survey.facts import grouped
from swept_shelf.workshop import Surveyed, Workshop


@click.command()
@click.option(
    "--where",
    multiple=True,
    metavar="CONDITIONS",
    help="Words and conditions, e.g. 'larger=200MB unused=1y'. See the user guide.",
)
@click.option(
    "--sort",
    "order",
    type=click.Choice(SORTS),
    default="size",
    help="By what to sort. Default: size, largest first.",
)
@click.option("--kept", is_flag=True, help="Do not look again: the latest survey of the open visit.")
@click.option(
    "--whole",
    is_flag=True,
    help="Read every folder, also those below /usr that have not changed since the last survey.",
)
@click.option(
    "--with-rights",
    is_flag=True,
    help="Look with the administrator’s rights: somebody is asked for them. Orders drawn from it may be carried out with them.",
)
@click.option(
    "--format",
    "form",
    type=click.Choice(["table", "json", "csv", "cyclonedx"]),
    default="table",
    help="json: the whole survey; csv: what is shown; cyclonedx: the whole inventory.",
)
@with_workshop
def survey(
    shop: Workshop, where: tuple[str, ...], order: str, kept: bool, whole: bool, with_rights: bool, form: str
) -> None:
    """Look at everything; keep it in the ledger."""
    conditions = read_conditions(" ".join(where), shop.machine.now())
    surveyed = shop.latest()[1] if kept else _look(shop, whole, with_rights)
    entries = sorted(
        conditions.matching(surveyed.survey),
        key=sort_key(order),
        reverse=order in ("size", "comes-back", "last-use", "installed"),
    )
    if form == "json":
        out_json((surveyed.folder / "survey.json").read_bytes())
    elif form == "csv":
        out_json(inventory_csv(surveyed.survey, entries))
    elif form == "cyclonedx":
        out_json(inventory_cyclonedx(surveyed.survey))
    else:
        unmissed = read_conditions(UNMISSED, shop.machine.now()).matching(surveyed.survey)
        apps = [e for e in unmissed if isinstance(e, Application)]
        if parts := why_full(surveyed.survey, apps, shop.since_before()):
            out(printable(in_words(parts)))
        _print(surveyed.survey, entries)
    evidence = surveyed.survey.evidence
    if evidence.trusted_since:
        say(
            f"folders below {', '.join(evidence.folder_times_trusted)} that are as they "
            f"were on {day(evidence.trusted_since)}, {clock(evidence.trusted_since)}, "
            "were not read again (--whole reads them)"
        )
    if evidence.little:
        say(f"little evidence of use: {'; '.join(evidence.little)}")
    for program in surveyed.survey.programs_not_read:
        say(f"not searched for names of places: {program.path}: {program.reason}")
    for obstacle in surveyed.survey.in_the_way:
        say(f"in the way: {obstacle.path}: {obstacle.text}")
    for path, reason in grouped(surveyed.survey.not_read):
        say(f"could not read {path}: {reason}")
    if not surveyed.survey.complete:
        sys.exit(1)


def _look(shop: Workshop, whole: bool, with_rights: bool) -> Surveyed:
    request = shop.survey_request(whole, with_rights)
    try:
        result = work(request, "Looking", lambda: _read_earlier(shop))
    except BaseException:
        shop.drop_survey(request)
        raise
    return shop.keep_survey(request, result)


def _read_earlier(shop: Workshop) -> None:
    """What the new survey will be compared with, and what prints it."""
    import rich.table  # noqa: F401

    with contextlib.suppress(SweptShelfError):
        shop.latest()


def _print(found: Survey, entries: list[Application | LeftBehind]) -> None:
    rows = [e for e in entries if isinstance(e, Application)]
    left = [e for e in entries if isinstance(e, LeftBehind)]
    table(
        ["Application", "Id", "Holds", "Comes back", "Last used", "How sure", "Installed", "Registered as"],
        (
            [
                a.name,
                a.id,
                human_bytes(a.bytes.total),
                human_bytes(a.comes_back),
                day(a.last_use.at) or "no sign",
                a.last_use.certainty,
                day(a.installed.known),
                a.origin.source,
            ]
            for a in rows
        ),
        right=(2, 3),
    )
    if left:
        table(
            ["Left behind", "Holds", "Gone since"],
            ([e.id, human_bytes(e.bytes.total), day(e.gone_since) or "not known"] for e in left),
            right=(1,),
        )
    whole = len(found.applications) + len(found.left_behind)
    if len(entries) < whole:
        out(f"{len(entries)} of {whole} shown")
        return
    if found.shared_stores:
        table(
            [
                "Shared store",
                "Holds",
                "Older than a month",
                "Older than a year",
                "Oldest",
                "Cleared by",
                "On an order as",
            ],
            (
                [
                    s.name,
                    human_bytes(s.bytes),
                    human_bytes(s.older_than_month),
                    human_bytes(s.older_than_year),
                    day(s.oldest),
                    s.clear_by or "nothing: a person’s own",
                    s.id if s.belongings else "",
                ]
                for s in found.shared_stores
            ),
            right=(1, 2, 3),
        )
    accounts = {a.volume: a for a in found.accounts}
    table(
        ["Volume", "Capacity", "Used", "Free", "Reserved", "Not accounted for"],
        (
            [
                v.mount,
                *(human_bytes(n) for n in (v.capacity, v.used, v.free, v.reserved)),
                human_bytes(max(0, accounts[v.id].not_accounted)) if v.id in accounts else "",
            ]
            for v in found.volumes
        ),
        right=(1, 2, 3, 4, 5),
    )


@click.command()
@click.argument("app")
@format_option
@with_workshop
def show(shop: Workshop, app: str, form: str) -> None:
    """One application with all that is known of it."""
    _, surveyed = shop.latest()
    entry = find_line(surveyed.survey, app)
    if form == "json":
        out_json(to_plain(entry))
        return
    if isinstance(entry, Application):
        _facts(entry)
    else:
        gone = f"gone since {day(entry.gone_since)}" if entry.gone_since else "gone"
        out(f"left by {entry.name} {entry.was.version}, {gone}")
    table(
        ["Whose", "Belonging", "Kind", "Bytes", "Proof", "Ticked"],
        (
            [
                b.person,
                b.path,
                b.kind,
                human_bytes(b.bytes),
                b.reason + _shared(b.shared_with) + ("" if b.certain else "; counts in no sum"),
                "yes" if b.ticked else "no",
            ]
            for b in entry.belongings
        ),
        right=(3,),
    )
    if isinstance(entry, Application) and entry.pointers:
        table(
            ["Pointed at by", "Where", "Line", "How"],
            ([r.family, r.path, str(r.line or ""), r.detail] for r in entry.pointers),
            right=(2,),
        )
    if isinstance(entry, Application) and entry.mentions:
        table(
            ["Mentioned in", "Line", "How"],
            ([r.path, str(r.line or ""), f"{r.detail}: {r.text}"] for r in entry.mentions),
            right=(1,),
        )
    if isinstance(entry, Application) and entry.last_use.signs:
        table(
            ["Sign of use", "When", "Person", "Read", "Set aside"],
            ([s.kind, day(s.at), s.person, s.source, s.set_aside] for s in entry.last_use.signs),
        )
        out("`swept-shelf use` says more of them")


def _shared(ids: list[str]) -> str:
    return f", shared with {', '.join(ids)}" if ids else ""


def _facts(a: Application) -> None:
    used = used_in_words(a.last_use)[0]
    out(f"{a.name} {a.version} · {a.id} · {a.summary}")
    out(
        f"{human_bytes(a.bytes.total)} · installed {day(a.installed.known) or 'at a time not known'} "
        f"· {a.requested_by or 'not known who asked'} · {used}"
    )
    if a.named:
        out(f"named in {human_bytes(a.named)} more, which count in no sum")
    if a.why_here:
        out(f"here because of {' → '.join(a.why_here)}")
    if a.needed_by:
        out(f"needed by {', '.join(a.needed_by)}")
    if a.protected:
        out(f"protected: {a.protected}")
    if a.running:
        out(f"running: {', '.join(f'process {r.pid} ({r.person})' for r in a.running)}")
    if a.packages:
        out(f"goes with it: {plural(len(a.packages), 'package')}: {', '.join(a.packages)}")
