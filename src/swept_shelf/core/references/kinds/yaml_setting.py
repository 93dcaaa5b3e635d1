"""Commands in settings that are YAML: hooks of backups, helpers for clusters. A line of it goes when that is said."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_setting

_COMMAND = re.compile(
    r"^\s*(?:-\s+)?(?:(?:command|exec|cmd|run|shell|path|program|\w+_command)\s*:\s*|-\s+)[\"']?([^\"'#].*?)[\"']?\s*$"
)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        if match := _COMMAND.match(line.text):
            detail = "another program’s settings start it"
            yield Entry(line.number, line.text, line.text, of_setting(match[1]), detail, line.start, line.end)


KIND = Kind(
    "setting in YAML",
    "other_programs",
    ("setting in YAML", "settings in YAML"),
    (
        Place("~/.kube/config"),
        Place("~config/borgmatic/**/*.yaml"),
        Place("/etc/borgmatic/*.yaml"),
        Place("/etc/borgmatic.d/*.yaml"),
        Place("~config/*/config.yml"),
        Place("~config/*/config.yaml"),
    ),
    _parse,
    action="ask",
)
