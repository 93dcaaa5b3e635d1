"""Recent documents (freedesktop.org Desktop Bookmark Specification, XBEL) and bookmarks of file dialogs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from xml.parsers import expat

from swept_shelf.core.documents.operations import LineEdit
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.lines import cut_span, split_lines
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
        for number, line in enumerate(split_lines(text), 1):
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


def edits(text: str, to: Pointees) -> list[LineEdit]:
    """An entry goes when nothing but what is gone opened it; else only the mention of what is gone."""
    if not text.lstrip().startswith("<"):
        return [
            LineEdit(n, line, None)
            for n, line in enumerate(split_lines(text), 1)
            if to.address(line.split(" ")[0])
        ]
    spans: list[tuple[int, int]] = []
    for mark, applications in _bookmarks(text):
        gone = [s for s in applications if to.program(_command(s))]
        if (applications and len(gone) == len(applications)) or to.address(mark.attributes.get("href", "")):
            spans.append((mark.start, mark.end))
        else:
            spans += [(s.start, s.end) for s in gone]
    made: list[LineEdit] = []
    for start, end in spans:
        made += cut_span(text, start, end)
    return made if len({e.line for e in made}) == len(made) else _merge(text, spans)


def _merge(text: str, spans: list[tuple[int, int]]) -> list[LineEdit]:
    """Spans that share lines: cut them all, then write the touched lines anew as one block."""
    first = text.count("\n", 0, spans[0][0])
    last = text.count("\n", 0, spans[-1][1])
    lines = split_lines(text)
    start = sum(len(line) + 1 for line in lines[:first])
    block = "\n".join(lines[first : last + 1])
    for a, b in reversed(spans):
        block = block[: a - start] + block[b - start :]
    kept = [line for line in block.split("\n") if line.strip()]
    return [
        LineEdit(n + 1, lines[n], kept[n - first] if n - first < len(kept) else None)
        for n in range(first, last + 1)
    ]


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
