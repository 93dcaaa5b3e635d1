"""archive, restore: what waits on the holding shelf as one open file, and back from it."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click

from swept_shelf.cli.common import format_option, out_json, say, table, with_workshop, work
from swept_shelf.core.carry.archive.read import checked
from swept_shelf.core.documents.errors import Refused, printable
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("file")
@click.argument("visit", default="latest")
@with_workshop
def archive(shop: Workshop, file: str, visit: str) -> None:
    """Write what waits on the holding shelf of VISIT into FILE (tar, Zstandard), and read it again to be sure.

    The shelf can be emptied then: `swept-shelf restore FILE` puts everything back."""
    if not all(written(shop, request) for request in shop.shelves.archive_requests(file, visit)):
        sys.exit(1)


def written(shop: Workshop, request: dict[str, Any]) -> bool:
    """Write one archive, and say what it holds; False where something is not in it."""
    made = work(request, "Archiving")
    file = shop.shelves.archived(request)
    size = human_bytes(Path(file).stat().st_size)
    say(f"{file}: {plural(made['things'], 'thing')}, {size}, read again and compared")
    for left in made["left_out"]:
        say(f"not in it: {left}")
    return not made["left_out"]


@click.command()
@click.argument("file")
@click.argument("apps", nargs=-1, metavar="[APP]...")
@click.option(
    "--list", "listing", is_flag=True, help="Say what it holds, and whether it is whole; nothing is put back."
)
@click.option(
    "--from-elsewhere",
    is_flag=True,
    help="Also one that was made on another computer: it may put anything where no place is protected.",
)
@format_option
@with_workshop
def restore(
    shop: Workshop, file: str, apps: tuple[str, ...], listing: bool, from_elsewhere: bool, form: str
) -> None:
    """Put back what an archive holds, all of it or some applications. Nothing newer is overwritten."""
    if listing:
        _list(file, form)
        return
    lines = []
    if apps:
        known = {t.line: t.name for t in checked(file).head.things}
        for wanted in apps:
            found = [
                id for id, name in known.items() if wanted.casefold() in (id.casefold(), name.casefold())
            ]
            if len(found) != 1:
                raise Refused(f"holds {'no' if not found else 'more than one'} application {wanted}", file)
            lines += found
    result = work(shop.shelves.restore_request(file, lines, from_elsewhere), "Putting back")
    for entry in result["why"]:
        say(f"stays on the shelf: {entry['path']}: {entry['why']}")
    if result["left"]:
        say(f"{result['left']} left: `swept-shelf take-over {result['run']}` has them")
        sys.exit(1)
    say("everything was put back")


def _list(file: str, form: str) -> None:
    found = checked(file)
    if form == "json":
        out_json({"sealed_here": found.sealed} | to_plain(found.head))
        return
    table(
        ["", "Application", "What", "Where", "Bytes"],
        (
            [
                str(t.number),
                t.name,
                t.do.replace("_", " "),
                printable(t.path),
                human_bytes(found.bytes.get(t.number, 0)),
            ]
            for t in found.head.things
        ),
        right=(0, 4),
    )
    say(
        f"of {found.head.machine_name}, order {found.head.order}; whole; "
        + ("sealed by this carrier" if found.sealed else "not sealed by this carrier")
    )
    for left in found.head.left_out:
        say(f"not in it: {left}")
