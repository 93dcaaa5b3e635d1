"""compare: two visits, or two surveys."""

from __future__ import annotations

import click

from swept_shelf.cli.common import out, out_json, say, table, with_workshop
from swept_shelf.core.documents.comparison import Change, Comparison, What
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, parse_bytes, plural, signed_bytes
from swept_shelf.core.documents.times import day, day_and_clock
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.reports import comparison_csv, comparison_cyclonedx
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("before", default="")
@click.argument("after", default="latest")
@click.option(
    "--over",
    default="0",
    metavar="SIZE",
    help="Only what came, went or changed by more than this. Default: 0",
)
@click.option("--all", "everything", is_flag=True, help="Also what is as it was.")
@click.option(
    "--format",
    "form",
    type=click.Choice(["table", "json", "csv", "cyclonedx"]),
    default="table",
    help="json, cyclonedx: the whole comparison; csv: what is shown.",
)
@with_workshop
def compare(shop: Workshop, before: str, after: str, over: str, everything: bool, form: str) -> None:
    """What came, went, grew, moved and is newly pointed at between two visits.

    BEFORE and AFTER are a visit's number, its UUID (also of another machine), or a survey's file; without them the latest visit is
    compared with the one before it."""
    try:
        least = parse_bytes(over)
    except ValueError as error:
        raise Refused(str(error)) from None
    found = shop.compare(before, after)
    shown = [c for c in found.changes if everything or (c.what != What.SAME and _large(c, least))]
    if form == "json":
        out_json(to_json(found))
    elif form == "csv":
        out_json(comparison_csv(found, shown))
    elif form == "cyclonedx":
        out_json(comparison_cyclonedx(found))
    else:
        _print(found, shown, least)
    if not found.same_machine:
        say(f"two machines: {found.before.name} and {found.after.name}")


def _large(change: Change, least: int) -> bool:
    return abs(change.more) >= least or bool(change.moves and change.moves[0].bytes >= least)


def _print(found: Comparison, shown: list[Change], least: int) -> None:
    sides = [
        f"{'visit ' + str(s.visit) + ', ' if s.visit else ''}{day_and_clock(s.surveyed_at)}"
        for s in (found.before, found.after)
    ]
    out(f"{sides[0]} → {sides[1]}")
    for v in found.volumes:
        if v.free_before is not None and v.free_after is not None and v.free_before != v.free_after:
            less = v.free_before - v.free_after
            out(
                f"  {v.mount}: {human_bytes(abs(less))} {'less' if less > 0 else 'more'} free, {human_bytes(v.free_after)} now"
            )
    if not shown:
        out("nothing came, went or changed" + (f" by {human_bytes(least)} or more" if least else ""))
    else:
        table(
            ["What", "Became", "Before", "After", "Change", "More"],
            (
                [_called(c), str(c.what), _size(c, False), _size(c, True), signed_bytes(c.more), _more(c)]
                for c in shown
            ),
            right=(2, 3, 4),
        )
    folders = [c for c in found.folders if abs(c.more) >= max(least, 1)][:20]
    if folders:
        table(
            ["People’s own folders", "Whose", "Before", "After", "Change"],
            (
                [
                    c.path,
                    c.person,
                    human_bytes(c.bytes_before),
                    human_bytes(c.bytes_after),
                    signed_bytes(c.more),
                ]
                for c in folders
            ),
            right=(2, 3, 4),
        )
    if found.pointed:
        table(
            ["Pointed at", "", "How", "Where"],
            (
                [p.name, "new" if p.new else "gone", p.kind, f"{p.path}:{p.line}" if p.line else p.path]
                for p in found.pointed
            ),
        )
    for p in found.promises:
        out(
            f"order {p.order} ({plural(p.lines, 'line')}, {day(p.at)}): {human_bytes(p.came_back)} came back when it was carried out"
        )


def _called(c: Change) -> str:
    return c.name if c.of == "application" else f"{c.name} ({c.of})"


def _size(c: Change, after: bool) -> str:
    if c.what == (What.WENT if after else What.CAME):
        return "–"
    return human_bytes(c.bytes_after if after else c.bytes_before)


def _more(c: Change) -> str:
    said = [c.note] if c.note else []
    said += [f"{human_bytes(m.bytes)} from {m.from_} to {m.to}" for m in c.moves]
    if c.version_before and c.version_after and c.version_before != c.version_after:
        said.append(f"{c.version_before} → {c.version_after}")
    largest = max(c.kinds.items(), key=lambda k: abs(k[1]), default=None)
    if largest and c.what in (What.GREW, What.SHRANK) and len(c.kinds) > 1:
        said.append(f"{largest[0]} {signed_bytes(largest[1])}")
    return "; ".join(said)
