"""Jobs of anacron(8)."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell

_JOB = re.compile(r"^[ \t]*(?:@\w+|\d+)[ \t]+\d+[ \t]+\S+[ \t]+(.*)$")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        match = _JOB.match(line.text)
        return of_shell(match[1]) if match else ()

    yield from line_entries(said_lines(text), targets, "a job of anacron runs it")


KIND = Kind(
    "anacron",
    "schedules",
    ("job of anacron", "jobs of anacron"),
    (Place("/etc/anacrontab"),),
    _parse,
    starts="schedule",
)
