"""The session that somebody chose, where it is one of its: the next login takes the system's own choice without it."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import item_entry, member_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_FOLDERS = ("/usr/share/xsessions", "/usr/share/wayland-sessions", "/usr/local/share/xsessions")


def _session(value: str) -> tuple[Target, ...]:
    name = value.strip().removesuffix(".desktop")
    if not name or "/" in name:
        return of_words(value)
    return (
        *one(By.LAUNCHER, f"{name}.desktop"),
        *(Target(By.PATH, f"{folder}/{name}.desktop") for folder in _FOLDERS),
    )


def _parse(path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if path.endswith(".session"):
                if item.key == "RequiredComponents":
                    yield from member_entries(group, item, ";", _session, "is a part of a session")
            elif item.key in ("Session", "XSession", "user-session", "autologin-session"):
                yield item_entry(group, item, _session(item.value), "is the session that was chosen")
            elif item.key == "Icon":
                yield item_entry(group, item, of_words(item.value), "a picture of its stands for the person")


KIND = Kind(
    "chosen session",
    "startup",
    ("session that was chosen", "sessions that were chosen"),
    (
        Place("~/.dmrc"),
        Place("/var/lib/AccountsService/users/*"),
        Place("/etc/lightdm/lightdm.conf"),
        Place("/etc/lightdm/lightdm.conf.d/*.conf"),
        Place("/etc/sddm.conf"),
        Place("/etc/sddm.conf.d/*.conf"),
        Place("~config/gnome-session/sessions/*.session"),
        Place("/etc/xdg/gnome-session/sessions/*.session"),
    ),
    _parse,
)
