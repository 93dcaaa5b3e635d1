"""Where its messages go (rsyslog.conf(5)), what is watched of it (audit.rules(7))."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_PROGRAM = re.compile(r"programname\s*,?\s*(?:==|isequal|startswith|contains)?\s*,?\s*[\"']([\w.+-]+)[\"']")

_PROCESS = re.compile(
    r"\s([\w.@/+-]+)\\?\[(?:\[|\\d|0)"
)  # a name with a number of a process behind it, in an expression


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        found = [t for m in _PROGRAM.finditer(line.text) for t in one(By.COMMAND, m[1])]
        if "/logcheck/" in path:
            return tuple(t for m in _PROCESS.finditer(line.text) for t in one(By.COMMAND, m[1]))
        for target in of_words(line.text):
            found += [target, *one(By.COMMAND, target.value)]
            if target.value.startswith("/var/log/"):
                stem = target.value.removeprefix("/var/log/").split("/")[0].split(".")[0]
                found += one(By.NAME, stem) + one(By.COMMAND, stem)
        return tuple(dict.fromkeys(found))

    yield from line_entries(_with_what_follows(text), targets, "its messages or files are watched")


def _with_what_follows(text: str) -> Iterator[Line]:
    """A rule with the lines behind it that begin with & and act on the same messages."""
    begun: Line | None = None
    for line in continued_lines(text):
        if begun is not None and line.text.lstrip().startswith("&"):
            begun = Line(begun.number, begun.text, begun.start, line.end)
            continue
        if begun is not None:
            yield begun
        begun = line
    if begun is not None:
        yield begun


KIND = Kind(
    "log rule",
    "logs",
    ("rule for its messages", "rules for its messages"),
    (
        Place("/etc/rsyslog.conf"),
        Place("/etc/rsyslog.d/*.conf"),
        Place("/etc/audit/rules.d/*.rules"),
        Place("/etc/audit/audit.rules"),
        Place("/etc/syslog-ng/conf.d/*.conf"),
        *(Place(f"/etc/logcheck/{folder}/*") for folder in ("ignore.d*", "violations*.d*", "cracking*.d*")),
    ),
    _parse,
    alone="lines",
)
