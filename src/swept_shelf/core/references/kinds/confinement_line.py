"""Lines in profiles of others that let them start it or reach its places (apparmor.d(5)), and names for such places."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_RULE = re.compile(
    r"^\s*(?:(?:owner|audit|deny|allow|file)\s+)*\"?(?P<path>/[^\s\",]+)\"?(?:\s+[\w]+(?:\s*->\s*\S+)?)?\s*,\s*(?:#.*)?$"
)
_NAME = re.compile(r"^\s*@\{\w+\}\s*\+?=\s*(?P<many>.+?)\s*$")


def _path(value: str) -> tuple[Target, ...]:
    plain = re.sub(r"/?(?:\*\*?|\{.*)$", "", value.strip('"'))
    return (*one(By.COMMAND, plain), *of_words(plain))


def _parse(_path_of: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        if match := _RULE.match(line.text):
            yield Entry(
                line.number,
                line.text,
                line.text,
                _path(match["path"]),
                "a profile of another program names it",
                line.start,
                line.end,
            )
        elif match := _NAME.match(line.text):
            at = line.start + match.start("many")
            yield from listed_entries(line, at, match["many"], " ", _path, "a name in profiles stands for it")


KIND = Kind(
    "line of a confinement",
    "security",
    ("line of a profile that confines", "lines of profiles that confine"),
    (
        Place("/etc/apparmor.d/*"),
        Place("/etc/apparmor.d/local/*"),
        Place("/etc/apparmor.d/tunables/*"),
        Place("/etc/apparmor.d/tunables/*.d/*"),
        Place("/etc/apparmor.d/abstractions/*"),
        Place("/etc/apparmor.d/abstractions/*.d/*"),
    ),
    _parse,
)
