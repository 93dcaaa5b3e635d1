"""Where things stand on the shelves: rectangles from bytes, without a window.

Widths are true across all shelves; only a thing that would leave the others as slivers is drawn broken."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from swept_shelf.core.documents.survey import Application, Kinds, SharedStore, Survey
from swept_shelf.core.documents.terms import Kind

SPANS = (("Today", 1), ("This week", 7), ("This season", 92), ("This year", 366))
LONGER, NO_SIGN, LEFT, STORES = "Longer ago", "No sign of use", "Left behind", "Shared stores"
SMALLEST = 5.0
GAP = 6.0


@dataclass(frozen=True, slots=True)
class Thing:
    """What stands on a shelf; `line` is empty for what cannot be ordered."""

    line: str
    name: str
    bytes: int
    kinds: Kinds
    note: str
    dashed: bool


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
    """`boxes` left to right; `small`: things too small to draw."""

    row: ShelfRow
    boxes: tuple[Box, ...]
    small: tuple[Thing, ...]


def shelves_of(survey: Survey, now: datetime, matching: frozenset[str] | None = None) -> list[ShelfRow]:
    """All shelves, newest at the top, largest first; `matching` keeps only those lines."""
    rows: dict[str, list[Thing]] = {n: [] for n in (*(s for s, _ in SPANS), LONGER, NO_SIGN, LEFT, STORES)}
    for a in survey.applications:
        if matching is None or a.id in matching:
            starts = any(s.how == "login" and s.enabled for s in a.starts)
            note = "at login" if starts else ""
            rows[shelf_of(a, now)].append(Thing(a.id, a.name, a.bytes.total, a.bytes, note, False))
    for left in survey.left_behind:
        if matching is None or left.id in matching:
            rows[LEFT].append(Thing(left.id, f"of {left.name}", left.bytes.total, left.bytes, "", True))
    if matching is None:
        rows[STORES] = [_store(s) for s in survey.shared_stores]
    return [ShelfRow(n, tuple(sorted(t, key=lambda t: (-t.bytes, t.name)))) for n, t in rows.items()]


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
    return Thing("", s.name, s.bytes, Kinds(**{kind: s.bytes}), "", True)


def lay_out_shelves(rows: list[ShelfRow], width: float) -> list[ShelfLayout]:
    """Boxes for each shelf within `width` pixels, all to one scale of bytes per pixel."""
    broken = _broken(rows)
    whole = [sum(t.bytes for t in r.things if t not in broken) for r in rows]
    room = [
        width * (0.55 if any(t in broken for t in r.things) else 1.0) - GAP * min(len(r.things), 12)
        for r in rows
    ]
    scales = [max(1.0, space) / size for size, space in zip(whole, room, strict=True) if size]
    scale = min(scales, default=0.0)
    return [_shelf(r, scale, width, broken) for r in rows]


def _broken(rows: list[ShelfRow]) -> set[Thing]:
    """Things that dwarf everything else: drawn broken, so that the rest can be seen."""
    everything = sorted((t.bytes for r in rows for t in r.things), reverse=True)
    if len(everything) < 3 or everything[0] < 12 * max(1, everything[len(everything) // 3]):
        return set()
    limit = 6 * max(1, everything[min(len(everything) - 1, max(2, len(everything) // 10))])
    return {t for r in rows for t in r.things if t.bytes > limit and t.bytes * 2 > r.bytes}


def _shelf(row: ShelfRow, scale: float, width: float, broken: set[Thing]) -> ShelfLayout:
    boxes: list[Box] = []
    small: list[Thing] = []
    x = 0.0
    for thing in row.things:
        cut = thing in broken
        wide = width * 0.42 if cut else thing.bytes * scale
        if (wide < SMALLEST and not (thing.line and not boxes)) or x + wide > width + 1:
            small.append(thing)
            continue
        wide = max(wide, SMALLEST)
        boxes.append(Box(thing, x, wide, cut))
        x += wide + GAP
    return ShelfLayout(row, tuple(boxes), tuple(small))
