"""Links anywhere that lead to it."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import EVERYWHERE, Entry, Kind, Place


def _parse(_path: str, target: str) -> Iterator[Entry]:
    yield whole_file(0, target, f"-> {target}", (), "a link into its files")


KIND = Kind(
    "link into it",
    "files",
    ("link into its files", "links into its files"),
    (Place(EVERYWHERE),),
    _parse,
    links=True,
)
