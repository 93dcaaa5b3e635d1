"""Printers and scanners that use its drivers or filters: somebody set them up, so they are asked about."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_BACKEND = re.compile(r"^\s*DeviceURI\s+([\w.+-]+):")
_FILTER = re.compile(r"^\*cups(?:Pre)?Filter2?:\s*\"[^\"]*\s(\S+)\"")


def _parse(path: str, text: str) -> Iterator[Entry]:
    sane = base(parent(path)) in ("sane.d", "dll.d")

    def targets(line: Line) -> tuple[Target, ...]:
        if sane:
            return (*one(By.LIBRARY, f"libsane-{line.text.strip()}.so.1"), *one(By.NAME, line.text.strip()))
        if match := _BACKEND.match(line.text):
            return one(By.COMMAND, f"/usr/lib/cups/backend/{match[1]}")
        if match := _FILTER.match(line.text):
            name = match[1] if match[1].startswith("/") else f"/usr/lib/cups/filter/{match[1]}"
            return one(By.COMMAND, name)
        if path.endswith(".convs") and len(fields := line.text.split()) > 3:
            return one(By.COMMAND, f"/usr/lib/cups/filter/{fields[3]}")
        return of_words(line.text) if line.text.startswith("*") else ()

    yield from line_entries(
        said_lines(text), targets, "a scanner's driver" if sane else "a printer uses it", ask=not sane
    )


KIND = Kind(
    "printer",
    "services",
    ("printer or scanner", "printers or scanners"),
    (
        Place("/etc/cups/printers.conf"),
        Place("/etc/cups/ppd/*.ppd"),
        Place("/etc/cups/*.convs"),
        Place("/etc/sane.d/dll.conf"),
        Place("/etc/sane.d/dll.d/*"),
    ),
    _parse,
)
