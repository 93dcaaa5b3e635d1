"""watch: run an application, or attach to it, and see what it writes."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import click

from swept_shelf.cli.common import find_line, out, say, with_workshop
from swept_shelf.core.belongings.corrections import ITS
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.base_folders import base_folders
from swept_shelf.core.machine.own_folders import only_root_can_change
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.survey.whose import place_above
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("app")
@click.option(
    "--run", "start", is_flag=True, help="Start it; without this, processes that run already are watched."
)
@click.option("--seconds", default=30.0, show_default=True, help="How long.")
@click.option(
    "--keep",
    is_flag=True,
    help="Keep the places that its own processes wrote, and that nobody claims, as its.",
)
@with_workshop
def watch(shop: Workshop, app: str, start: bool, seconds: float, keep: bool) -> None:
    """Watch what an application writes, for more proof of what belongs to it."""
    from swept_shelf.core.machine.watching import watch as look

    if not shop.machine.live:
        raise Refused(
            "programs of another root do not run here: only this computer's own can be watched",
            shop.machine.root,
        )
    _, surveyed = shop.latest()
    entry = find_line(surveyed.survey, app)
    if not isinstance(entry, Application) or not entry.executables:
        raise Refused(f"{entry.id} has no program that could be watched")
    people = read_people(shop.machine)
    folders = {f for p in people for f in base_folders(shop.machine, p).values()} | {
        "/var/lib",
        "/var/cache",
        "/var/log",
    }
    started: subprocess.Popen[Any] | None = None
    if start and os.geteuid() == 0 and not only_root_can_change(Path(entry.executables[0]).resolve()):
        raise Refused(
            "others can write to it: as root it is not started. Let its person start it, then watch without --run",
            entry.executables[0],
        )
    if start:
        started = subprocess.Popen(
            [entry.executables[0]],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            cwd="/",
        )
    say(f"watching {entry.name} for {seconds:g} s" + (": it ends when the program ends" if started else ""))
    found = look(
        shop.machine,
        entry.executables,
        sorted(folders),
        seconds,
        lambda: started is not None and started.poll() is not None,
    )
    out(f"{plural(len(found.processes), 'process', 'processes')} of it seen")
    kept = []
    for path in sorted(found.by_it):
        place, owner = place_above(surveyed.survey, path, people)
        out(f"written by it: {path}" + (f"  ({owner})" if owner else ""))
        if place and not owner and place not in kept:
            kept.append(place)
    for path in sorted(found.meanwhile):
        out(f"written meanwhile, by whom is not known: {path}")
    for place in kept if keep else ():
        rule = shop.tell(ITS, entry.id, place, "seen being written by it")
        say(f"kept in {shop.rules_file}: {rule.place} belongs to {entry.id}")
    if not found.processes:
        sys.exit(1)
