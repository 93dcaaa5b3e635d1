"""Before and after as a picture: the free space of each volume, as SVG that a page carries inside itself."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Iterator
from html import escape

from swept_shelf.core.documents.clearance import VolumeResult
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import human_bytes

WIDTH, _ROW, _BAR, _LABEL = 660, 24, 14, 190
_INK, _SECOND, _USED, _FREE, _WOOD = "#22303A", "#5A666F", "#51616C", "#C9BFA8", "#A68E6B"


def bars_of(v: VolumeResult) -> list[tuple[str, int]]:
    """What is free of a volume: before, now, and when what waits on the holding shelf is gone for good."""
    rows = [("free before", v.free_before), ("free now", v.free_now)]
    if v.on_shelf:
        rows.append(("free when the shelf is emptied", v.free_now + v.on_shelf))
    return rows


def in_words(volumes: list[VolumeResult]) -> str:
    """What the picture shows."""
    return "; ".join(
        f"{printable(v.mount)}: " + ", ".join(f"{human_bytes(n)} {name}" for name, n in bars_of(v))
        for v in volumes
    )


def free_space_svg(volumes: list[VolumeResult]) -> str:
    """Bars on one scale from nothing to the most that is free anywhere."""
    most = max((n for v in volumes for _, n in bars_of(v)), default=0) or 1
    rows = list(_rows(volumes, most))
    height = sum(_ROW if kind != "head" else _ROW + 8 for kind, _ in rows) + 4
    y, drawn = 0, []
    for kind, text in rows:
        y += _ROW + 8 if kind == "head" else _ROW
        drawn.append(text.replace("@y", str(y - 6)).replace("@t", str(y - 6 - _BAR + 3)))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{height}" '
        f'viewBox="0 0 {WIDTH} {height}" font-family="Noto Sans, DejaVu Sans, sans-serif" font-size="13">'
        f"{''.join(drawn)}</svg>"
    )


def _rows(volumes: list[VolumeResult], most: int) -> Iterator[tuple[str, str]]:
    room = WIDTH - _LABEL - 90
    for v in volumes:
        if len(volumes) > 1:
            head = f'<text x="0" y="@y" fill="{_INK}" font-weight="bold">{escape(printable(v.mount))}</text>'
            yield "head", head
        for i, (name, size) in enumerate(bars_of(v)):
            width = max(1, round(room * size / most))
            fill = (_FREE, _USED, _WOOD)[i]
            yield (
                "bar",
                f'<text x="0" y="@y" fill="{_SECOND}">{escape(name)}</text>'
                f'<rect x="{_LABEL}" y="@t" width="{width}" height="{_BAR}" fill="{fill}"/>'
                f'<text x="{_LABEL + width + 8}" y="@y" fill="{_INK}">{human_bytes(size)}</text>',
            )


def as_address(svg: str) -> str:
    """As an address that a page shows without fetching anything."""
    return f"data:image/svg+xml;base64,{b64encode(svg.encode()).decode()}"
