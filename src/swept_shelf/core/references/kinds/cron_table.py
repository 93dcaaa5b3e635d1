"""Jobs of cron in tables: crontab(5), with a column for the user in the system's own."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_shell, of_words

SPOOL = "/var/spool/cron/"
_JOB = re.compile(r"^[ \t]*(@\w+|(?:[\w*/,~-]+[ \t]+){4}[\w*/,~-]+)[ \t]+(.*)$")
_USER = re.compile(r"\S+[ \t]+(.*)$")


def _parse(path: str, text: str) -> Iterator[Entry]:
    """Which grammar holds is told by the place: a person's own table has no column for the user."""
    for line in said_lines(text):
        if not (match := _JOB.match(line.text)):
            continue
        command = match[2]
        if not path.startswith(SPOOL):
            user = _USER.match(command)
            command = user[1] if user else ""
        command = re.split(r"(?<!\\)%", command)[0]
        started = of_shell(command)
        named = tuple(t for t in of_words(command) if t.value not in {s.value for s in started})
        detail = f"a job runs it: {match[1].strip()}"
        span = line.start, line.end
        yield Entry(line.number, line.text, line.text, started, detail, *span)
        if named:
            detail = f"a job names it: {match[1].strip()}"
            yield Entry(line.number, line.text, line.text, named, detail, *span, ask=True)


KIND = Kind(
    "cron",
    "schedules",
    ("job", "jobs"),
    (
        Place("/etc/crontab"),
        Place("/etc/cron.d/*", heeded=r"[A-Za-z0-9_-]+"),
        Place(f"{SPOOL}crontabs/*"),
        Place(f"{SPOOL}*"),
        Place(f"{SPOOL}tabs/*"),
    ),
    _parse,
    alone="lines",
    starts="schedule",
    owner_by_name=True,
)
