"""take-over: a shelf whose run no ledger here knows. What it would do is said first; nothing is done unless it is asked for."""

from __future__ import annotations

import sys

import click

from swept_shelf.cli.common import out, say, table, with_workshop, work
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.terms import Task
from swept_shelf.workshop import Workshop


@click.command("take-over")
@click.argument("run", default="")
@click.option("--put-back", "kind", flag_value="put_back", default=None, help="Put back what waits there.")
@click.option("--empty", "kind", flag_value="empty", help="Delete what waits there, for good.")
@with_workshop
def take_over(shop: Workshop, run: str, kind: str | None) -> None:
    """Put back, or empty, a shelf that no ledger here knows. Without an option: say what that would do."""
    unknown = shop.shelves.unknown()
    if not run:
        if not unknown:
            raise Refused("every holding shelf here belongs to a run that the ledger knows")
        table(
            ["Run", "Things", "Bytes", "Seal"],
            (
                [
                    id,
                    str(len(slots)),
                    human_bytes(sum(s.manifest["bytes"] for s in slots)),
                    "ours" if all(s.sealed for s in slots) else "not ours",
                ]
                for id, slots in unknown.items()
            ),
            right=(1, 2),
        )
        return
    slots = unknown.get(run)
    if not slots:
        raise Refused("no shelf here holds such a run that the ledger does not know", run)
    foreign = [s for s in slots if not s.sealed]
    if foreign and (why := shop.shelves.why_not_taken_over(foreign)):
        raise Refused(why, foreign[0].shelf)
    if kind is None:
        for slot in slots:
            place = (
                slot.manifest.get("path")
                or ", ".join(o["package"] for o in slot.manifest.get("originals", ()))
                or slot.manifest["name"]
            )
            out(
                f"{slot.path}: {slot.manifest['do'].replace('_', ' ')}: {place}"
                + ("" if slot.sealed else " (not sealed by this carrier)")
            )
        say(
            f"{plural(len(slots), 'thing')} would be put back with --put-back, or deleted for good with --empty; nothing was done"
        )
        return
    request = shop.shelves.request(kind, shop.shelves.orphan_row(run), []) | {"taken_over": True}
    result = work(request, "Putting back" if kind == Task.PUT_BACK else "Emptying")
    say(
        f"{result['left']} left"
        if result["left"]
        else "everything was put back"
        if kind == Task.PUT_BACK
        else "the holding shelf is empty"
    )
    for entry in result["why"]:
        say(f"stays on the shelf: {entry['path'] or entry['line']}: {entry['why']}")
    if result["left"]:
        sys.exit(1)
