"""Sizes for people: decimal units, at most three figures."""

from __future__ import annotations

from decimal import Decimal


def human_bytes(count: int) -> str:
    """`count` bytes in decimal units: 0 bytes, 12 kB, 4.6 MB, 212 MB, 1.9 GB."""
    sign, size = ("−" if count < 0 else ""), float(abs(count))
    if size < 1000:
        return f"{sign}{int(size)} bytes"
    for unit in ("kB", "MB", "GB", "TB", "PB"):
        size /= 1000
        if size < 999.5 or unit == "PB":
            return f"{sign}{size:.1f} {unit}" if size < 9.95 and unit != "kB" else f"{sign}{size:.0f} {unit}"
    raise AssertionError


def signed_bytes(count: int) -> str:
    """A change in bytes: +1.6 GB, −300 MB; nothing for none."""
    return "" if not count else ("+" if count > 0 else "") + human_bytes(count)


def grouped(count: int) -> str:
    """`count` with thin spaces between groups of three figures."""
    return f"{count:,}".replace(",", " ")


def plural(count: int, one: str, many: str = "") -> str:
    return f"{grouped(count)} {one if count == 1 else many or one + 's'}"


_UNITS = {
    "": 1,
    "b": 1,
    "k": 10**3,
    "kb": 10**3,
    "m": 10**6,
    "mb": 10**6,
    "g": 10**9,
    "gb": 10**9,
    "t": 10**12,
    "tb": 10**12,
    "p": 10**15,
    "pb": 10**15,
}


def parse_bytes(text: str) -> int:
    """A size as people write it: 200MB, 1.5 g, 4096. Decimal units. Raises ValueError."""
    words = text.strip().lower().replace(",", ".")
    figures = words.rstrip("bkmgtp ").strip()
    unit = words[len(figures) :].strip()
    if unit not in _UNITS:
        raise ValueError(f"{text} is not a size like 200MB")
    try:
        count = Decimal(figures) * _UNITS[unit]
        if not 0 <= count < 10**18:
            raise ValueError
    except (ArithmeticError, ValueError):
        raise ValueError(f"{text} is not a size like 200MB") from None
    return round(count)
