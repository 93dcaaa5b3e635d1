"""Lines of a text with their places; only a line feed ends a line, so numbers are the editor's."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Line:
    """`start` to `end` in the text, the line feed included; `text` without it."""

    number: int
    text: str
    start: int
    end: int


def lines_of(text: str) -> Iterator[Line]:
    """Every line, also empty ones."""
    start = 0
    for number, line in enumerate(text.split("\n"), 1):
        end = min(start + len(line) + 1, len(text))
        yield Line(number, line, start, end)
        start = end


def said_lines(text: str, comments: str = "#") -> Iterator[Line]:
    """Lines that say something: neither empty nor a comment."""
    for line in lines_of(text):
        bare = line.text.lstrip()
        if bare and bare[0] not in comments:
            yield line


def continued_lines(text: str, comments: str = "#") -> Iterator[Line]:
    """The same, lines that end with a backslash joined with the next."""
    begun: Line | None = None
    for line in lines_of(text):
        if begun is None and (not line.text.strip() or line.text.lstrip()[0] in comments):
            continue
        joined = line.text if begun is None else f"{begun.text[:-1]} {line.text}"
        whole = Line(
            begun.number if begun else line.number, joined, begun.start if begun else line.start, line.end
        )
        begun = whole if line.text.endswith("\\") else None
        if begun is None and joined.strip():
            yield whole
    if begun is not None:
        yield begun
