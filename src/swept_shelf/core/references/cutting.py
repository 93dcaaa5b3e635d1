"""Pieces cut out of a text, by any number of applications and in any order; and cuts undone in a text that others wrote to.

All positions are those of the text as it was surveyed. What goes is the union of all cuts: a line or element whose pieces all
went goes as a whole, whoever took the last of them."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Sequence
from difflib import SequenceMatcher

from swept_shelf.core.documents.operations import Cut

_TOKENS = re.compile(r"[^\W_]+|\s+|.", re.S)


def line_spans(text: str) -> list[tuple[int, int]]:
    """Start and end of every line, its line feed included; only a line feed ends a line, so numbers are the editor's."""
    found, start = [], 0
    for line in text.split("\n"):
        end = min(start + len(line) + 1, len(text))
        found.append((start, end))
        start = end
    return found


def whole_line(number: int, start: int, end: int) -> Cut:
    """A cut of everything from `start` to `end`, which stands on line `number`."""
    return Cut(number, start, end, start, end)


def without(text: str, cuts: Iterable[Cut]) -> str:
    """`text` without the pieces."""
    groups: dict[tuple[int, int], set[Cut]] = defaultdict(set)
    for cut in cuts:
        groups[cut.whole_start, cut.whole_end].add(cut)
    spans: list[tuple[int, int]] = []
    for whole, pieces in groups.items():
        places = sorted({(c.start, c.end) for c in pieces})
        if len(places) >= min(c.pieces for c in pieces):
            spans.append(whole)
        else:
            spans += _of_list(text, whole, places, next(iter(pieces)).separator)
    puts = {c.start: c.put for cuts in groups.values() for c in cuts if c.put}
    made = text
    for start, end in reversed(_joined([*spans, *((p, p) for p in puts)])):
        put = "".join(text for at, text in sorted(puts.items()) if start <= at <= end)
        made = made[:start] + put + made[end:]
    return made


def _of_list(
    text: str, whole: tuple[int, int], places: list[tuple[int, int]], mark: str
) -> list[tuple[int, int]]:
    """Each piece with the separator behind it; the last of a list with the one before it."""
    if not mark:
        return places
    found: list[tuple[int, int]] = []
    for start, end in places:
        if text.startswith(mark, end) and end < whole[1]:
            found.append((start, end + len(mark)))
            continue
        while found and found[-1][1] == start:
            start = found.pop()[0]
        before = start - len(mark)
        found.append((before if before >= whole[0] and text.startswith(mark, before) else start, end))
    return found


def _joined(spans: list[tuple[int, int]]) -> list[tuple[int, int]]:
    made: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if made and start <= made[-1][1]:
            made[-1] = made[-1][0], max(end, made[-1][1])
        else:
            made.append((start, end))
    return made


def put_in_again(base: str, wanted: str, now: str) -> str | None:
    """What stands `now` with that done to it which leads from `base` to `wanted`; None where somebody wrote in its very place.

    `base` is what we left; others may have written to the file since."""
    if base == now:
        return wanted
    return _merged(base.splitlines(True), wanted.splitlines(True), now.splitlines(True), by_word=True)


def _merged(base: Sequence[str], wanted: Sequence[str], now: Sequence[str], by_word: bool) -> str | None:
    stands = {
        a + i: b + i
        for a, b, size in SequenceMatcher(None, base, now, autojunk=False).get_matching_blocks()
        for i in range(size)
    }
    made, at = "", 0
    for what, i1, i2, j1, j2 in SequenceMatcher(None, base, wanted, autojunk=False).get_opcodes():
        if what == "equal":
            continue
        place = _place(stands, i1, i2, len(base), len(now), strict=not by_word)
        text: str | None = "".join(wanted[j1:j2])
        if place is None and by_word and i2 - i1 == j2 - j1 and i2 > i1:
            place = _between(stands, i1, i2, len(base), len(now))
            if place is None or place[1] - place[0] != i2 - i1:
                return None
            lines = [
                _merged(_TOKENS.findall(b), _TOKENS.findall(w), _TOKENS.findall(n), by_word=False)
                for b, w, n in zip(base[i1:i2], wanted[j1:j2], now[place[0] : place[1]], strict=True)
            ]
            text = None if None in lines else "".join(x for x in lines if x is not None)
        if place is None or text is None or place[0] < at:
            return None
        made += "".join(now[at : place[0]]) + text
        at = place[1]
    return made + "".join(now[at:])


def _place(
    stands: dict[int, int], first: int, last: int, length: int, now: int, strict: bool
) -> tuple[int, int] | None:
    """Where in the text of now the parts `first` to `last` of the base stand, unchanged and together."""
    if first < last:
        places = [stands.get(i) for i in range(first, last)]
        start = places[0]
        if start is None or places != list(range(start, start + last - first)):
            return None
        return start, start + last - first
    before = stands.get(first - 1) if first else None  # at the very beginning: directly before what followed
    after = stands.get(first) if first < length else now
    if strict and (before is None or after != before + 1):
        return None  # inside a line: only between the very words that stood around it
    if before is not None:
        return before + 1, before + 1
    return (after, after) if after is not None else None


def _between(stands: dict[int, int], first: int, last: int, length: int, now: int) -> tuple[int, int] | None:
    """What stands now between the neighbours of the parts `first` to `last`."""
    before = stands.get(first - 1) if first else -1
    after = stands.get(last) if last < length else now
    return (before + 1, after) if before is not None and after is not None and after > before else None
