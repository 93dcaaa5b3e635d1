"""Formats of programs that it is to start (binfmt.d(5))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        if "/binfmts/" in path:  # the table of update-binfmts(8): a field to a line
            return (
                one(By.COMMAND, line.text)
                if line.text.startswith("/")
                else one(By.PACKAGE, line.text)
                if line.number == 1
                else ()
            )
        fields = line.text.split(line.text[:1])
        return one(By.COMMAND, fields[6]) if len(fields) > 6 else ()

    yield from line_entries(said_lines(text, "#;"), targets, "starts programs of a format")


KIND = Kind(
    "format of programs",
    "startup",
    ("format of programs", "formats of programs"),
    (
        Place("/etc/binfmt.d/*.conf"),
        Place("/var/lib/binfmts/*"),
        Place("/usr/local/lib/binfmt.d/*.conf"),
        Place("/usr/lib/binfmt.d/*.conf"),
    ),
    _parse,
    alone="lines",
)
