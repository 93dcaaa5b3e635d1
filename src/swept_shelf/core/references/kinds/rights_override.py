"""Owners and modes that the registry was told to keep (dpkg-statoverride(1)): its own tool takes the row."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        words = line.text.split(None, 3)
        if len(words) == 4:
            accounts = [Target(By.ACCOUNT, w) for w in words[:2] if not w.startswith("#")]
            targets = (*one(By.PATH, words[3]), *accounts)
            yield Entry(line.number, words[3], line.text, targets, "its owner and mode are kept")


KIND = Kind(
    "override of owner and mode",
    "registry",
    ("override of owner and mode", "overrides of owner and mode"),
    (Place("/var/lib/dpkg/statoverride"),),
    _parse,
    table="overrides",
)
