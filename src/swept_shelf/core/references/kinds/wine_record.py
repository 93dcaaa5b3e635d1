"""What the registry of a Wine prefix has of a program that can be uninstalled: a section of its own in system.reg."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import is_clean, join, parent
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target

_SECTION = re.compile(
    r"^\[(Software\\\\(?:Wow6432Node\\\\)?Microsoft\\\\Windows\\\\CurrentVersion\\\\Uninstall\\\\[^\]\n]+)\][^\n]*\n"
    r"(?:(?!\[)[^\n]*(?:\n|\Z))*",
    re.M | re.I,
)
_VALUE = re.compile(r'^"(InstallLocation|UninstallString|DisplayIcon)"="(.*)"\s*$', re.M)


def _parse(path: str, text: str) -> Iterator[Entry]:
    if not text.startswith("WINE REGISTRY"):
        raise ValueError("is not a Wine registry file")
    for match in _SECTION.finditer(text):
        folder = next((m[2] for m in _VALUE.finditer(match[0]) if m[1] == "InstallLocation"), "")
        drive = re.match(r"(?i)c:\\\\(.+)", folder)
        place = join(parent(path), "drive_c", *drive[1].split("\\\\")) if drive else ""
        place = place.rstrip("/")
        if place and is_clean(place):
            line = text.count("\n", 0, match.start()) + 1
            yield Entry(
                line,
                match[1].rsplit("\\\\", 1)[1],
                folder.replace("\\\\", "\\"),
                (Target(By.PATH, place),),
                "is in its prefix’s registry",
                match.start(),
                match.end(),
            )


KIND = Kind(
    "entry of a Wine prefix",
    "registry",
    ("entry in the registry of a Wine prefix", "entries in registries of Wine prefixes"),
    (
        Place("~/*/system.reg"),
        Place("~/*/*/system.reg"),
        Place("~/.local/share/wineprefixes/*/system.reg"),
        Place("~/Games/*/*/system.reg"),
        Place("~/.local/share/bottles/bottles/*/system.reg"),
        Place("~/.var/app/com.usebottles.bottles/data/bottles/bottles/*/system.reg"),
    ),
    _parse,
)
