"""Launchers in panels and docks that are files of their own."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.desktop_entries import entry_that_starts
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one

_DETAIL = "a launcher in a panel"


def _parse(path: str, text: str) -> Iterator[Entry]:
    if not path.endswith(".dockitem"):
        yield from entry_that_starts(path, text, _DETAIL)
        return
    for group in groups_of(text):
        for item in group.items:
            if item.key == "Launcher":
                targets = (*one(By.LAUNCHER, base("/" + item.value)), *one(By.ADDRESS, item.value))
                yield whole_file(item.number, item.key, item.text, targets, _DETAIL)


KIND = Kind(
    "panel launcher",
    "launchers",
    ("launcher in a panel", "launchers in panels"),
    (
        Place("~config/*/panel/launcher-*/*.desktop"),
        Place("~config/*/dock*/launchers/*.dockitem"),
        Place("~config/*/Quick Launch/*.desktop"),
    ),
    _parse,
    whole=True,
)
