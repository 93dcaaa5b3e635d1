"""Profiles that confine programs (apparmor.d(5)), additions to them and links that set them aside."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_PROFILE = re.compile(
    r"^[ \t]*(?:profile[ \t]+(\S+)[ \t]+)?(?:\"?(/[^\s\"]+)\"?)?[ \t]*(?:flags=\([^)\n]*\)[ \t]*)?\{", re.M
)
_MOST_CHOICES = 4  # braces in one path that are taken apart
_BRACES = re.compile(r"\{([^{},]*),([^{}]*)\}")


def _paths(pattern: str) -> list[str]:
    """A path with choices in braces, as the paths it means."""
    if pattern.count("{") <= _MOST_CHOICES and (match := _BRACES.search(pattern)):
        choices = [match[1], *match[2].split(",")]
        return [p for c in choices[:8] for p in _paths(pattern[: match.start()] + c + pattern[match.end() :])]
    return [pattern]


def by_name(path: str) -> tuple[Target, ...]:
    """A file that is called like the path of a program, dots for slashes."""
    name = base(path)
    if "/firejail/" in path:
        return one(By.COMMAND, name.rpartition(".")[0])
    found = [Target(By.COMMAND, "/" + name.replace(".", "/"))]
    for folder in ("usr.bin.", "usr.sbin.", "usr.games.", "bin.", "sbin.", "usr.libexec.", "opt."):
        if name.startswith(folder):
            found.append(Target(By.COMMAND, f"/{folder.replace('.', '/')}{name[len(folder) :]}"))
    return tuple(found)


def _parse(path: str, text: str) -> Iterator[Entry]:
    for match in _PROFILE.finditer(text):
        if match[1] or match[2]:
            line = text.count("\n", 0, match.start(2 if match[2] else 1)) + 1
            targets = [t for p in _paths(match[2] or "") for t in one(By.COMMAND, p)]
            if not match[2]:
                targets += one(By.NAME, match[1])
            yield whole_file(
                line, match[0].strip(), match[0].strip(), tuple(targets), "a profile that confines it"
            )
    yield whole_file(1, base(path), text.split("\n", 1)[0], by_name(path), "a profile that confines it")


KIND = Kind(
    "confinement",
    "security",
    ("profile that confines it", "profiles that confine it"),
    (
        Place("/etc/apparmor.d/*"),
        Place("/etc/apparmor.d/local/*"),
        Place("/etc/apparmor.d/abstractions/*.d/*"),
        Place("/etc/firejail/*.profile"),
        Place("/etc/firejail/*.local"),
        Place("~config/firejail/*.profile"),
        Place("~config/firejail/*.local"),
    ),
    _parse,
    whole=True,
)
