"""Rules for devices (udev(7)): what is started when one comes, and modules of its."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_STARTS = re.compile(r"(?:RUN|PROGRAM|IMPORT)(?:\{(?:program|builtin)?\})?\s*[+:]?==?\s*\"([^\"]*)\"")
_WANTS = re.compile(r"SYSTEMD_(?:USER_)?WANTS(?:\})?\"?\s*\+?=\s*\"([^\"]*)\"")
_FOR = re.compile(r"(?:GROUP|OWNER)\s*:?=\s*\"([\w-]+)\"")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        found = [t for m in _STARTS.finditer(line.text) for t in (*of_shell(m[1]), *of_words(m[1]))]
        found += [t for m in _WANTS.finditer(line.text) for u in m[1].split() for t in one(By.UNIT, u)]
        found += [t for m in _FOR.finditer(line.text) for t in one(By.ACCOUNT, m[1])]
        return tuple(dict.fromkeys(found))

    yield from line_entries(continued_lines(text), targets, "is started for a device")


KIND = Kind(
    "device rule",
    "startup",
    ("rule for devices", "rules for devices"),
    (
        Place("/etc/udev/rules.d/*", heeded=r".*\.rules"),
        Place("/usr/local/lib/udev/rules.d/*.rules", 1),
        Place("/usr/lib/udev/rules.d/*.rules", 2),
    ),
    _parse,
    alone="lines",
    masks=True,
    starts="device",
)
