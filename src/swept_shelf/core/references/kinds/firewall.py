"""Profiles of applications for firewalls and jails for who tries too often."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one


def _named(name: str) -> tuple[Target, ...]:
    plain = name.strip().lower()
    return tuple(
        t for n in (name, plain) for t in (*one(By.NAME, n), *one(By.COMMAND, n), *one(By.PACKAGE, n))
    )


def _parse(path: str, text: str) -> Iterator[Entry]:
    jail = "/fail2ban/" in path
    for group in groups_of(text):
        if not group.name or group.name in ("DEFAULT", "INCLUDES"):
            continue
        said = " ".join(group.get(k) for k in ("logpath", "action", "filter", "banaction"))
        words = [*_named(group.name), *_named(base(path).rpartition(".")[0] or base(path)), *of_words(said)]
        if jail:
            words += [t for f in re.split(r"[\s\[]", group.get("filter"))[:1] for t in _named(f)]
        enabled = group.get("enabled").lower() not in ("false", "no", "0")
        entry = group_entry(group, tuple(words), "a jail for it" if jail else "a profile for the firewall")
        yield replace(entry, enabled=enabled)


KIND = Kind(
    "firewall",
    "security",
    ("profile for a firewall", "profiles for firewalls"),
    (
        Place("/etc/ufw/applications.d/*"),
        Place("/etc/fail2ban/jail.local"),
        Place("/etc/fail2ban/jail.d/*"),
        Place("/etc/fail2ban/filter.d/*"),
        Place("/etc/fail2ban/action.d/*"),
    ),
    _parse,
    alone="entries",
)
