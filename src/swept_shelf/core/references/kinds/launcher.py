"""Launchers that people or administrators made or copied: in their own menu, on their desktop, for everybody."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.desktop_entries import entry_that_starts
from swept_shelf.core.references.kind import Entry, Kind, Place


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield from entry_that_starts(
        path, text, "starts it in the menu" if "/applications/" in path else "starts it on the desktop"
    )


KIND = Kind(
    "launcher",
    "launchers",
    ("own launcher", "own launchers"),
    (
        Place("~data/applications/**/*.desktop"),
        Place("~desktop/*.desktop"),
        Place("/usr/local/share/applications/**/*.desktop", 1),
        Place("/usr/share/applications/**/*.desktop", 2),
    ),
    _parse,
    whole=True,
    masks=True,
    most=1 << 20,
)
