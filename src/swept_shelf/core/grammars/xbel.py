"""Recent documents and bookmarks of places (XBEL; freedesktop.org Desktop Bookmark Specification)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from swept_shelf.core.grammars.commands import command_words, program_of
from swept_shelf.core.grammars.elements import Element, document

_REMEMBERED = 1 << 20  # characters of a list that is kept in memory


@dataclass(frozen=True, slots=True)
class Opened:
    """One application's entry under a document; `modified` as it is written there."""

    href: str
    name: str
    command: str
    modified: str
    line: int


def opened_with(text: str) -> Iterator[Opened]:
    """Every application that a list of documents names. Raises ValueError for a broken list."""
    for mark in bookmarks(text):
        for element in applications(mark):
            given = element.attributes
            yield Opened(
                mark.attributes.get("href", ""),
                given.get("name", ""),
                command_of(element),
                given.get("modified") or given.get("timestamp", ""),
                element.line,
            )


def bookmarks(text: str) -> list[Element]:
    """Every bookmark, wherever it stands in the list."""
    return list(_kept(text)) if len(text) <= _REMEMBERED else _marks(text)


@lru_cache(maxsize=8)
def _kept(text: str) -> tuple[Element, ...]:
    """Each list is asked several times in a survey: for use, for what points there, for what people opened."""
    return tuple(_marks(text))


def _marks(text: str) -> list[Element]:
    return [e for e in document(text).walk() if e.name == "bookmark"]


def applications(mark: Element) -> list[Element]:
    """The entries of applications under one bookmark."""
    return [e for e in mark.walk() if e.name.rpartition(":")[2] == "application" and ":" in e.name]


def command_of(element: Element) -> str:
    """The program that an application's entry starts, else its name."""
    given = element.attributes
    return _started_by(given.get("exec", "")) or given.get("name", "")


@lru_cache(maxsize=1024)
def _started_by(text: str) -> str:
    """Hundreds of documents are opened with the same few commands."""
    return program_of(command_words(text.strip("'\" ")))
