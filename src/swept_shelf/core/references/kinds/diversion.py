"""Files that the registry was told to put aside for another (dpkg-divert(1)): its own tool takes the row."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import lines_of
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    lines = list(lines_of(text))
    for first, second, third in zip(lines[::3], lines[1::3], lines[2::3], strict=False):
        if third.text != ":":  # a package's own, and goes with it: whose file it puts aside does not matter
            package = tuple(one(By.PACKAGE, third.text))
            yield Entry(
                first.number, first.text, f"{first.text} by {third.text}", package, "it put this aside"
            )
            continue
        paths = (*one(By.PATH, first.text), *one(By.PATH, second.text))
        yield Entry(first.number, first.text, f"{first.text} by a person", paths, "is put aside")


KIND = Kind(
    "diversion",
    "registry",
    ("diversion", "diversions"),
    (Place("/var/lib/dpkg/diversions"),),
    _parse,
    table="diversions",
)
