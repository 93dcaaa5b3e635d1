"""What was thrown away from its folders (freedesktop.org Trash Specification): the note of where it was."""

from __future__ import annotations

from collections.abc import Iterator
from urllib.parse import unquote

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        if where := group.get("Path"):
            yield whole_file(
                2,
                "Path",
                f"Path={where}",
                one(By.PATH, unquote(where, errors="surrogateescape")),
                "was thrown away from its folder",
            )


KIND = Kind(
    "thrown away",
    "recents",
    ("note in the trash", "notes in the trash"),
    (Place("~data/Trash/info/*.trashinfo"),),
    _parse,
    whole=True,
    action="ask",
)
