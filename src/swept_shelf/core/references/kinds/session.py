"""Sessions that a display manager offers (desktop entries below xsessions and wayland-sessions)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.desktop_entries import entry_that_starts
from swept_shelf.core.references.kind import Entry, Kind, Place


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield from entry_that_starts(path, text, "a session that starts it")


KIND = Kind(
    "session",
    "startup",
    ("session", "sessions"),
    tuple(
        Place(f"{top}/{name}/*.desktop", rank)
        for rank, top in enumerate(("/usr/local/share", "/usr/share"))
        for name in ("xsessions", "wayland-sessions")
    ),
    _parse,
    whole=True,
    starts="login",
)
