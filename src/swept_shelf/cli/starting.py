"""at-start: what could not go now is finished when the computer starts next."""

from __future__ import annotations

import click

from swept_shelf.at_start import AtStart
from swept_shelf.cli.carrying import carry
from swept_shelf.cli.common import say, with_workshop
from swept_shelf.core.documents.errors import Refused
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("visit", default="latest")
@click.option("--off", "how", flag_value="off", default=None, help="Plan nothing any more.")
@click.option("--now", "how", flag_value="now", hidden=True)
@with_workshop
def at_start(shop: Workshop, visit: str, how: str | None) -> None:
    """Finish what was skipped or cut off in VISIT when this computer starts next: once, before anybody logs in."""
    start = AtStart()
    if how == "off":
        was = start.planned
        start.drop()
        say("nothing is finished at the next start any more" if was else "nothing was planned")
        return
    if how == "now":
        start.drop()  # whatever comes of it, it was the once
    elif why := start.why_not(shop.machine.live):
        raise Refused(why)
    row, run = shop.orders.unfinished(visit)
    if how == "now":
        carry(shop, run)
        return
    start.plan(run.folder, shop.ledger.file, str(row.number), shop.orders.services_of(run.order))
    say(f"order {run.order.id} is finished at the next start; `swept-shelf at-start --off` calls that off")
