"""its, not-its: corrections of belongings, kept in a small open file."""

from __future__ import annotations

import click

from swept_shelf.cli.common import find_line, say, with_workshop
from swept_shelf.core.belongings.corrections import ITS, NOT_ITS
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.survey import Application
from swept_shelf.workshop import Workshop


def _tell(shop: Workshop, kind: str, app: str, path: str, note: str) -> None:
    if not path.startswith("/"):
        raise Refused("is not a path from the root: it begins with /", path)
    entry = find_line(shop.latest()[1].survey, app)
    if not isinstance(entry, Application):
        raise Refused(f"{entry.id} is not installed any more")
    rule = shop.tell(kind, entry.id, path.rstrip("/"), note)
    words = "belongs to" if kind == ITS else "does not belong to"
    say(f"kept in {shop.rules_file}: {rule.place} {words} {entry.id}. It counts from the next survey on.")


@click.command()
@click.argument("app")
@click.argument("path")
@click.option("--note", default="", metavar="TEXT", help="Why, for whoever reads the file.")
@with_workshop
def its(shop: Workshop, app: str, path: str, note: str) -> None:
    """Say that a path is an application's; below a home it is meant for every home."""
    _tell(shop, ITS, app, path, note)


@click.command()
@click.argument("app")
@click.argument("path")
@click.option("--note", default="", metavar="TEXT", help="Why, for whoever reads the file.")
@with_workshop
def not_its(shop: Workshop, app: str, path: str, note: str) -> None:
    """Say that a path is not an application's."""
    _tell(shop, NOT_ITS, app, path, note)
