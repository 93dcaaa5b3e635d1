"""Other names of its files (link(2)): found by the file, not by what a text says."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.kind import Entry, Kind


def _parse(_path: str, _text: str) -> Iterator[Entry]:
    yield from ()


KIND = Kind(
    "other name of its file",
    "files",
    ("other name of its files", "other names of its files"),
    (),
    _parse,
    whole=True,
    action="ask",
)
