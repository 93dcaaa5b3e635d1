"""Entries made from lines, keys, elements and stanzas: the shapes in which most kinds are written."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from swept_shelf.core.grammars.elements import Element, with_its_lines
from swept_shelf.core.grammars.json_members import Member
from swept_shelf.core.grammars.key_file import Group, Item
from swept_shelf.core.grammars.lines import Line
from swept_shelf.core.references.kind import Entry, Target

Targets = tuple[Target, ...]


def line_entries(
    lines: Iterable[Line], targets: Callable[[Line], Targets], detail: str, ask: bool = False
) -> Iterator[Entry]:
    """A line that points goes whole."""
    for line in lines:
        if found := targets(line):
            yield Entry(line.number, line.text, line.text, found, detail, line.start, line.end, ask=ask)


def listed_entries(
    line: Line, at: int, value: str, mark: str, target: Callable[[str], Targets], detail: str, key: str = ""
) -> Iterator[Entry]:
    """Members of a list that stands in a line from `at` on, a single value without a `mark`; the line goes with the last."""
    parts, first = value.split(mark) if mark else [value], at
    filled = sum(bool(p.strip()) for p in parts)
    for part in parts:
        bare = part.strip()
        begin = at + (0 if at > first else len(part) - len(part.lstrip()))
        if bare and (found := target(bare)):
            yield Entry(
                line.number,
                key or line.text,
                line.text,
                found,
                detail,
                begin,
                at + len(part.rstrip()),
                (line.start, line.end),
                filled,
                mark,
            )
        at += len(part) + len(mark)


def item_entry(group: Group, item: Item, targets: Targets, detail: str, setting: str = "") -> Entry:
    """A key goes with its line; the group with the last of its keys."""
    named = bool(group.name)
    return Entry(
        item.number,
        f"{group.name}/{item.key}",
        item.text,
        targets,
        detail,
        item.start,
        item.end,
        (group.start, group.end) if named else None,
        len(group.items) if named else 1,
        setting=setting,
    )


def member_entries(
    group: Group, item: Item, mark: str, target: Callable[[str], Targets], detail: str, setting: str = ""
) -> Iterator[Entry]:
    """Members of a key's list; the key's line goes with the last of them, the group with that where nothing else is in it."""
    members = [m for m in item.members(mark) if m[0]]
    only = group.name and len(group.items) == 1
    for text, start, end in members:
        if found := target(text):
            yield Entry(
                item.number,
                f"{group.name}/{item.key}",
                item.text,
                found,
                detail,
                start,
                end,
                (group.start, group.end) if only else (item.start, item.end),
                len(members),
                mark,
                setting=setting,
            )


def group_entry(group: Group, targets: Targets, detail: str) -> Entry:
    """The group goes whole."""
    return Entry(group.number, group.name, group.text, targets, detail, group.start, group.end)


def element_entry(
    text: str, element: Element, shown: str, targets: Targets, detail: str, line: int = 0, ask: bool = False
) -> Entry:
    """The element goes, with the lines that are its alone."""
    start, end = with_its_lines(text, element.start, element.end)
    return Entry(line or element.line, shown, shown, targets, detail, start, end, ask=ask)


def json_entries(
    found: list[Member], targets: Callable[[Member], Targets], key: Callable[[Member], str], detail: str
) -> Iterator[Entry]:
    """Members of one object or array: each goes with a comma beside it."""
    for member in found:
        if pointed := targets(member):
            name, whole = key(member), (found[0].start, found[-1].end)
            yield Entry(
                member.line, name, name, pointed, detail, member.start, member.end, whole, len(found), ","
            )


def all_of_it(text: str, key: str, shown: str, targets: Targets, detail: str) -> Entry:
    """The file's whole text goes, of a kind of which other files lose a part only."""
    return Entry(1, key, shown, targets, detail, 0, len(text))


def whole_file(line: int, key: str, text: str, targets: Targets, detail: str, enabled: bool = True) -> Entry:
    """The file goes whole."""
    return Entry(line, key, text, targets, detail, enabled=enabled)
