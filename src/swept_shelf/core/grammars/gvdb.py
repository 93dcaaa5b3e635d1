"""Names in a dconf database (GVDB: an open hash table on disk, as dconf and GSettings write it)."""

from __future__ import annotations

import struct

_SIGNATURE = b"GVariant"
_ITEM = struct.Struct("<IIIHcxII")
_NOBODY = 0xFFFFFFFF


def keys_of(data: bytes) -> list[str]:
    """Full names of all values, sorted. Raises ValueError when it is no such database or cut off."""
    return [key for key, _ in values_of(data)]


def values_of(data: bytes) -> list[tuple[str, bytes]]:
    """(full name, value as it is stored), by name. Raises ValueError like keys_of."""
    if data[:8] != _SIGNATURE or len(data) < 24:
        raise ValueError("is no GVDB file")
    start, end = struct.unpack("<II", data[16:24])
    table = data[start:end]
    if len(table) < 8 or end > len(data):
        raise ValueError("is cut off")
    bloom, buckets = struct.unpack("<II", table[:8])
    first = 8 + 4 * (bloom & 0x07FFFFFF) + 4 * buckets
    count = (len(table) - first) // _ITEM.size
    if count < 0:
        raise ValueError("is cut off")
    rows = [_ITEM.unpack_from(table, first + i * _ITEM.size) for i in range(count)]

    def name(i: int, depth: int = 0) -> str:
        _, parent, at, size, *_ = rows[i]
        if depth > 40 or at + size > len(data):
            raise ValueError("has names that lead nowhere")
        above = name(parent, depth + 1) if parent != _NOBODY and parent < count else ""
        return above + data[at : at + size].decode("utf-8", "replace")

    return sorted((name(i), data[row[5] : row[6]]) for i, row in enumerate(rows) if row[4] == b"v")
