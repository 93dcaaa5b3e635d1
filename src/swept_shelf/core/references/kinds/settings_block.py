"""Blocks of settings that are for one thing, which is its: an output of a player, a device of sound, a section of a driver."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_setting, of_words, one

_BLOCK = re.compile(r"^\s*([\w!.][\w.\"' -]*?)\s*=?\s*\{\s*$")
_ENDS = re.compile(r"^\s*\}\s*;?\s*$")
_SECTION, _ENDS_SECTION = re.compile(r"^\s*Section\s+\"", re.I), re.compile(r"^\s*EndSection\b", re.I)
_SAYS = re.compile(r"^\s*([\w.-]+)\s*[=\s]\s*(?:(?:run|exec)\s+)?[\"']?(.+?)[\"']?\s*;?\s*$")
_PATHS = re.compile(r"^\s*(?:Module|Font|XkbDir|Log)\w*Path\s+\"([^\"]+)\"", re.I)
_LONGEST = 4096  # characters of a line that somebody wrote
_COMMANDS = ("command", "on-timeout", "on-resume", "script", "exec", "run")
_MODULES = ("driver", "load")


def _parse(path: str, text: str) -> Iterator[Entry]:
    xorg = "xorg" in base(path) or "/xorg.conf.d/" in path
    begun: list[Line] = []  # the lines that open the blocks in which it stands
    found: list[tuple[Line, tuple[Target, ...]]] = []
    for line in said_lines(text):
        if len(line.text) > _LONGEST:
            continue
        if (_SECTION if xorg else _BLOCK).match(line.text):
            begun.append(line)
        elif (_ENDS_SECTION if xorg else _ENDS).match(line.text):
            if len(begun) == 1:
                for inner, targets in found:
                    yield _entry(inner, targets, begun[0].start, line.end)
                found = []
            begun = begun[:-1]
        elif xorg and (path_of := _PATHS.match(line.text)):
            yield _entry(line, of_words(path_of[1]), line.start, line.end)
        elif (match := _SAYS.match(line.text)) and (targets := _targets(xorg, match[1].lower(), match[2])):
            if begun:
                found.append((line, targets))
            else:
                yield _entry(line, targets, line.start, line.end)


def _entry(line: Line, targets: tuple[Target, ...], start: int, end: int) -> Entry:
    return Entry(line.number, line.text, line.text, targets, "a block of settings is for it", start, end)


def _targets(xorg: bool, key: str, value: str) -> tuple[Target, ...]:
    if xorg:
        bare = value.strip('"')
        module = (*one(By.LIBRARY, f"{bare}_drv.so"), *one(By.LIBRARY, f"lib{bare}.so"), *one(By.NAME, bare))
        return module if key in _MODULES else of_words(bare)
    if key in _COMMANDS:
        return of_setting(value.lstrip("| "))
    return of_words(value) if key in ("lib", "file", "path", "library", "server", "conf", "infile") else ()


KIND = Kind(
    "block of settings",
    "other_programs",
    ("block of settings for it", "blocks of settings for it"),
    (
        Place("/etc/asound.conf"),
        Place("/etc/alsa/conf.d/*.conf"),
        Place("~/.asoundrc"),
        Place("~config/alsa/asoundrc"),
        Place("/etc/mpd.conf"),
        Place("~config/mpd/mpd.conf"),
        Place("~/.mpdconf"),
        Place("~config/hypr/hypridle.conf"),
        Place("/etc/X11/xorg.conf"),
        Place("/etc/X11/xorg.conf.d/*.conf"),
    ),
    _parse,
    alone="lines",
)
