"""questions: what the owner has to decide."""

from __future__ import annotations

from pathlib import Path

import click

from swept_shelf.cli.common import out, say, with_workshop
from swept_shelf.cli.ordering import load_order
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.reports import questions_markdown
from swept_shelf.workshop import Workshop
from swept_shelf.written import write_questions


@click.command()
@click.argument("file")
@click.option(
    "-o",
    "--output",
    default="-",
    metavar="FILE",
    help="Where the sheet is written: .html, .pdf, or .md to come back answered. Default: standard output, as .md.",
)
@with_workshop
def questions(shop: Workshop, file: str, output: str) -> None:
    """Write the question sheet of an order: what the owner has to say about its lines that are to be asked about.

    The answers go in by `order --answers FILE`, or `--settle owner:ID=ANSWER`."""
    drawn = load_order(file)
    survey = shop.orders.surveyed_of(drawn, file).survey
    asked = sum(q.question == "owner" for q in drawn.settle)
    if not asked:
        raise Refused("asks the owner nothing: put an application on it by --ask", file)
    if output == "-":
        out(questions_markdown(drawn, survey).rstrip("\n"))
    else:
        by = shop.proof.technician().words
        write_questions(drawn, survey, Path(output), shop.machine.now(), by)
    say(plural(asked, "question"))
