"""Extensions of other programs that are its: links and folders that lead into its own."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import Entry, Kind, Place


def _parse(_path: str, target: str) -> Iterator[Entry]:
    yield whole_file(0, target, f"-> {target}", (), "a link into its files")


KIND = Kind(
    "link into it",
    "files",
    ("link into its files", "links into its files"),
    (
        Place("~/*"),
        Place("~/.*"),
        Place("~desktop/*"),
        Place("~config/*"),
        Place("~config/*/*"),
        Place("~data/*"),
        Place("~data/*/*"),
        Place("~data/*/*/*"),
        Place("/etc/*"),
        Place("/etc/*/*"),
        Place("/etc/*/*/*"),
        Place("/usr/local/**/*"),
        Place("/opt/*"),
        Place("/opt/*/*"),
        Place("/srv/*"),
        Place("/var/lib/*"),
        Place("/var/lib/*/*"),
        Place("/usr/lib/*"),
        Place("/usr/lib/*/*"),
        Place("/usr/share/*"),
        Place("/usr/share/*/*"),
    ),
    _parse,
    links=True,
)
