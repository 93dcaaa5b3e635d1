"""Scripts of people that start it: theirs, so they are shown and asked about."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.scripts import SOMEBODYS, script_entries

_READ = re.compile(r"/dhclient-\w+-hooks\.d/|/default/grub\.d/")  # read by a script, not started


def _parse(path: str, text: str) -> Iterator[Entry]:
    first = text.split("\n", 1)[0]
    if (first.startswith("#!") and "sh" in first) or _READ.search(path) or path.endswith(".bash"):
        yield from script_entries(text, SOMEBODYS)


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
        Place("/etc/sv/*/run"),
        Place("/etc/sv/*/finish"),
        Place("/etc/service/*/run"),
        Place("/etc/systemd/system-generators/*"),
        Place("/etc/systemd/user-generators/*"),
        Place("/etc/systemd/system-sleep/*"),
        Place("/etc/systemd/system-shutdown/*"),
        Place("/etc/default/grub.d/*.cfg"),
        Place("/etc/grub.d/*"),
        Place("/etc/pm/sleep.d/*"),
        Place("/etc/local.d/*"),
        Place("/etc/ppp/ip-*.d/*"),
        Place("/etc/dhcp/dhclient-*-hooks.d/*"),
        Place("/etc/update-motd.d/*"),
        Place("~/.git/hooks/*"),
        Place("~/*.sh"),
        Place("~config/*/*.sh"),
        Place("~config/*/hooks/*"),
        Place("~config/gedit/tools/*"),
        Place("~/.password-store/.extensions/*"),
        Place("/usr/lib/systemd/system-generators/*"),
        Place("/usr/local/lib/systemd/*-generators/*"),
        Place("/etc/letsencrypt/renewal-hooks/*/*"),
        Place("/etc/ca-certificates/update.d/*"),
        Place("/etc/libvirt/hooks/**/*"),
        Place("/etc/wpa_supplicant/*.sh"),
        Place("/etc/openvpn/*.sh"),
        Place("/etc/resolvconf/update.d/*"),
        Place("/etc/lightdm/*.sh"),
    ),
    _parse,
    action="ask",
    most=1 << 20,
)
