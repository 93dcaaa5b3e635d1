"""upkeep: keeping a computer so. Off until it is turned on; never removes a program."""

from __future__ import annotations

import sys

import click

from swept_shelf.cli.common import format_option, out, out_json, say, with_workshop, work
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.upkeep import Settings
from swept_shelf.core.documents.wire import to_json
from swept_shelf.upkeep.notice import notify
from swept_shelf.upkeep.round import Round, in_words, settings_file
from swept_shelf.upkeep.settings import changed, read_settings, write_settings
from swept_shelf.upkeep.timer import timer
from swept_shelf.workshop import Workshop


@click.command()
@click.option("--on", "turn", flag_value="on", default=None, help="Set the timer: systemd's, else cron's.")
@click.option("--off", "turn", flag_value="off", help="Take the timer away.")
@click.option(
    "--set",
    "told",
    multiple=True,
    metavar="NAME=VALUE",
    help="every=week, free=10GB, free:/home=20GB, unused=1y, grew=100MB, empty=30d, trim:thumbnails=90d.",
)
@click.option("--show", is_flag=True, help="Say what is set, and whether the timer is.")
@format_option
@with_workshop
def upkeep(shop: Workshop, turn: str | None, told: tuple[str, ...], show: bool, form: str) -> None:
    """Look, say what grew and what nobody uses, do what was chosen. Without an option: one round, now."""
    if told:
        write_settings(settings_file(shop), changed(read_settings(settings_file(shop)), told))
    settings = read_settings(settings_file(shop))
    if turn == "on":
        if not shop.machine.live:
            raise Refused("a timer is set on this computer's own root alone")
        by = timer().turn_on(settings.every)
        say(f"upkeep is on: every {settings.every}, by {by}")
    elif turn == "off":
        timer().turn_off()
        say("upkeep is off")
    if told or show or turn:
        for line in _settings_in_words(settings):
            out(line)
        if show:
            by = timer().on if shop.machine.live else ""
            out(f"timer: {'on, by ' + by if by else 'off'}")
        return
    found = Round(shop, work).go()
    if form == "json":
        out_json(to_json(found))
    else:
        for line in in_words(found):
            out(line)
        if found.quiet:
            say("nothing that anybody has to look at")
    if not found.quiet:
        if not sys.stdout.isatty():  # nobody reads along
            notify(f"Upkeep of {shop.machine.name}", in_words(found))
        sys.exit(1)


def _settings_in_words(s: Settings) -> list[str]:
    words = [f"every {s.every}", f"unused: {s.unused}", f"grew: {human_bytes(s.grew)} or more"]
    words.append(f"free: {human_bytes(s.free)} on every volume" if s.free else "free: no threshold")
    words += [f"free: {human_bytes(size)} on {mount}" for mount, size in s.volumes.items()]
    words.append(
        f"the holding shelf is emptied after {s.empty_after} days"
        if s.empty_after
        else "the holding shelf is never emptied"
    )
    words += [f"trimmed: {kind}, what is older than {days} days" for kind, days in s.trim.items()]
    return words
