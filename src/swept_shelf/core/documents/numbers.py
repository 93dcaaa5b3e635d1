"""Numbers as machines write them, which may be anything."""

from __future__ import annotations


def whole(text: str, most: int = (1 << 63) - 1) -> int | None:
    """`text` as a whole number from 0 to `most`; None for anything else: signs, other scripts' digits, too many of them."""
    if not (text.isascii() and text.isdigit() and len(text) <= 19):
        return None
    number = int(text)
    return number if number <= most else None
