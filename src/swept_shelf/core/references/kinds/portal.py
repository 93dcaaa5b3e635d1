"""Who answers the requests of programs in boxes (portals), and which of them is preferred."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import item_entry, member_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _target(word: str) -> tuple[Target, ...]:
    return (Target(By.NAME, word), Target(By.COMMAND, f"xdg-desktop-portal-{word}"))


def _parse(path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if path.endswith(".portal") and item.key == "DBusName":
                yield item_entry(
                    group, item, one(By.BUS, item.value), "answers requests of programs in boxes"
                )
            elif path.endswith("portals.conf") and group.name == "preferred":
                yield from member_entries(group, item, ";", _target, "is asked first by programs in boxes")


KIND = Kind(
    "portal",
    "services",
    ("portal", "portals"),
    (
        Place("~config/xdg-desktop-portal/*portals.conf"),
        Place("~data/xdg-desktop-portal/portals/*.portal"),
        Place("/etc/xdg/xdg-desktop-portal/*portals.conf", 1),
        Place("/usr/local/share/xdg-desktop-portal/*portals.conf", 2),
        Place("/usr/local/share/xdg-desktop-portal/portals/*.portal", 2),
        Place("/usr/share/xdg-desktop-portal/portals/*.portal", 3),
    ),
    _parse,
    alone="entries",
)
