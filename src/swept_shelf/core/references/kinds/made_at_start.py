"""Accounts and folders that are made at every start (sysusers.d(5), tmpfiles.d(5)), and settings of the kernel (sysctl.d(5))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words, one


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        words = line.text.split()
        if len(words) < 2:
            return ()
        if "/sysusers.d/" in path:
            return tuple(t for w in words[1:3] for t in one(By.ACCOUNT, w.strip("\"'")))
        if "tmpfiles.d/" in path:
            accounts = [t for w in words[3:5] for t in one(By.ACCOUNT, w)]
            return (*one(By.PATH, words[1]), *accounts, *(t for w in words[6:] for t in of_words(w)))
        return of_words(line.text.partition("=")[2].strip().lstrip("|"))

    yield from line_entries(said_lines(text, "#;"), targets, "is made or set at every start")


KIND = Kind(
    "made at start",
    "startup",
    ("what is made at every start", "what is made at every start"),
    tuple([Place("~config/user-tmpfiles.d/*.conf"), Place("~data/user-tmpfiles.d/*.conf")])
    + tuple(
        Place(f"{top}/{kind}.d/*.conf", rank)
        for rank, top in enumerate(("/etc", "/usr/local/lib", "/usr/lib"))
        for kind in ("sysusers", "tmpfiles", "sysctl")
    ),
    _parse,
    alone="lines",
    masks=True,
)
