"""Owners and modes that the registry was told to keep (dpkg-statoverride(1)), and diversions (dpkg-divert(1))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import lines_of, said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    if base(path) == "statoverride":
        for line in said_lines(text):
            words = line.text.split(None, 3)
            if len(words) == 4:
                accounts = [Target(By.ACCOUNT, w) for w in words[:2] if not w.startswith("#")]
                targets = (*one(By.PATH, words[3]), *accounts)
                yield Entry(
                    line.number,
                    line.text,
                    line.text,
                    targets,
                    "its owner and mode are kept",
                    line.start,
                    line.end,
                )
        return
    lines = list(lines_of(text))
    for first, second, third in zip(lines[::3], lines[1::3], lines[2::3], strict=False):
        targets = (*one(By.PATH, first.text), *one(By.PATH, second.text), *one(By.PACKAGE, third.text))
        yield Entry(
            first.number,
            first.text,
            f"{first.text} by {third.text}",
            targets,
            "is put aside for another",
            first.start,
            third.end,
            ask=third.text != ":",
        )


KIND = Kind(
    "override of the registry",
    "registry",
    ("override of the registry", "overrides of the registry"),
    (Place("/var/lib/dpkg/statoverride"), Place("/var/lib/dpkg/diversions")),
    _parse,
    action="leave",
)
