"""Sources of packages that are key files: repositories of RPM packages, remotes of Flatpak. They may serve others: asked about."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target


def _parse(path: str, text: str) -> Iterator[Entry]:
    stem = base(path).rpartition(".")[0]
    for group in groups_of(text, comments="#;"):
        if not group.name or group.name == "core":
            continue
        said = " ".join(group.get(k) for k in ("baseurl", "url", "Url", "Title", "name", "gpgkey"))
        words = {stem, re.sub(r'^remote "|"$', "", group.name)}
        words |= {w for w in re.split(r"[/.:\s\[\]=_-]+", said) if len(w) > 3} | {
            w for w in re.split(r"[/\s]+", said) if len(w) > 3
        }
        enabled = group.get("enabled").lower() not in ("0", "false", "no")
        entry = group_entry(
            group, tuple(Target(By.NAME, w) for w in sorted(words)), "a source of its packages"
        )
        yield replace(entry, enabled=enabled, ask=True)


KIND = Kind(
    "repository",
    "sources",
    ("source of packages in a key file", "sources of packages in key files"),
    (
        Place("/etc/yum.repos.d/*.repo"),
        Place("/etc/zypp/repos.d/*.repo"),
        Place("/etc/flatpak/remotes.d/*.flatpakrepo"),
        Place("/var/lib/flatpak/repo/config"),
        Place("~data/flatpak/repo/config"),
    ),
    _parse,
    alone="entries",
)
