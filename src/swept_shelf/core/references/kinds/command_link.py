"""Links in folders that shells search, leading to a program."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import Entry, Kind, Place


def _parse(_path: str, target: str) -> Iterator[Entry]:
    yield whole_file(0, target, f"-> {target}", (), "a link by which shells find it")


KIND = Kind(
    "link",
    "shell",
    ("link to its program", "links to its program"),
    tuple(
        Place(f"{folder}/*")
        for folder in (
            "~/bin",
            "~/.local/bin",
            "/usr/local/bin",
            "/usr/local/sbin",
            "/usr/local/games",
            "/usr/bin",
            "/usr/sbin",
            "/usr/games",
        )
    ),
    _parse,
    links=True,
)
