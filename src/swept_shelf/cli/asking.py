"""places, why, whose: questions to the latest survey."""

from __future__ import annotations

import sys

import click

from swept_shelf.cli.common import find_line, format_option, out, out_json, table, with_workshop
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, parse_bytes, plural
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.documents.times import day, from_ns
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.survey.facts import why_here
from swept_shelf.core.survey.places import account_in_words, in_words, look_into, owner_name
from swept_shelf.core.survey.whose import whose_is
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("folder", default="/")
@click.option(
    "--over", default="100MB", metavar="SIZE", help="List single files larger than this. Default: 100MB"
)
@format_option
@with_workshop
def places(shop: Workshop, folder: str, over: str, form: str) -> None:
    """Where the bytes are: a folder's parts, and whose they are."""
    try:
        large = parse_bytes(over)
    except ValueError as error:
        raise Refused(str(error)) from None
    _, surveyed = shop.latest()
    found = look_into(surveyed.index, folder if folder == "/" else folder.rstrip("/"), large)
    if form == "json":
        out_json(to_plain(found))
        return
    out(f"{found.path} · {human_bytes(found.bytes)} in {plural(found.files, 'file')}")
    table(
        ["Part", "Bytes", "Files", "Whose"],
        (
            [
                p.name + ("/" if p.type == "folder" else ""),
                human_bytes(p.bytes),
                str(p.files),
                in_words(surveyed.survey, p),
            ]
            for p in found.parts
        ),
        right=(1, 2),
    )
    for line in account_in_words(surveyed.survey, found.path):
        out(f"  {line}")
    if found.large:
        out(f"Single files over {human_bytes(large)}")
        table(
            ["Bytes", "File", "Written", "Whose"],
            (
                [human_bytes(f.bytes), f.path, day(from_ns(f.mtime_ns)), owner_name(surveyed.survey, f.owner)]
                for f in found.large
            ),
            right=(0,),
        )


@click.command()
@click.argument("app")
@format_option
@with_workshop
def why(shop: Workshop, app: str, form: str) -> None:
    """Why an application is here, who needs it, who asked for it."""
    _, surveyed = shop.latest()
    entry = find_line(surveyed.survey, app)
    if not isinstance(entry, Application):
        raise Refused(f"{entry.id} is not installed any more")
    if form == "json":
        out_json(
            {
                "id": entry.id,
                "requested_by": entry.requested_by,
                "why_here": entry.why_here,
                "needed_by": entry.needed_by,
                "packages": entry.packages,
                "protected": entry.protected,
                "held": entry.held,
            }
        )
        return
    out(f"{entry.name} {entry.version} · {entry.id}")
    for line in why_here(surveyed.survey, entry):
        out(line)
    if len(entry.packages) > 1:
        out(
            f"goes with it: {plural(len(entry.packages) - 1, 'other package')}: {', '.join(entry.packages[1:])}"
        )


@click.command()
@click.argument("path")
@format_option
@with_workshop
def whose(shop: Workshop, path: str, form: str) -> None:
    """Which application, package, person or store a path belongs to, and by which proof."""
    if not path.startswith("/"):
        raise Refused("is not a path from the root: it begins with /", path)
    _, surveyed = shop.latest()
    answer = whose_is(surveyed.survey, surveyed.index, shop.machine, path)
    if form == "json":
        out_json(to_plain(answer))
    else:
        out(
            f"{answer.real} · {human_bytes(answer.bytes)}"
            + (f" in {plural(answer.files, 'file')}" if answer.files > 1 else "")
        )
        out(f"{answer.name}: {answer.reason}" + (f" ({answer.proof})" if answer.proof else ""))
        for proof in answer.evidence:
            out(
                f"  {proof.proof}: {proof.path}{f', line {proof.line}' if proof.line else ''} {proof.text}".rstrip()
            )
        for p in answer.points_at:
            out(
                f"  points at {owner_name(surveyed.survey, p.owner)}: {p.detail}"
                + (f", line {p.line}" if p.line else "")
            )
    if answer.whose == "nobody":
        sys.exit(1)
