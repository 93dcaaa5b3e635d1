"""Recent documents and bookmarks of places (XBEL; freedesktop.org Desktop Bookmark Specification)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import with_its_lines
from swept_shelf.core.grammars.xbel import applications, bookmarks, command_of
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.well_formed import why_not_well_formed


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """A mention goes; the entry when nothing else opened it, or when it leads into a folder that goes."""
    for mark in bookmarks(text):
        href = mark.attributes.get("href", "")
        whole = with_its_lines(text, mark.start, mark.end)
        named = applications(mark)
        yield Entry(mark.line, href, href, (Target(By.ADDRESS, href),), "lies in its folder", *whole)
        for element in named:
            start, end = with_its_lines(text, element.start, element.end)
            yield Entry(
                element.line,
                href,
                href,
                (Target(By.COMMAND, command_of(element)),),
                "listed as opened with it",
                start,
                end,
                whole,
                len(named),
            )


KIND = Kind(
    "recent document",
    "recents",
    ("recent document", "recent documents"),
    (
        Place("~data/recently-used.xbel"),
        Place("~data/user-places.xbel"),
        Place("~data/*.xbel"),
        Place("~/.recently-used.xbel"),
        Place("~/.recently-used"),
    ),
    _parse,
    why_broken=why_not_well_formed,
    strict=True,
)
