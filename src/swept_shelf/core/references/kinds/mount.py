"""Volumes that are mounted with its help: fstab(5), autofs(5). Somebody's volume: asked about."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        fields = line.text.split()
        found: list[Target] = []
        if path == "/etc/fstab":
            if len(fields) < 3:
                return ()
            type = fields[2]
            helpers = (
                fields[0].partition("#")[0],
                type.removeprefix("fuse.").removeprefix("fuse3."),
                f"mount.{type}",
            )
            found += [t for h in helpers for t in one(By.COMMAND, h)]
            found += one(By.PATH, f"/usr/sbin/mount.{type}") + one(By.PATH, f"/usr/sbin/mount.{helpers[0]}")
            found += of_words(fields[0]) + of_words(fields[1])
            options = fields[3] if len(fields) > 3 else ""
        elif path == "/etc/crypttab":
            options = fields[3] if len(fields) > 3 else ""
            found += [t for m in re.finditer(r"keyscript=([^,\s]+)", options) for t in one(By.COMMAND, m[1])]
            found += of_words(fields[2]) if len(fields) > 2 else ()
        else:
            options = next((f for f in fields if f.startswith("-")), "")
            found += [t for f in fields for t in of_words(f) if not f.startswith("-")]
        for m in re.finditer(r"fstype=fuse\.?([\w.-]+)", options):
            found += one(By.COMMAND, m[1])
        for m in re.finditer(r"x-systemd\.requires=([\w@.-]+)", options):
            found += one(By.UNIT, m[1])
        return tuple(dict.fromkeys(found))

    yield from line_entries(said_lines(text), targets, "a volume is mounted with it", ask=True)


KIND = Kind(
    "mount",
    "services",
    ("volume mounted with it", "volumes mounted with it"),
    (Place("/etc/fstab"), Place("/etc/crypttab"), Place("/etc/auto.*"), Place("/etc/auto.master.d/*")),
    _parse,
    action="ask",
)
