"""Programs started at login (freedesktop.org Desktop Application Autostart Specification)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.desktop_entries import entry_that_starts
from swept_shelf.core.references.kind import Entry, Kind, Place


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield from entry_that_starts(path, text, "starts at login")


KIND = Kind(
    "autostart",
    "startup",
    ("start at login", "starts at login"),
    (
        Place("~config/autostart/*.desktop"),
        Place("/etc/xdg/autostart/*.desktop", 1),
        Place("~config/autostart/*.desktop?*", heeded=r".*\.desktop$"),  # set aside by a longer name
        Place("/etc/xdg/autostart/*.desktop?*", 1, heeded=r".*\.desktop$"),
    ),
    _parse,
    whole=True,
    masks=True,
    starts="login",
    most=1 << 20,
)
