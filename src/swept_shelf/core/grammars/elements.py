"""Elements of an XML document as spans of characters. Entities that a document declares are refused, nothing is loaded."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from xml.parsers import expat

_TAG = re.compile(rb"<[^>\"']*(?:(?:\"[^\"]*\"|'[^']*')[^>\"']*)*>")


@dataclass(slots=True)
class Element:
    """`start` to `end` in the text; `own`: the text directly inside."""

    name: str
    attributes: dict[str, str]
    line: int
    start: int
    end: int = 0
    own: str = ""
    inner: list[Element] = field(default_factory=list)

    def walk(self) -> Iterator[Element]:
        """It and everything inside, in the order of the document."""
        yield self
        for element in self.inner:
            yield from element.walk()

    def text_of(self, name: str) -> str:
        """The text of the first element of that name directly inside; "" where there is none."""
        return next((e.own.strip() for e in self.inner if e.name == name), "")


def document(text: str) -> Element:
    """The whole document. Raises ValueError where it is not well-formed, declares entities or lies deeper than any that people
    write."""
    data = text.encode("utf-8", "surrogateescape")
    parser = expat.ParserCreate()
    top = Element("", {}, 1, 0, len(text))
    open_ones, begun = [top], [0]
    counted = (0, 0)

    def position(index: int) -> int:
        """Characters before a byte; asked in rising order, so that each byte is counted once."""
        nonlocal counted
        counted = (index, counted[1] + len(data[counted[0] : index].decode("utf-8", "surrogateescape")))
        return counted[1]

    def start(name: str, attributes: dict[str, str]) -> None:
        if len(open_ones) > 200:
            raise ValueError("lies deeper than 200 elements")
        begun.append(parser.CurrentByteIndex)
        at = position(parser.CurrentByteIndex)
        element = Element(name, attributes, parser.CurrentLineNumber, at)
        open_ones[-1].inner.append(element)
        open_ones.append(element)

    def end(name: str) -> None:
        element = open_ones.pop()
        tag = _TAG.match(data, begun.pop())
        if tag is None or not tag[0].endswith(b"/>"):
            tag = _TAG.match(data, parser.CurrentByteIndex)
        element.end = position(tag.end() if tag else len(data))

    def said(chars: str) -> None:
        if len(open_ones[-1].own) < 1 << 16:
            open_ones[-1].own += chars

    def refuse(*_: object) -> None:
        raise ValueError("declares entities")

    parser.StartElementHandler, parser.EndElementHandler = start, end
    parser.CharacterDataHandler, parser.EntityDeclHandler = said, refuse
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        raise ValueError(f"is not well-formed: {error}") from None
    return top


def with_its_lines(text: str, start: int, end: int) -> tuple[int, int]:
    """The span, with the line or lines it stands on where nothing else stands there."""
    first = text.rfind("\n", 0, start) + 1
    last = text.find("\n", end)
    last = len(text) if last < 0 else last + 1
    return (first, last) if not text[first:start].strip() and not text[end:last].strip() else (start, end)
