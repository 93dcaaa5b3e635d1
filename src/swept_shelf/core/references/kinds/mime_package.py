"""Types of files that somebody described by hand for it (freedesktop.org Shared MIME-info Database)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path).removesuffix(".xml")
    targets = (
        *one(By.NAME, name),
        *one(By.PACKAGE, name),
        *one(By.LAUNCHER, f"{name}.desktop"),
        *one(By.COMMAND, name),
    )
    yield whole_file(1, name, text.split("\n", 1)[0], targets, "describes its types of files")


KIND = Kind(
    "types of files",
    "launchers",
    ("description of its types", "descriptions of its types"),
    (
        Place("~data/mime/packages/*.xml"),
        Place("/usr/local/share/mime/packages/*.xml"),
        Place("/usr/share/mime/packages/*.xml"),
    ),
    _parse,
    whole=True,
    head=4096,
)
