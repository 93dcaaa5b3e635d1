"""Profiles that confine programs (apparmor.d(5)), additions to them and links that set them aside."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.building import all_of_it
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_PROFILE = re.compile(
    r"^[ \t]*(?:profile[ \t]+(\S+)[ \t]+)?(?:\"?(/[^\s\"]+)\"?)?[ \t]*(?:flags=\([^)\n]*\)[ \t]*)?\{", re.M
)
_DETAIL = "a profile that confines it"
_NO_RULES = ("#", "include ", "abi ")  # what a file begins with, and is left when its profiles are gone
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
    """A profile goes; the file when no other program has one in it."""
    profiles = [m for m in _PROFILE.finditer(text) if m[1] or m[2]]
    for match in profiles:
        line = text.count("\n", 0, match.start(2 if match[2] else 1)) + 1
        targets = [t for p in _paths(match[2] or "") for t in one(By.COMMAND, p)]
        if not match[2]:
            targets += one(By.NAME, match[1])
        said = match[0].strip()
        end = _end_of(text, match)
        yield Entry(line, said, said, tuple(targets), _DETAIL, match.start(), end or len(text), ask=not end)
    lines = [line.strip() for line in text.split("\n")]
    is_rest = parent(path) == "/etc/apparmor.d" and all(x.startswith(_NO_RULES) for x in lines if x)
    if not profiles and text.strip() and not is_rest:
        yield all_of_it(text, base(path), text.split("\n", 1)[0], by_name(path), _DETAIL)


def _end_of(text: str, profile: re.Match[str]) -> int:
    """Behind the brace that stands below the beginning of a profile, or in its line; 0 where there is none."""
    begun = profile[0].lstrip("\n")
    margin = begun[: len(begun) - len(begun.lstrip())]
    line_end = text.find("\n", profile.end())
    if text[profile.end() : line_end if line_end >= 0 else len(text)].rstrip().endswith("}"):
        return line_end + 1 if line_end >= 0 else len(text)
    closed = re.compile(rf"^{margin}\}}[^\n]*(?:\n|\Z)", re.M).search(text, profile.end())
    return closed.end() if closed else 0


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
    alone="entries",
)
