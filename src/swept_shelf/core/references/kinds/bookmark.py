"""Bookmarks of folders in file dialogs and file managers."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, lines_of
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        return one(By.ADDRESS, line.text.split(" ")[0])

    yield from line_entries(lines_of(text), targets, "a bookmark leads into its folder")


KIND = Kind(
    "bookmark",
    "recents",
    ("bookmark of a folder", "bookmarks of folders"),
    (Place("~config/gtk-3.0/bookmarks"), Place("~config/gtk-4.0/bookmarks"), Place("~/.gtk-bookmarks")),
    _parse,
)
