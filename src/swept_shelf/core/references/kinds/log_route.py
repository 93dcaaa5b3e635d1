"""What a system's log does with its messages, in statements that name one another (syslog-ng.conf(5)): a filter or a destination
of its goes with the routes that need it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_STATEMENT = re.compile(r"^[ \t]*(source|filter|destination|parser|rewrite|log)\b[ \t]*([\w.-]*)\s*\{", re.M)
_PROGRAM = re.compile(r"\bprogram\s*\(\s*[\"']?\^?([\w./+-]+)")
_LONGEST = 4096  # characters of one statement
_DETAIL = "its messages are routed"


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError for what is never closed."""
    named: dict[tuple[str, str], tuple[Target, ...]] = {}
    statements = [(m[1], m[2], m.start(), _end(text, m.end())) for m in _STATEMENT.finditer(text)]
    for what, name, start, end in statements:
        body = text[start:end]
        targets = [t for m in _PROGRAM.finditer(body) for t in (*one(By.COMMAND, m[1]), *one(By.NAME, m[1]))]
        for target in of_words(body):
            targets.append(target)
            stem = target.value.removeprefix("/var/log/").split("/")[0].split(".")[0]
            targets += one(By.NAME, stem) if target.value.startswith("/var/log/") else ()
        if what == "log":
            uses = re.findall(r"\b(source|filter|destination|parser|rewrite)\s*\(\s*([\w.-]+)\s*\)", body)
            targets += [t for use in uses for t in named.get(use, ())]
        elif name:
            named[what, name] = tuple(targets)
        if targets:
            line = text.count("\n", 0, start) + 1
            shown = text[start : text.find("\n", start) if "\n" in text[start:] else len(text)].strip()
            yield Entry(line, shown, shown, tuple(dict.fromkeys(targets)), _DETAIL, start, end)


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
    raise ValueError("a statement is never closed")


KIND = Kind(
    "route of messages",
    "logs",
    ("route of its messages", "routes of its messages"),
    (Place("/etc/syslog-ng/syslog-ng.conf"), Place("/etc/syslog-ng/conf.d/*.conf")),
    _parse,
    alone="lines",
)
