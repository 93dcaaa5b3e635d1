"""Pieces of text files as line edits: what is cut, and what is left of each touched line."""

from __future__ import annotations

from swept_shelf.core.documents.operations import LineEdit


def split_lines(text: str) -> list[str]:
    """Lines without their ends; only a line feed ends a line, so numbers are the editor's."""
    return text.split("\n")


def cut_span(text: str, start: int, end: int) -> list[LineEdit]:
    """Edits that take `text[start:end]` out; a line that holds nothing else goes whole. The span ends in a line."""
    first = text.count("\n", 0, start)
    last = text.count("\n", 0, end - 1) if end > start else first
    lines = split_lines(text)
    line_start = text.rfind("\n", 0, start) + 1
    line_end = text.find("\n", end)
    line_end = len(text) if line_end < 0 else line_end
    rest = text[line_start:start] + text[end:line_end]
    edits = [LineEdit(first + 1, lines[first], rest if rest.strip() else None)]
    return edits + [LineEdit(n + 1, lines[n], None) for n in range(first + 1, last + 1)]


def apply_edits(text: str, edits: list[LineEdit]) -> str | None:
    """`text` with the edits done; None when a line that is to change is not there as expected.

    Lines may have moved by whole lines (an earlier edit of ours): the nearest equal line counts."""
    lines: list[str | None] = list(split_lines(text))
    original = split_lines(text)
    used: set[int] = set()
    for edit in sorted(edits, key=lambda e: e.line):
        places = [i for i, line in enumerate(original) if line == edit.old and i not in used]
        if not places:
            return None
        place = min(places, key=lambda i: abs(i - (edit.line - 1)))
        used.add(place)
        lines[place] = edit.new
    kept = [line for line in lines if line is not None]
    ended = original[-1] == ""
    made = "\n".join(kept)
    return made + "\n" if ended and made and not made.endswith("\n") else made
