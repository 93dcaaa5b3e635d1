"""Which units are to be enabled when they come (systemd.preset(5))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        words = line.text.split()
        return (
            one(By.UNIT, words[1]) if len(words) > 1 and words[0] in ("enable", "disable", "ignore") else ()
        )

    yield from line_entries(said_lines(text, "#;"), targets, "says whether its unit starts")


KIND = Kind(
    "unit preset",
    "startup",
    ("preset of its unit", "presets of its units"),
    tuple(
        Place(f"{top}/systemd/{kind}-preset/*.preset")
        for top in ("/etc", "/usr/local/lib", "/usr/lib")
        for kind in ("system", "user")
    ),
    _parse,
    alone="lines",
)
