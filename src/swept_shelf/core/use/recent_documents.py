"""Sign: documents that were opened with it, by the lists that desktops keep (XBEL, and one entry per document)."""

from __future__ import annotations

from datetime import datetime

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.grammars.commands import parse_entry
from swept_shelf.core.grammars.xbel import opened_with
from swept_shelf.core.use.trace import GOOD, Look, Trace

KIND = "recent documents"
_LISTS = (".local/share/recently-used.xbel", ".recently-used.xbel", ".recently-used")
_FOLDERS = (".local/share/RecentDocuments", ".kde/share/apps/RecentDocuments")


def look(at: Look) -> None:
    for person in at.people:
        for name in _LISTS:
            path = f"{person.home}/{name}"
            try:
                text = at.machine.text(path)
                if text:
                    at.saw(KIND)
                    _list(at, person, path, text)
            except (CouldNotRead, ValueError) as error:
                at.trouble(path, getattr(error, "reason", str(error)))
        for folder in _FOLDERS:
            for name in at.machine.names(f"{person.home}/{folder}"):
                if name.endswith(".desktop"):
                    at.saw(KIND)
                    _entry(at, person, f"{person.home}/{folder}/{name}")


def _list(at: Look, person: Person, path: str, text: str) -> None:
    for opened in opened_with(text):
        id = at.command(opened.command) or at.launched(opened.name) or at.command(opened.name)
        if id and (when := _seconds(opened.modified)) is not None:
            at.traces.append(
                Trace(
                    id,
                    KIND,
                    when,
                    person.name,
                    path,
                    GOOD,
                    None,
                    opened.line,
                    "another program may have named it",
                    at.timely(when),
                    opened.href,
                )
            )


def _entry(at: Look, person: Person, path: str) -> None:
    """A document's own entry: written anew when it is opened."""
    try:
        keys = parse_entry(at.machine.read_text(path))
        status = at.machine.lstat(path)
    except CouldNotRead as error:
        at.trouble(path, error.reason)
        return
    word = keys.get("X-KDE-LastOpenedWith", (0, ""))[1]
    if status and word and (id := at.command(word) or at.launched(word)):
        when = int(status.st_mtime)
        at.traces.append(
            Trace(
                id,
                KIND,
                when,
                person.name,
                path,
                GOOD,
                None,
                0,
                "",
                at.timely(when),
                keys.get("URL[$e]", (0, ""))[1],
            )
        )


def _seconds(text: str) -> int | None:
    try:
        return int(datetime.fromisoformat(text.replace("Z", "+00:00")).timestamp())
    except (ValueError, OverflowError):
        return int(text) if text.isdigit() and len(text) < 13 else None
