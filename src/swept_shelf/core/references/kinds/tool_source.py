"""Settings of language tools and of other registries that name it: npm, pip, cargo, Flatpak."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import item_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_words, one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text, comments="#;"):
        for item in group.items:
            value = item.value.strip("\"'")
            targets = (
                *of_words(value),
                *(one(By.COMMAND, value) if "/" not in value and " " not in value else ()),
            )
            yield item_entry(group, item, targets, "a tool's settings name it")


KIND = Kind(
    "tool's setting",
    "sources",
    ("setting of a tool", "settings of tools"),
    (
        Place("~/.npmrc"),
        Place("/etc/npmrc"),
        Place("/usr/local/etc/npmrc"),
        Place("~config/pip/pip.conf"),
        Place("~/.pip/pip.conf"),
        Place("/etc/pip.conf"),
        Place("~/.cargo/config.toml"),
        Place("~/.cargo/config"),
        Place("~/.gemrc"),
        Place("~/.condarc"),
        Place("~config/containers/*.conf"),
        Place("/etc/flatpak/installations.d/*.conf"),
    ),
    _parse,
)
