"""Jobs of at(1): each is a script of its own, behind lines that make its surroundings."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.grammars.shell_lines import commands
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_shell

_SURROUNDINGS = re.compile(
    r"^\s*(?:umask\b|cd\b.*\|\|\s*\{|\w+=[^;]*; export \w+\s*$|echo 'Execution directory|exit\b|\})"
)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    work = [c for c in commands(text) if not _SURROUNDINGS.match(c.text)]
    for command in work:
        if targets := of_shell(command.text):
            detail = "a job of at starts it"
            entry = whole_file(command.number, command.text, command.text, targets, detail)
            yield replace(entry, ask=len(work) > 1)  # it does more than that


KIND = Kind(
    "at job",
    "schedules",
    ("job of at", "jobs of at"),
    (Place("/var/spool/cron/atjobs/[ab=]*"), Place("/var/spool/at/[ab=]*")),
    _parse,
    whole=True,
    starts="schedule",
)
