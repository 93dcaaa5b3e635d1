"""Recent documents (freedesktop.org Desktop Bookmark Specification, XBEL) and bookmarks of file dialogs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from xml.parsers import expat

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.references.cutting import line_spans, whole_line
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.registries.launchers import command_words, program_of

FAMILY = "recents"


def places(home: str) -> list[str]:
    return [
        f"{home}/.local/share/recently-used.xbel",
        f"{home}/.config/gtk-3.0/bookmarks",
        f"{home}/.config/gtk-4.0/bookmarks",
    ]


@dataclass(frozen=True, slots=True)
class _Span:
    start: int
    end: int
    line: int
    attributes: dict[str, str]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    """Raises ValueError when an XBEL file is not well-formed or declares entities."""
    if not path.endswith(".xbel"):
        for number, line in enumerate(text.split("\n"), 1):
            if id := to.address(line.split(" ")[0]):
                yield Hit(
                    id, FAMILY, "bookmark", path, number, line, line, "a bookmark leads into its folder"
                )
        return
    for mark, applications in _bookmarks(text):
        href = mark.attributes.get("href", "")
        for span in applications:
            if id := to.program(_command(span)):
                yield Hit(
                    id, FAMILY, "recent document", path, span.line, href, href, "listed as opened with it"
                )
        if not any(to.program(_command(s)) for s in applications) and (id := to.address(href)):
            yield Hit(id, FAMILY, "recent document", path, mark.line, href, href, "lies in its folder")


@dataclass(frozen=True, slots=True)
class Opened:
    """One application's entry under a document; `modified` as it is written there."""

    href: str
    name: str
    command: str
    modified: str
    line: int


def opened_with(text: str) -> Iterator[Opened]:
    """Every application that a list of documents names. Raises ValueError like find."""
    for mark, applications in _bookmarks(text):
        for span in applications:
            given = span.attributes
            yield Opened(
                mark.attributes.get("href", ""),
                given.get("name", ""),
                _command(span),
                given.get("modified") or given.get("timestamp", ""),
                span.line,
            )


def cuts(path: str, text: str, to: Pointees) -> list[tuple[str, Cut]]:
    """A mention of what is gone; the entry when nothing else opened it, or when it leads into a folder that goes."""
    if not path.endswith(".xbel"):
        lines = text.split("\n")
        return [
            (lines[n], whole_line(n + 1, *span))
            for n, span in enumerate(line_spans(text))
            if to.address(lines[n].split(" ")[0])
        ]
    made = []
    for mark, applications in _bookmarks(text):
        href = mark.attributes.get("href", "")
        whole = _with_its_lines(text, mark.start, mark.end)
        if to.address(href) and not any(to.program(_command(s)) for s in applications):
            made.append((href, whole_line(mark.line, *whole)))
        for span in applications:
            if to.program(_command(span)):
                start, end = _with_its_lines(text, span.start, span.end)
                # In a folder that goes the entry goes, whoever else opened it.
                pieces = 1 if to.address(href) else len(applications)
                made.append((href, Cut(span.line, start, end, *whole, pieces)))
    return made


def _with_its_lines(text: str, start: int, end: int) -> tuple[int, int]:
    """The span, with the line or lines it stands on where nothing else stands there."""
    first = text.rfind("\n", 0, start) + 1
    last = text.find("\n", end)
    last = len(text) if last < 0 else last + 1
    return (first, last) if not text[first:start].strip() and not text[end:last].strip() else (start, end)


def check(text: str) -> None:
    """Raises ValueError where a list of documents is broken."""
    _bookmarks(text)


def _command(span: _Span) -> str:
    return program_of(command_words(span.attributes.get("exec", "").strip("'\" "))) or span.attributes.get(
        "name", ""
    )


def _bookmarks(text: str) -> list[tuple[_Span, list[_Span]]]:
    """Each bookmark with its application entries, as spans of characters."""
    data = text.encode("utf-8", "surrogateescape")
    parser = expat.ParserCreate()
    found: list[tuple[_Span, list[_Span]]] = []
    open_marks: list[tuple[int, int, int, dict[str, str]]] = []
    inside: list[_Span] = []

    counted = (0, 0)

    def position(index: int) -> int:
        """Characters before a byte; asked in rising order, so that each byte is counted once."""
        nonlocal counted
        counted = (index, counted[1] + len(data[counted[0] : index].decode("utf-8", "surrogateescape")))
        return counted[1]

    def end_of(name: str) -> int:
        index = parser.CurrentByteIndex
        return index if data[index : index + 2] != b"</" else data.index(b">", index) + 1

    def start(name: str, attributes: dict[str, str]) -> None:
        if name == "bookmark" or name.endswith(":application"):
            open_marks.append(
                (
                    parser.CurrentByteIndex,
                    position(parser.CurrentByteIndex),
                    parser.CurrentLineNumber,
                    attributes,
                )
            )

    def end(name: str) -> None:
        if name == "bookmark" or name.endswith(":application"):
            begin, first, line, attributes = open_marks.pop()
            stop = end_of(name)
            if data[begin:stop].count(b">") == 0:
                stop = data.index(b">", begin) + 1
            span = _Span(first, position(stop), line, attributes)
            if name == "bookmark":
                found.append((span, inside.copy()))
                inside.clear()
            else:
                inside.append(span)

    def refuse(*_: object) -> None:
        raise ValueError("declares entities")

    parser.StartElementHandler, parser.EndElementHandler, parser.EntityDeclHandler = start, end, refuse
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        raise ValueError(f"is not well-formed: {error}") from None
    return found
