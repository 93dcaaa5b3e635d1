"""Where things stand on the shelves: rectangles from bytes, without a window.

Widths are true across all shelves; only a thing that would leave the others as slivers is drawn broken. A shelf takes as many
boards as its bytes deserve, and the scale is the largest with which all still stand."""

from __future__ import annotations

import heapq
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta

from swept_shelf.core.documents.survey import Application, Kinds, SharedStore, Survey
from swept_shelf.core.documents.terms import Kind
from swept_shelf.desk.survey.marks import Mark, marks_of

SPANS = (("Today", 1), ("This week", 7), ("This season", 92), ("This year", 366))
LONGER, NO_SIGN, LEFT, STORES = "Longer ago", "No sign of use", "Left behind", "Shared stores"
UNKNOWN = "No date yet"
SMALLEST = 11.0
GAP = 4.0
_BROKEN = 0.42  # of the width
_TRIES = 20
_NAMED = 40  # so many of the largest have names, whatever else is there
_MORE_BOARDS = (0, 1, 2, 3, 5, 8, 12)


@dataclass(frozen=True, slots=True)
class Thing:
    """What stands on a shelf; `line` is empty for what cannot be ordered."""

    line: str
    name: str
    bytes: int
    kinds: Kinds
    marks: tuple[Mark, ...] = ()
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class ShelfRow:
    name: str
    things: tuple[Thing, ...]

    @property
    def bytes(self) -> int:
        return sum(t.bytes for t in self.things)


@dataclass(frozen=True, slots=True)
class Box:
    thing: Thing
    x: float
    width: float
    broken: bool


@dataclass(frozen=True, slots=True)
class ShelfLayout:
    """`boards` from the top, each with its boxes left to right; `small`: things too thin to draw, gathered behind the last box."""

    row: ShelfRow
    boards: tuple[tuple[Box, ...], ...]
    small: tuple[Thing, ...]

    @property
    def boxes(self) -> tuple[Box, ...]:
        return tuple(b for board in self.boards for b in board)


def shelves_of(survey: Survey, now: datetime, came: Collection[str] = ()) -> list[ShelfRow]:
    """All shelves, newest at the top, largest first; `came`: lines that the last visit did not know."""
    rows: dict[str, list[Thing]] = {n: [] for n in (*(s for s, _ in SPANS), LONGER, NO_SIGN, LEFT, STORES)}
    if survey.so_far:
        rows = {UNKNOWN: [], LEFT: []}
    for a in survey.applications:
        shelf = UNKNOWN if survey.so_far else shelf_of(a, now)
        rows[shelf].append(Thing(a.id, a.name, a.bytes.total, a.bytes, marks_of(a, came)))
    for left in survey.left_behind:
        rows[LEFT].append(Thing(left.id, f"of {left.name}", left.bytes.total, left.bytes, dashed=True))
    if survey.so_far:
        return _sorted(rows)
    rows[STORES] = [_store(s) for s in survey.shared_stores]
    join_spans(rows)
    return _sorted(rows)


def _sorted(rows: dict[str, list[Thing]]) -> list[ShelfRow]:
    return [ShelfRow(n, tuple(sorted(t, key=lambda t: (-t.bytes, t.name)))) for n, t in rows.items()]


def join_spans(rows: dict[str, list[Thing]]) -> None:
    """A span in which little was used last stands with the next longer one, under that one's name; Today stays what it is.

    Little: under a tenth of what is known to have been used, by number and by bytes."""
    spans = [n for n in (*(s for s, _ in SPANS), LONGER) if rows[n]]
    known = [t for n in spans for t in rows[n]]
    number, size = len(known), sum(t.bytes for t in known)
    spans = [n for n in spans if n != SPANS[0][0]]
    while len(spans) > 2:
        least = min(spans, key=lambda n: (sum(t.bytes for t in rows[n]), n))
        things = rows[least]
        if len(things) * 10 >= number or sum(t.bytes for t in things) * 10 >= size:
            return
        place = min(spans.index(least), len(spans) - 2)
        newer, older = spans[place], spans[place + 1]
        rows[older] += rows[newer]
        rows[newer] = []
        spans.remove(newer)


def shelf_of(app: Application, now: datetime) -> str:
    """By its last use; where only a span is known by its end, so that nothing looks unused that may not be."""
    return shelf_for_time(app.last_use.no_later_than if app.last_use.wide else app.last_use.at, now)


def shelf_for_time(at: datetime | None, now: datetime) -> str:
    if at is None:
        return NO_SIGN
    for name, days in SPANS:
        if now - at < timedelta(days=days):
            return name
    return LONGER


def _store(s: SharedStore) -> Thing:
    kind = {
        "package_downloads": Kind.CACHE,
        "thumbnails": Kind.CACHE,
        "crash_records": Kind.LOG,
        "journal": Kind.LOG,
    }.get(s.kind, Kind.SUPPORT)
    return Thing(s.id if s.belongings else "", s.name, s.bytes, Kinds(**{kind: s.bytes}), dashed=True)


def share_boards(rows: list[ShelfRow], boards: int) -> list[int]:
    """How many boards each shelf gets: one each, each further one to the shelf with most bytes to a board."""
    given = [1] * len(rows)
    heap: list[tuple[float, int]] = [(-r.bytes, i) for i, r in enumerate(rows) if len(r.things) > 1]
    heapq.heapify(heap)
    for _ in range(boards - len(rows)):
        if not heap:
            break
        _, i = heapq.heappop(heap)
        given[i] += 1
        if given[i] < len(rows[i].things):
            heapq.heappush(heap, (-rows[i].bytes / given[i], i))
    return given


def lay_out_shelves(
    rows: list[ShelfRow], width: float, boards: int = 0, beside: float = 0, named: float = 0
) -> list[ShelfLayout]:
    """Boxes for each shelf within `width` pixels on `boards` in all, to one scale of bytes per pixel; `beside`: pixels that the
    words for what is too small to draw take behind the last box; `named`: pixels from which a box has a name. Where fewer than
    the largest would have one, there are more boards."""
    broken = _broken(rows)
    least = max(boards, len(rows))
    wanted = named / max(1, _last_to_name(rows)) if named else 0.0
    for more in _MORE_BOARDS:
        given = share_boards(rows, least + more)
        scale = _largest_scale(rows, given, width, beside, broken)
        if scale >= wanted:
            break
    return [
        _fill(r, n, scale, width, beside, broken) or ShelfLayout(r, ((),), r.things)
        for r, n in zip(rows, given, strict=True)
    ]


def _last_to_name(rows: list[ShelfRow]) -> int:
    """Bytes of the smallest of the largest things that hold four fifths of all, of which 40 are enough."""
    sizes = sorted((t.bytes for r in rows for t in r.things), reverse=True)
    left = sum(sizes) * 4 // 5
    for place, size in enumerate(sizes, 1):
        left -= size
        if left <= 0 or place == _NAMED:
            return size
    return 0


def _largest_scale(
    rows: list[ShelfRow], given: list[int], width: float, beside: float, broken: set[Thing]
) -> float:
    most = max((t.bytes for r in rows for t in r.things if t not in broken), default=0)
    low, high = 0.0, width / most if most else 0.0
    for _ in range(_TRIES):
        middle = (low + high) / 2
        fits = all(
            _fill(r, n, middle, width, beside, broken) is not None for r, n in zip(rows, given, strict=True)
        )
        low, high = (middle, high) if fits else (low, middle)
    return low


def _broken(rows: list[ShelfRow]) -> set[Thing]:
    """Things that dwarf everything else: drawn broken, so that the rest can be seen."""
    everything = sorted((t.bytes for r in rows for t in r.things), reverse=True)
    if len(everything) < 3 or everything[0] < 12 * max(1, everything[len(everything) // 3]):
        return set()
    limit = 6 * max(1, everything[min(len(everything) - 1, max(2, len(everything) // 10))])
    return {t for r in rows for t in r.things if t.bytes > limit and t.bytes * 2 > r.bytes}


def _fill(
    row: ShelfRow, count: int, scale: float, width: float, beside: float, broken: set[Thing]
) -> ShelfLayout | None:
    """The shelf's boards at a scale; None where it does not fit."""
    boards: list[list[Box]] = [[]]
    x = 0.0
    small: tuple[Thing, ...] = ()
    for place, thing in enumerate(row.things):
        cut = thing in broken
        wide = width * _BROKEN if cut else thing.bytes * scale
        if wide < SMALLEST:
            small = row.things[place:]
            break
        if x + wide > width + 0.5:
            boards.append([])
            x = 0.0
        boards[-1].append(Box(thing, x, wide, cut))
        x += wide + GAP
    if small and boards[-1] and x + beside > width:
        boards.append([])
    if len(boards) > count:
        return None
    return ShelfLayout(row, tuple(map(tuple, boards)), small)
