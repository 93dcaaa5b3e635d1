"""Modules for signing in and for names (pam.d(5), nsswitch.conf(5))."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, continued_lines, said_lines
from swept_shelf.core.references.building import line_entries, listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_MODULE = re.compile(r"^\s*-?\w+\s+(?:\[[^\]]*\]|\w+)\s+(\S+\.so)\b(.*)$")


def _parse(path: str, text: str) -> Iterator[Entry]:
    if base(path) == "nsswitch.conf":
        for line in said_lines(text):
            database, colon, value = line.text.partition(":")
            if colon:
                yield from listed_entries(
                    line,
                    line.start + len(database) + 1,
                    value,
                    " ",
                    lambda w: one(By.LIBRARY, f"libnss_{w}.so.2"),
                    f"answers for {database.strip()}",
                )
        return

    def targets(line: Line) -> tuple[Target, ...]:
        match = _MODULE.match(line.text)
        return (*one(By.LIBRARY, match[1]), *of_words(match[2])) if match else ()

    yield from line_entries(continued_lines(text), targets, "signing in asks its module")


KIND = Kind(
    "signing in",
    "services",
    ("module for signing in", "modules for signing in"),
    (Place("/etc/pam.d/*"), Place("/etc/pam.conf"), Place("/etc/nsswitch.conf")),
    _parse,
    alone="lines",
)
