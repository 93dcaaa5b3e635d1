"""Jobs of cron: crontab(5), with a user column in the system's own tables."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.operations import LineEdit
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.lines import split_lines
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.references.shell_words import programs_of

FAMILY = "schedules"
CRONTABS = "/var/spool/cron/crontabs"
_JOB = re.compile(r"^\s*(@\w+|(?:[\d*/,\w-]+\s+){4}[\d*/,\w-]+)\s+(.*)$")


def places() -> list[str]:
    return ["/etc/cron.d", "/etc/crontab", CRONTABS]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    for number, line in enumerate(split_lines(text), 1):
        if line.lstrip().startswith("#") or not (match := _JOB.match(line)):
            continue
        command = match[2]
        if not path.startswith(CRONTABS):
            command = command.partition(" ")[2].strip()
        for id in dict.fromkeys(i for w in programs_of(command) if (i := to.program(w))):
            yield Hit(id, FAMILY, "cron", path, number, line, line, f"a job runs it: {match[1].strip()}")


def edits(text: str, to: Pointees) -> list[LineEdit]:
    """A job's line goes whole; everything else stays."""
    for path in ("/etc/cron.d/x", f"{CRONTABS}/x"):
        found = {h.line: h.text for h in find(path, text, to)}
        if found:
            return [LineEdit(n, t, None) for n, t in sorted(found.items())]
    return []
