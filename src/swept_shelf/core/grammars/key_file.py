"""Key files: groups in brackets with keys and values (Desktop Entry Specification 3; also units, git and many others)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from swept_shelf.core.grammars.lines import Line, lines_of


@dataclass(frozen=True, slots=True)
class Item:
    """One key: its line or continued lines from `start` to `end`, its value from `at` on."""

    key: str
    value: str
    number: int
    text: str
    start: int
    end: int
    at: int

    def members(self, mark: str = ";") -> Iterator[tuple[str, int, int]]:
        """Parts of a value that is a list, with their places."""
        at = self.at
        for part in self.value.split(mark):
            bare = part.strip()
            begin = at + (0 if at > self.at else len(part) - len(part.lstrip()))
            yield bare, begin, at + len(part.rstrip())
            at += len(part) + len(mark)


@dataclass(slots=True)
class Group:
    """A group with its keys; before the first header the name is ""."""

    name: str
    number: int
    start: int
    end: int
    text: str = ""
    items: list[Item] = field(default_factory=list)

    def get(self, key: str) -> str:
        """The first value of the key; "" where it has none."""
        return next((i.value for i in self.items if i.key == key), "")


_HEADER = re.compile(r"^\s*\[(.*)\]\s*(?:[#;].*)?$")


def groups_of(text: str, comments: str = "#", sign: str = "=") -> list[Group]:
    """All groups in their order; lines that are none of it belong to their group and say nothing."""
    found = [Group("", 1, 0, 0)]
    lines = list(lines_of(text))
    n = 0
    while n < len(lines):
        line, group = lines[n], found[-1]
        n += 1
        bare = line.text.strip()
        if bare and bare[0] in comments:
            group.end = line.end
            continue
        if match := _HEADER.match(line.text):
            found.append(Group(match[1].strip(), line.number, line.start, line.end, line.text))
            continue
        group.end = line.end
        key, mark, value = line.text.partition(sign)
        if not mark or not key.strip():
            continue
        end, joined = line.end, value
        while joined.endswith("\\") and n < len(lines):
            joined, end, n = joined[:-1] + " " + lines[n].text, lines[n].end, n + 1
        at = line.start + len(key) + len(sign) + len(value) - len(value.lstrip())
        bare_value = joined.strip()
        group.items.append(Item(key.strip(), bare_value, line.number, line.text, line.start, end, at))
    return found


def header(line: Line) -> str:
    """The name of the group that a line begins; "" for any other line."""
    match = _HEADER.match(line.text)
    return match[1].strip() if match else ""
