"""How its logs are turned over (logrotate(8)): a block for several logs loses only its own."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import lines_of
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_BLOCK = re.compile(
    r"^[ \t]*((?:[\"']?/[^\n{#]*\n[ \t]*)*[\"']?/[^\n{#]*)\{(.*?)^[ \t]*\}[ \t]*\n?", re.M | re.S
)
_WORD = re.compile(r"[\"']?(/[^\s\"'{]+)[\"']?")
_SU = re.compile(r"^\s*(?:su|create\s+\d+)\s+([\w-]+)", re.M)


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    for block in _BLOCK.finditer(text):
        logs = list(_WORD.finditer(text, block.start(1), block.end(1)))
        yield from _inside(text, *block.span(2))
        for log in logs:
            line = text.count("\n", 0, log.start()) + 1
            targets: list[Target] = [*_log(log[1])]
            if len(logs) == 1:
                targets += [t for m in _SU.finditer(block[2]) for t in one(By.ACCOUNT, m[1])]
                targets += (*one(By.NAME, name), *one(By.PACKAGE, name), *one(By.COMMAND, name))
            yield Entry(
                line,
                log[1],
                log[0],
                tuple(targets),
                "its log is turned over",
                log.start(),
                log.end(),
                block.span(),
                len(logs),
                " ",
            )


def _inside(text: str, start: int, end: int) -> Iterator[Entry]:
    """Lines of a block by which somebody else's log may be turned over with its help, or as its account."""
    for line in lines_of(text[start:end]):
        number, at = text.count("\n", 0, start + line.start) + 1, start + line.start
        account = _SU.match(line.text)
        targets = one(By.ACCOUNT, account[1]) if account else of_shell(line.text.strip())
        said = "is turned over as its account" if account else "is started when a log is turned over"
        yield Entry(number, line.text.strip(), line.text, targets, said, at, start + line.end, ask=True)


def _log(path: str) -> tuple[Target, ...]:
    """By its folder, or by a name of its own: /var/log/NAME.log."""
    stem = base(path).split(".")[0].split("*")[0]
    folder = path.split("/")[3] if path.startswith("/var/log/") and path.count("/") > 3 else ""
    return (
        *of_words(path),
        *(t for w in (stem, folder) if w for t in (*one(By.NAME, w), *one(By.COMMAND, w))),
    )


KIND = Kind(
    "log rotation",
    "logs",
    ("turning over of its logs", "turning over of its logs"),
    (
        Place("/etc/logrotate.conf"),
        Place("/etc/logrotate.d/*", heeded=r"(?!.*(~|\.bak|\.dpkg-\w+|\.rpm\w+|,v)$).*"),
    ),
    _parse,
    alone="lines",
)
