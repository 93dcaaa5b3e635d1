"""Scripts that run-parts(8) starts every hour, day, week and month: whole where they start nothing else, else somebody's own."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.scripts import script_entries
from swept_shelf.core.references.well_formed import why_no_shell


def _parse(_path: str, text: str) -> Iterator[Entry]:
    yield from script_entries(text, "a script that runs by itself starts it")


KIND = Kind(
    "periodic script",
    "schedules",
    ("periodic script", "periodic scripts"),
    tuple(
        Place(f"/etc/cron.{when}/*", heeded=r"[A-Za-z0-9_-]+", runs=True)
        for when in ("hourly", "daily", "weekly", "monthly")
    ),
    _parse,
    alone="entries",
    starts="schedule",
    why_broken=why_no_shell,
)
