"""Lists of documents that are a file each, with the program that opened them."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if item.key == "X-KDE-LastOpenedWith":
                targets = (*one(By.COMMAND, item.value), *one(By.LAUNCHER, f"{item.value}.desktop"))
                yield whole_file(item.number, item.key, item.text, targets, "listed as opened with it")
            elif item.key.startswith("URL"):
                yield whole_file(
                    item.number, item.key, item.text, one(By.ADDRESS, item.value), "lies in its folder"
                )


KIND = Kind(
    "recent file",
    "recents",
    ("recent document in a file", "recent documents in files"),
    (Place("~data/RecentDocuments/*.desktop"),),
    _parse,
    whole=True,
)
