"""Which launcher opens which type (freedesktop.org Association between MIME types and applications)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import member_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one

_CACHE = "MIME Cache"  # what update-desktop-database(1) makes of all launchers of a folder
_GROUPS = ("Default Applications", "Added Associations", "Removed Associations", _CACHE)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        if group.name not in _GROUPS:
            continue
        for item in group.items:
            setting = item.key if group.name == _GROUPS[0] else ""
            yield from member_entries(
                group, item, ";", lambda id: one(By.LAUNCHER, id), f"opens {item.key}", setting
            )


KIND = Kind(
    "file type",
    "file_types",
    ("type of files", "types of files"),
    (
        Place("~config/*mimeapps.list"),
        Place("~data/applications/*mimeapps.list", 1),
        Place("~data/applications/defaults.list", 2),
        Place("/etc/xdg/*mimeapps.list", 3),
        Place("/usr/local/share/applications/*mimeapps.list", 4),
        Place("/usr/share/applications/*mimeapps.list", 5),
        Place("/usr/local/share/applications/defaults.list", 6),
        Place("/usr/share/applications/defaults.list", 7),
        Place("/etc/gnome/defaults.list", 8),
        Place("~data/applications/mimeinfo.cache", 9),
        Place("/usr/local/share/applications/mimeinfo.cache", 10),
    ),
    _parse,
    wins="first",
)
