"""Which parts of a program or library can hold a text: what is not the machine's instructions, nor tables of numbers (elf(5))."""

from __future__ import annotations

import os
import struct

_MAGIC = b"\x7fELF"
_HEADERS = {1: "10I", 2: "IIQQQQIIQQ"}  # a section's header, by the class of the file
_WHERE = {
    1: ("I", 32, 46),
    2: ("Q", 40, 58),
}  # where the headers are: format, offset; offset of their size and number
_NOT_IN_FILE = 8  # SHT_NOBITS
_INSTRUCTIONS = 4  # SHF_EXECINSTR
# Symbols, relocations, what is looked up by numbers, how calls are unwound: no texts.
_NUMBERS = frozenset([2, 4, 5, 9, 11, 0x6FFFFFF6, 0x6FFFFFFF, 0x70000001])
_LEAST = 4096  # bytes that are worth leaving out
_MOST_HEADERS = 1 << 16


def text_parts(fd: int, size: int) -> list[tuple[int, int]]:
    """(offset, length) of the parts of an open file of `size` bytes that can hold a text, in order: of what is no program, or
    none that says what is where, all of it. Raises OSError."""
    parts, at = [], 0
    for start, end in sorted(_left_out(fd, size)):
        if start > at:
            parts.append((at, start - at))
        at = max(at, end)
    if at < size:
        parts.append((at, size - at))
    return parts


def _left_out(fd: int, size: int) -> list[tuple[int, int]]:
    head = os.pread(fd, 64, 0)
    if len(head) < 64 or not head.startswith(_MAGIC) or head[4] not in _HEADERS:
        return []
    order = ">" if head[5] == 2 else "<"
    number, at, sized = _WHERE[head[4]]
    (offset,) = struct.unpack_from(order + number, head, at)
    length, count = struct.unpack_from(order + "HH", head, sized)
    layout = struct.Struct(order + _HEADERS[head[4]])
    if length != layout.size or not 0 < offset < size:
        return []
    table = os.pread(fd, length * min(count, _MOST_HEADERS), offset)
    found = []
    for _, kind, flags, _, start, long, *_ in layout.iter_unpack(table[: len(table) // length * length]):
        no_text = flags & _INSTRUCTIONS or kind in _NUMBERS
        if no_text and kind != _NOT_IN_FILE and long >= _LEAST and start + long <= size:
            found.append((start, start + long))
    return found
