"""Mail that is handed to it (aliases(5), forward(5), procmailrc(5), master(5)): asked about, for it is somebody's mail."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, continued_lines, lines_of
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_setting, of_words, one

_DETAIL = "mail is handed to it"
_LONGEST = 4096  # characters of a line that somebody wrote
_NAME = re.compile(r"[\w.-]+")
_ALIAS = re.compile(r"^\s*[^#:\s][^:]*:\s*(.*)$")
_SAYS = re.compile(
    r"^\s*(?:mailbox_command|mailbox_transport|content_filter|.*\bargv|mda|passwordeval|PassCmd|to|via)\b[\s=:]*\"?(.+?)\"?\s*$"
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    if name == ".procmailrc":
        yield from _recipes(text)
        return
    for line in continued_lines(text, "#"):
        if len(line.text) > _LONGEST:
            continue
        if name in ("aliases", ".forward"):
            match = _ALIAS.match(line.text) if name == "aliases" else re.match(r"\s*(.*)$", line.text)
            if match:
                yield from listed_entries(line, line.start + match.start(1), match[1], ",", _handed, _DETAIL)
        elif match := _SAYS.match(line.text):
            start = _service_of(text, line) if name == "master.cf" else line.start
            yield Entry(line.number, line.text, line.text, of_setting(match[1]), _DETAIL, start, line.end)


def _service_of(text: str, line: Line) -> int:
    """Where the service begins to whose lines this one, which is indented, belongs."""
    begins = [x.start for x in lines_of(text) if x.start <= line.start and x.text[:1].strip()]
    return max(begins, default=line.start)


def _handed(to: str) -> tuple[Target, ...]:
    bare = to.strip().strip('"')
    if bare.startswith("|"):
        return of_setting(bare[1:].strip())
    return (
        *of_words(bare.removeprefix(":include:")),
        *(one(By.ACCOUNT, bare) if _NAME.fullmatch(bare) else ()),
    )


def _recipes(text: str) -> Iterator[Entry]:
    """From the colon line to the line that does something: a recipe goes whole."""
    begun: Line | None = None
    for line in lines_of(text):
        bare = line.text.strip()
        if bare.startswith(":0"):
            begun = line
        elif begun and bare and bare[0] not in "*#":
            targets = of_setting(bare.lstrip("|! ")) if bare[0] == "|" else of_words(bare)
            yield Entry(begun.number, bare, bare, targets, _DETAIL, begun.start, line.end)
            begun = None


KIND = Kind(
    "mail",
    "other_programs",
    ("mail that is handed to it", "mail that is handed to it"),
    (
        Place("/etc/aliases"),
        Place("/etc/mail/aliases"),
        Place("~/.forward"),
        Place("~/.procmailrc"),
        Place("/etc/procmailrc"),
        Place("/etc/postfix/main.cf"),
        Place("/etc/postfix/master.cf"),
        Place("~/.fetchmailrc"),
        Place("~/.msmtprc"),
        Place("~config/msmtp/config"),
        Place("~/.mbsyncrc"),
    ),
    _parse,
    alone="lines",
    action="ask",
)
