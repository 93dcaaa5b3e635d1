"""Links of update-alternatives(1) that lead to it: the registry's own command makes and takes them."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import lines_of
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    for line in lines_of(text):
        if line.text.startswith("/"):
            yield Entry(
                line.number, line.text, line.text, one(By.PATH, line.text), f"a choice for {base(path)}"
            )


KIND = Kind(
    "alternative",
    "file_types",
    ("alternative", "alternatives"),
    (Place("/var/lib/dpkg/alternatives/*"),),
    _parse,
    action="leave",
)
