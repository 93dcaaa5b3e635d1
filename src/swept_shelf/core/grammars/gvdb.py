"""A dconf database (GVDB: an open hash table on disk, as dconf and GSettings write it), read, and written anew.

Between the two it is text, a setting to a line: its full name, its type and its value, with tabs between them."""

from __future__ import annotations

import contextlib
import json
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TypeAlias

from swept_shelf.core.grammars import gvariant

_SIGNATURE = b"GVariant"
_ITEM = struct.Struct("<IIIHcxII")
_NOBODY = 0xFFFFFFFF
_OPAQUE, _TABLE = "#", "@"
_LONGEST = 64 << 10  # bytes of a value that is taken to pieces
Table: TypeAlias = "dict[str, bytes | Table]"


@dataclass(frozen=True, slots=True)
class Setting:
    """A line of the text: `start` to `end` with its line feed; `value` of a `type` from `at` on."""

    number: int
    key: str
    type: str
    value: str
    start: int
    at: int
    end: int


def keys_of(data: bytes) -> list[str]:
    """Full names of all values, sorted. Raises ValueError when it is no such database or cut off."""
    return sorted(k for k, value in table_of(data).items() if isinstance(value, bytes))


def text_of(data: bytes) -> str:
    """A database as text, by name. Raises ValueError when it is no such database or cut off."""
    return _lines(table_of(data))


def data_of(text: str) -> bytes:
    """The database that a text says. Raises ValueError."""
    return _written(_table(text))


def settings(text: str) -> Iterator[Setting]:
    """Every line of the text. Raises ValueError."""
    start = 0
    for number, line in enumerate(text.splitlines(True), 1):
        key, type, value = _fields(line)
        yield Setting(number, key, type, value, start, start + len(key) + len(type) + 2, start + len(line))
        start += len(line)


def table_of(data: bytes) -> Table:
    """Full name: value as it is stored, or a table of its own. Raises ValueError like keys_of."""
    if data[:8] != _SIGNATURE or len(data) < 24:
        raise ValueError("is no GVDB file")
    start, end = struct.unpack("<II", data[16:24])
    return _read(data, start, end, 0)


# -- text -------------------------------------------------------------------------------------------------------


def _lines(table: Table) -> str:
    made = []
    for key, value in sorted(table.items()):
        if any(ord(c) < 32 or c in "\x7f\x85\u2028\u2029" for c in key):
            raise ValueError("has names with control characters")
        if not isinstance(value, bytes):
            made.append(f"{key}\t{_TABLE}\t{json.dumps(_lines(value))}\n")
            continue
        type, text = _OPAQUE, value.hex()
        with contextlib.suppress(ValueError):
            if len(value) > _LONGEST:
                raise ValueError("is longer than any that people choose")
            part = gvariant.decoded(value)
            said = gvariant.written(part)
            if said.isprintable() and gvariant.encoded(gvariant.read(part.type, said)) == value:
                type, text = part.type, said
        made.append(f"{key}\t{type}\t{text}\n")
    return "".join(made)


def _fields(line: str) -> tuple[str, str, str]:
    fields = line.removesuffix("\n").split("\t", 2)
    if len(fields) != 3:
        raise ValueError("has a line that is no setting")
    return fields[0], fields[1], fields[2]


def _table(text: str) -> Table:
    found: Table = {}
    for setting in settings(text):
        if setting.type == _TABLE:
            found[setting.key] = _table(json.loads(setting.value))
        elif setting.type == _OPAQUE:
            found[setting.key] = bytes.fromhex(setting.value)
        else:
            found[setting.key] = gvariant.encoded(gvariant.read(setting.type, setting.value))
    return found


# -- bytes ------------------------------------------------------------------------------------------------------


def _read(data: bytes, start: int, end: int, inside: int) -> Table:
    table = data[start:end]
    if len(table) < 8 or end > len(data):
        raise ValueError("is cut off")
    if inside > 4:
        raise ValueError("has tables in tables in tables")
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
        return above + data[at : at + size].decode("utf-8", "surrogateescape")

    found: Table = {}
    for i, row in enumerate(rows):
        if row[4] == b"v":
            found[name(i)] = data[row[5] : row[6]]
        elif row[4] == b"H":
            found[name(i)] = _read(data, row[5], row[6], inside + 1)
    return found


def _hash(key: bytes) -> int:
    """Bernstein's, over signed characters (gvdb-format)."""
    number = 5381
    for c in key:
        number = (number * 33 + (c - 256 if c > 127 else c)) & 0xFFFFFFFF
    return number


def _written(table: Table) -> bytes:
    made = bytearray(24)
    start, end = _append(made, table)
    made[:24] = _SIGNATURE + struct.pack("<IIII", 0, 0, start, end)
    return bytes(made)


def _append(made: bytearray, table: Table) -> tuple[int, int]:
    """Write a table behind what is made; returns where it stands. Folders of names are lists of what is in them."""
    folders = {k[: i + 1] for k in table if k.startswith("/") for i, c in enumerate(k) if c == "/"}
    names = sorted({*table, *folders})
    count = max(1, len(names))
    code = {n: _hash(n.encode("utf-8", "surrogateescape")) for n in names}
    rows = sorted(names, key=lambda n: (code[n] % count, n))
    number = {n: i for i, n in enumerate(rows)}
    above = {n: n[: n.rstrip("/").rfind("/") + 1] for n in names}
    inside: dict[str, list[int]] = {f: [] for f in folders}
    for n in rows:
        if above[n] in folders and above[n] != n:
            inside[above[n]].append(number[n])
    made += bytes(-len(made) % 8)
    start = len(made)
    head = struct.pack("<II", 0, count)
    first = _firsts([code[n] % count for n in rows], count)
    size = len(head) + 4 * count + _ITEM.size * len(rows)
    made += bytes(size)
    items = bytearray()
    for n in rows:
        parent = number[above[n]] if above[n] in folders and above[n] != n else _NOBODY
        own = (n if parent == _NOBODY else n[len(above[n]) :]).encode("utf-8", "surrogateescape")
        at = len(made)
        made += own
        value = table.get(n)
        if value is None:
            made += bytes(-len(made) % 4)
            kind, begin = b"L", len(made)
            made += b"".join(struct.pack("<I", i) for i in inside[n])
            end = len(made)
        elif isinstance(value, bytes):
            made += bytes(-len(made) % 8)
            kind, begin = b"v", len(made)
            made += value
            end = len(made)
        else:
            kind = b"H"
            begin, end = _append(made, value)
        items += _ITEM.pack(code[n], parent, at, len(own), kind, begin, end)
    made[start : start + size] = head + struct.pack(f"<{count}I", *first) + items
    return start, start + size


def _firsts(places: list[int], count: int) -> list[int]:
    """For each bucket, how many items stand in those before it."""
    found, at = [], 0
    for bucket in range(count):
        while at < len(places) and places[at] < bucket:
            at += 1
        found.append(at)
    return found
