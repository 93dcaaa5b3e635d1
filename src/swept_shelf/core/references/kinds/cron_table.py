"""Jobs of cron in tables: crontab(5), with a column for the user in the system's own."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

SPOOL = "/var/spool/cron/"
_JOB = re.compile(r"^[ \t]*(@\w+|(?:[\w*/,~-]+[ \t]+){4}[\w*/,~-]+)[ \t]+(.*)$")
_USER = re.compile(r"(\S+)[ \t]+(.*)$")
_PATHS = re.compile(r"^\s*PATH\s*=\s*[\"']?([^\"'\s]+)")
_OTHER_SPOOL = "/var/spool/fcron/"  # fcrontab(5): options stand before the times
_OTHER_JOB = re.compile(
    r"^[ \t]*(@\S*[ \t]+\d\w*|(?:&\S*[ \t]+)?(?:[\w*/,~-]+[ \t]+){4}[\w*/,~-]+)[ \t]+(.*)$"
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    """Which grammar holds is told by the place: a person's own table has no column for the user."""
    for line in said_lines(text):
        if path.startswith(_OTHER_SPOOL):
            match = _OTHER_JOB.match(line.text)
        else:
            match = _JOB.match(line.text)
        if not match:
            if paths := _PATHS.match(line.text):
                at = line.start + paths.start(1)
                said = "its folder is searched by jobs"
                yield from listed_entries(line, at, paths[1], ":", lambda part: one(By.PATH, part), said)
            continue
        command = match[2]
        account: tuple[Target, ...] = ()
        if not path.startswith((SPOOL, _OTHER_SPOOL)):
            user = _USER.match(command)
            command = user[2] if user else ""
            account = one(By.ACCOUNT, user[1]) if user else ()
        command = re.split(r"(?<!\\)%", command)[0]
        started = of_shell(command)
        named = tuple(t for t in of_words(command) if t.value not in {s.value for s in started})
        detail = f"a job runs it: {match[1].strip()}"
        span = line.start, line.end
        yield Entry(line.number, line.text, line.text, started, detail, *span)
        if named:
            detail = f"a job names it: {match[1].strip()}"
            yield Entry(line.number, line.text, line.text, named, detail, *span, ask=True)
        if account:  # last: of a line the first that points counts, and what is started is surer
            said = f"a job runs as its account: {match[1].strip()}"
            yield Entry(line.number, line.text, line.text, account, said, *span, ask=True)


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
        Place(f"{_OTHER_SPOOL}*.orig"),
    ),
    _parse,
    alone="lines",
    starts="schedule",
    owner_by_name=True,
)
