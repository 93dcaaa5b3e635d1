"""Commands for types of mail parts: mailcap (RFC 1524), its order, and types of files by hand."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, one

_OURS = (
    "User Section Begins",
    "User Section Ends",
)  # outside of them update-mime(8) writes what packages say


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        if base(path) == "mailcap.order":
            return one(By.PACKAGE, line.text.split(":")[0].strip())
        fields = line.text.replace("\\;", " ").split(";")[1:]
        commands = [f.partition("=")[2] if i and "=" in f else f for i, f in enumerate(fields)]
        return tuple(dict.fromkeys(t for c in commands if c.strip() for t in of_shell(c.replace("%s", "x"))))

    begin, end = text.find(_OURS[0]), text.find(_OURS[1])
    lines = (x for x in continued_lines(text) if not 0 <= begin < end or begin < x.start < end)
    yield from line_entries(lines, targets, "opens parts of mails")


KIND = Kind(
    "mailcap",
    "file_types",
    ("command for a type", "commands for types"),
    (
        Place("~/.mailcap"),
        Place("/etc/mailcap"),
        Place("/usr/local/etc/mailcap"),
        Place("/etc/mailcap.order"),
        Place("/etc/mailcap.d/*"),
    ),
    _parse,
)
