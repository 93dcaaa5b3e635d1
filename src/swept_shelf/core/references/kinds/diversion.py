"""Files that the registry was told to put aside for another (dpkg-divert(1)): its own tool takes the row."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one
from swept_shelf.core.registries.debian.diversions import read_diversions


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for line, aside, to, package in read_diversions(text):
        if package == ":":
            paths = (*one(By.PATH, aside), *one(By.PATH, to))
            yield Entry(line, aside, f"{aside} by a person", paths, "is put aside")
        else:  # a package's own, and goes with it: whose file it puts aside does not matter
            yield Entry(line, aside, f"{aside} by {package}", one(By.PACKAGE, package), "it put this aside")


KIND = Kind(
    "diversion",
    "registry",
    ("diversion", "diversions"),
    (Place("/var/lib/dpkg/diversions"),),
    _parse,
    table="diversions",
)
