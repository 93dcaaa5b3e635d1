"""trace: whether anything of a name is left anywhere."""

from __future__ import annotations

import sys
import tempfile

import click

from swept_shelf.cli.carrying import carry
from swept_shelf.cli.common import format_option, out, out_json, say, table, with_workshop, work
from swept_shelf.cli.proving import chosen_ids, finding_line, print_mentions, take_out_option
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import day
from swept_shelf.core.documents.trace import Trace
from swept_shelf.core.documents.wire import to_json
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("name")
@take_out_option
@click.option(
    "--with-rights",
    is_flag=True,
    help="As a person: look with the administrator’s rights, which are asked for.",
)
@format_option
@with_workshop
def trace(shop: Workshop, name: str, chosen: tuple[str, ...], with_rights: bool, form: str) -> None:
    """Is anything of NAME left anywhere? Also of what was removed by other means, or long ago.

    NAME is an application's id or name, as any visit of this machine knew it, or any name, launcher, bus name or path."""
    if with_rights and chosen:
        raise Refused(
            "what is looked for with rights that were asked for is taken out as root: leave one of them out"
        )
    found = _look(shop, name, with_rights)
    if chosen:
        rows = [(found.known_as or name, f) for cell in found.cells for f in cell.findings]
        carry(shop, shop.proof.take_out(found.remnants, chosen_ids(shop, rows, chosen)))
        found = _look(shop, name, with_rights)
    if form == "json":
        out_json(to_json(found))
    else:
        print_trace(found)
    if found.findings or found.unread:
        say(
            f"{plural(found.findings, 'finding')}, {plural(found.unread, 'family', 'families')} could not be looked at"
        )
        sys.exit(1)


def _look(shop: Workshop, name: str, with_rights: bool) -> Trace:
    with tempfile.TemporaryDirectory(prefix="swept-shelf-trace-") as folder:
        passed_over: list[CouldNotRead] = []
        request = shop.proof.trace_of(name, folder, passed_over, with_rights)
        for error in passed_over:
            say(f"{error.path}: {error.reason}: it was left alone")
        work(request, "Looking")
        return shop.proof.read_trace(request)


def print_trace(found: Trace) -> None:
    if found.known_as and found.known_since:
        say(f"{found.known_as}, as it was surveyed on {day(found.known_since)}")
    else:
        say(f"no visit of this machine knows {found.name}: only the name itself was looked for")
    words = {Looked.CLEAR: "clear", Looked.COULD_NOT_LOOK: "could not look"}
    table(
        ["Family", "State", "Looked at"],
        ([c.family, words.get(c.state, f"{len(c.findings)} found"), c.looked_at] for c in found.cells),
    )
    for cell in found.cells:
        for f in cell.findings:
            out(f"{cell.family}: {finding_line(f)}")
        if cell.state == Looked.COULD_NOT_LOOK and cell.helps:
            out(f"could not look · {cell.family}: {cell.helps}")
    print_mentions(found.mentions)
