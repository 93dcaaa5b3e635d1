"""Defaults that somebody set for its settings (glib-compile-schemas(1), overrides): a group for each schema."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import Group, Item, groups_of
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one

_MEMBER = re.compile(r"'([^']*)'|\"([^\"]*)\"")


def _members(group: Group, item: Item) -> Iterator[Entry]:
    """Launchers in a list in brackets; the key goes with the last of the list."""
    members = list(_MEMBER.finditer(item.value))
    for member in members:
        id = member[1] or member[2] or ""
        if id.endswith(".desktop"):
            id = base("/" + id)  # some name it by its path
            start, end = item.at + member.start(), item.at + member.end()
            if item.value[member.end() :].startswith(", "):
                end += 2
            elif item.value[: member.start()].endswith(", "):
                start -= 2
            whole = (item.start, item.end)
            key = f"{group.name}/{item.key}"
            yield Entry(
                item.number,
                key,
                item.text,
                one(By.LAUNCHER, id),
                "a default names its launcher",
                start,
                end,
                whole,
                len(members),
            )


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "/locks/" in path:  # a key to a line, that nobody may change
        for line in said_lines(text):
            parts = line.text.strip().strip("/").split("/")
            above = [".".join(parts[:n]) for n in range(len(parts) - 1, 1, -1)]
            targets = tuple(t for a in above for t in (*one(By.BUS, a), *one(By.LAUNCHER, f"{a}.desktop")))
            yield Entry(
                line.number, line.text, line.text, targets, "a key of its is locked", line.start, line.end
            )
        return
    for group in groups_of(text):
        if not group.name:
            continue
        schema = group.name.split(":")[0].replace("/", ".")
        parts = schema.split(".")
        above = [".".join(parts[:n]) for n in range(len(parts), 1, -1)]
        own = tuple(t for a in above for t in (*one(By.BUS, a), *one(By.LAUNCHER, f"{a}.desktop")))
        yield group_entry(
            group, (*own, *one(By.NAME, parts[-1])), f"defaults of its settings in {base(path)}"
        )
        for item in group.items:
            yield from _members(group, item)


KIND = Kind(
    "default of settings",
    "files",
    ("default of its settings", "defaults of its settings"),
    (
        Place("/usr/share/glib-2.0/schemas/*.gschema.override"),
        Place("/usr/local/share/glib-2.0/schemas/*.gschema.override"),
        Place("/etc/dconf/db/*.d/*"),
        Place("/etc/dconf/db/*.d/locks/*"),
    ),
    _parse,
    alone="lines",
)
