"""What a walk is cut into, so that several processors walk at once, and how the parts are shared out."""

from __future__ import annotations

import os
from itertools import islice

from swept_shelf.core.documents.paths import parent
from swept_shelf.core.machine.machine import SHELF

_HANDS = (3, 3, 2, 2, 1, 1, 1, 1, 1, 1)  # how much each call gets
_LEVELS = 4
_LARGE = (
    "./usr/",
    "./var/",
    "./home/",
    "./opt/",
    "./srv/",
)  # where a part of the second level may be most of the tree
_WIDE = 24  # below them, a folder with so many folders is cut further, and so is every home
_ARGUMENTS = 33_000  # bytes of names in one hand


def cut(place: str, skipped: set[str]) -> tuple[list[str], list[str]]:
    """Folders that are listed here, and the parts below them that are walked each on its own. Paths begin with '.'."""
    opened: list[str] = []
    parts = ["."]
    for level in range(_LEVELS):
        deeper: list[str] = []
        for part in parts:
            inner = _folders(place, part, skipped) if level < 2 or part.startswith(_LARGE) else None
            if inner is None or (level >= 2 and len(inner) < _WIDE and parent(part) != "./home"):
                deeper.append(part)
            else:
                opened.append(part)
                deeper += inner
        parts = deeper
    return opened, parts


def _folders(place: str, part: str, skipped: set[str]) -> list[str] | None:
    """Folders directly below a part; None where it cannot be listed, or has to be left to find."""
    if part.startswith("./home/") and part.endswith("/.local/share"):
        return None
    try:
        with os.scandir(f"{place}/{part}") as listing:
            names = [e.name for e in listing if e.is_dir(follow_symlinks=False)]
    except OSError:
        return None
    inner = (f"{part}/{name}" for name in names if name != SHELF)
    return [p for p in inner if p[1:] not in skipped]


def shared_out(parts: list[str]) -> list[list[str]]:
    """Dealt out like cards: neighbours are of one kind, and a call that got all the large ones would be waited for. The later
    calls get less, so that all processors end together."""
    hands = min(len(parts), max(sum(_HANDS), sum(len(p) + 1 for p in parts) // _ARGUMENTS + 1))
    dealt = iter([parts[i::hands] for i in range(hands)])
    several = _HANDS if hands == sum(_HANDS) else (1,) * hands
    return [[part for hand in islice(dealt, many) for part in hand] for many in several]
