"""Scripts of people that start it: theirs, so they are shown and asked about."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.scripts import script_entries


def _parse(_path: str, text: str) -> Iterator[Entry]:
    first = text.split("\n", 1)[0]
    if first.startswith("#!") and ("sh" in first):
        yield from script_entries(text, "somebody's script starts it")


KIND = Kind(
    "own script",
    "other_programs",
    ("somebody's script", "somebody's scripts"),
    (
        Place("~/bin/*"),
        Place("~/.local/bin/*"),
        Place("~data/*/scripts/*"),
        Place("~config/*/scripts/*"),
        Place("/usr/local/bin/*"),
        Place("/usr/local/sbin/*"),
        Place("/etc/network/if-*.d/*"),
        Place("/etc/NetworkManager/dispatcher.d/**/*"),
        Place("/etc/kernel/*.d/*"),
        Place("/etc/initramfs-tools/hooks/*"),
        Place("/etc/initramfs-tools/scripts/**/*"),
        Place("/etc/X11/Xreset.d/*"),
        Place("/usr/lib/systemd/system-sleep/*"),
        Place("/etc/acpi/*.sh"),
        Place("/etc/ppp/ip-*.d/*"),
        Place("/etc/dhcp/dhclient-*-hooks.d/*"),
        Place("/etc/update-motd.d/*"),
        Place("~/.git/hooks/*"),
    ),
    _parse,
    action="ask",
    most=1 << 20,
)
