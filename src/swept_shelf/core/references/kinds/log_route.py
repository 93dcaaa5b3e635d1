"""What a system's log does with its messages, in statements that name one another (syslog-ng.conf(5)): a filter or a destination
of its goes with the routes that need it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_STATEMENT = re.compile(r"^[ \t]*(source|filter|destination|parser|rewrite|log)\b[ \t]*([\w.-]*)\s*\{", re.M)
_PROGRAM = re.compile(r"\bprogram\s*\(\s*[\"']?\^?([\w./+-]+)")
_USE = re.compile(r"\b(source|filter|destination|parser|rewrite)\s*\(\s*([\w.-]+)\s*\)[ \t]*;?[ \t]*")
_LOGS = "/var/log/"
_LONGEST = 4096  # characters of one statement
_DETAIL = "its messages are routed"


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """What is of several programs is shown alone, and a route that has other ends beside its own loses only that end. Raises
    ValueError for what is never closed."""
    named: dict[tuple[str, str], tuple[Target, ...]] = {}
    statements = [(m[1], m[2], m.start(), _end(text, m.end())) for m in _STATEMENT.finditer(text)]
    for what, name, start, end in statements:
        programs = dict.fromkeys(m[1] for m in _PROGRAM.finditer(text, start, end))
        targets = tuple(dict.fromkeys((*_of_programs(programs), *_of_places(text[start:end]))))
        shared = len(programs) > 1
        if what == "log" and not targets:
            yield from _of_route(text, start, end, named)
            continue
        if name and not shared:
            named[what, name] = targets
        if targets:
            yield _entry(text, start, start, start if shared else end, targets)


def _of_programs(programs: Iterable[str]) -> Iterator[Target]:
    for program in programs:
        yield from (*one(By.COMMAND, program), *one(By.NAME, program))


def _of_places(body: str) -> Iterator[Target]:
    for target in of_words(body):
        yield target
        if target.value.startswith(_LOGS):
            yield from one(By.NAME, target.value.removeprefix(_LOGS).split("/")[0].split(".")[0])


def _of_route(
    text: str, start: int, end: int, named: dict[tuple[str, str], tuple[Target, ...]]
) -> Iterator[Entry]:
    """A route by what it names: whole where only messages of its come through, or where no other end is left."""
    uses = list(_USE.finditer(text, start, end))
    for use in uses:
        if targets := named.get((use[1], use[2])):
            alike = [other for other in uses if other[1] == use[1]]
            whole = use[1] not in ("source", "destination") or len(alike) == 1
            yield _entry(text, start, *((start, end) if whole else use.span()), targets)


def _entry(text: str, at: int, start: int, end: int, targets: tuple[Target, ...]) -> Entry:
    line = text.count("\n", 0, at) + 1
    shown = text[at:].split("\n", 1)[0].strip()
    return Entry(line, shown, shown, targets, _DETAIL, start, end)


def _end(text: str, at: int) -> int:
    """Behind the statement whose body begins at `at`, with its semicolon and its line's end."""
    depth, quote = 1, ""
    for here in range(at, min(len(text), at + _LONGEST)):
        letter = text[here]
        if quote:
            quote = "" if letter == quote else quote
        elif letter in "\"'":
            quote = letter
        else:
            depth += {"{": 1, "}": -1}.get(letter, 0)
        if depth == 0:
            match = re.compile(r"\}[ \t]*;?[ \t]*\n?").match(text, here)
            return match.end() if match else here + 1
    raise ValueError(f"a statement is never closed, or longer than {_LONGEST} characters")


KIND = Kind(
    "route of messages",
    "logs",
    ("route of its messages", "routes of its messages"),
    (Place("/etc/syslog-ng/syslog-ng.conf"), Place("/etc/syslog-ng/conf.d/*.conf")),
    _parse,
    alone="lines",
)
