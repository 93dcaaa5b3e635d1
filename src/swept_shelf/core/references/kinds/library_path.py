"""Folders in which libraries, manual pages and shells are looked for, one to a line."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one

_DETAILS = {"shells": "listed as a shell", "ld.so.conf": "libraries are looked for in its folder"}


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)

    def targets(line: Line) -> tuple[Target, ...]:
        bare = line.text.split("#")[0].strip()
        if name == "shells":
            return (*one(By.COMMAND, bare), *one(By.PATH, bare))
        if name == "ca-certificates.conf":
            return one(By.PATH, f"/usr/share/ca-certificates/{bare.lstrip('!')}") if bare else ()
        if name == "ld.so.preload":
            return tuple(
                t for w in re.split(r"[\s:]+", bare) for t in (*one(By.LIBRARY, w), *one(By.PATH, w))
            )
        return of_words(bare) if re.match(r"(?:/|include |MAN|MANDATORY|MANPATH|[~$])", bare) else ()

    kind = "ld.so.conf" if "ld.so" in path else name
    yield from line_entries(said_lines(text), targets, _DETAILS.get(kind, "its folder is searched"))


KIND = Kind(
    "search path",
    "shell",
    ("folder that is searched", "folders that are searched"),
    (
        Place("/etc/ld.so.conf"),
        Place("/etc/ld.so.conf.d/*.conf"),
        Place("/etc/ld.so.preload"),
        Place("/etc/manpath.config"),
        Place("/etc/man_db.conf"),
        Place("~/.manpath"),
        Place("/etc/shells"),
        Place("/etc/ca-certificates.conf"),
        Place("~/.local/lib/python*/site-packages/*.pth"),
        Place("/usr/local/lib/python*/*-packages/*.pth"),
        Place("/usr/lib/python3/dist-packages/*.pth"),
    ),
    _parse,
    alone="lines",
)
