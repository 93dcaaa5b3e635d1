"""Jobs of cron: crontab(5), with a user column in the system's own tables."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.references.cutting import line_spans, whole_line
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.references.shell_words import programs_of

FAMILY = "schedules"
CRONTABS = "/var/spool/cron/crontabs"
_JOB = re.compile(r"^[ \t]*(@\w+|(?:[\w*/,~-]+[ \t]+){4}[\w*/,~-]+)[ \t]+(.*)$")
_USER = re.compile(r"\S+[ \t]+(.*)$")


def places() -> list[str]:
    return ["/etc/cron.d", "/etc/crontab", CRONTABS]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    """Which grammar holds is told by the place: a person's own table has no column for the user."""
    for number, line in enumerate(text.split("\n"), 1):
        if line.lstrip().startswith("#") or not (match := _JOB.match(line)):
            continue
        command = match[2]
        if not path.startswith(CRONTABS):
            user = _USER.match(command)
            command = user[1] if user else ""
        for id in dict.fromkeys(i for w in programs_of(command) if (i := to.program(w))):
            yield Hit(id, FAMILY, "cron", path, number, line, line, f"a job runs it: {match[1].strip()}")


def cuts(path: str, text: str, to: Pointees) -> list[tuple[str, Cut]]:
    """A job's line goes whole; everything else stays."""
    spans = line_spans(text)
    return [(h.key, whole_line(h.line, *spans[h.line - 1])) for h in find(path, text, to)]
