"""What may be started with another's rights: sudoers(5), doas.conf(5)."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import continued_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_ALIAS = re.compile(r"^\s*Cmnd_Alias\s+\w+\s*=\s*(.*)$", re.S)
_RULE = re.compile(
    r"^\s*(?!Defaults|User_Alias|Host_Alias|Runas_Alias|Cmnd_Alias|@?include)([^\s=]+(?:\s*,\s*[^\s=]+)*)\s+[^=]+=(.*)$",
    re.S,
)
_BEFORE = re.compile(r"^\s*(?:\([^)]*\)\s*)?(?:[A-Z_]+:\s*)*")
_DEFAULTS = re.compile(r"^\s*Defaults!(\S+)")


def _parse(path: str, text: str) -> Iterator[Entry]:
    for line in continued_lines(text):
        if "doas" in path:
            if match := re.search(r"\bcmd\s+(\S+)", line.text):
                yield Entry(
                    line.number,
                    line.text,
                    line.text,
                    one(By.COMMAND, match[1]),
                    "may be started with rights",
                    line.start,
                    line.end,
                )
            continue
        if match := _DEFAULTS.match(line.text):
            yield Entry(
                line.number,
                line.text,
                line.text,
                one(By.COMMAND, match[1]),
                "rights for it",
                line.start,
                line.end,
            )
            continue
        match = _ALIAS.match(line.text) or _RULE.match(line.text)
        if not match:
            continue
        value = match[match.lastindex or 1]
        at = line.start + match.start(match.lastindex or 1)
        if match.re is _RULE and (found := _account(match[1])):
            yield Entry(
                line.number, line.text, line.text, found, "rights for its account", line.start, line.end
            )
        if (
            text[line.start : line.end].count("\n") > 1
        ):  # over several lines: the pieces stand where they are in the file
            value, at = text[at : line.end].rstrip("\n"), at
        yield from listed_entries(line, at, value, ",", _command, "may be started with rights")


def _account(who: str) -> tuple[Target, ...]:
    return one(By.ACCOUNT, who.lstrip("%").strip())


def _command(part: str) -> tuple[Target, ...]:
    bare = part.replace("\\\n", " ")[_BEFORE.match(part).end() :].lstrip("!").split()  # type: ignore[union-attr]
    return one(By.COMMAND, bare[0]) if bare and bare[0].startswith("/") else ()


def why_not(_path: str, _before: str, after: str) -> str:
    """A rule or an alias without any command would shut the whole file out."""
    for line in continued_lines(after):
        match = _ALIAS.match(line.text)
        if match and not match[1].strip():
            return f"would leave an alias without commands on line {line.number}"
    return ""


KIND = Kind(
    "rights",
    "security",
    ("rule of rights", "rules of rights"),
    (
        Place("/etc/sudoers"),
        Place("/etc/sudoers.d/*", heeded=r"[^.~]+"),
        Place("/etc/doas.conf"),
        Place("/etc/doas.d/*.conf"),
    ),
    _parse,
    alone="lines",
    why_broken=why_not,
)
