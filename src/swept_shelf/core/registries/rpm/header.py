"""A package file with nothing in it but its header: what rpm needs to know a package again whose files stand there already.

An RPM package is a lead, a signature header, the header and the files (RPM package format, version 3 lead; header structures begin
with a magic number, then the numbers of index entries and of bytes of data)."""

from __future__ import annotations

import struct

_LEAD, _MAGIC = bytes.fromhex("edabeedb0300"), bytes.fromhex("8eade80100000000")
_LEAD_NAME, _SIGNED_HEADER = 66, 5
_REGION, _SIZE, _BINARY, _INT32 = 62, 1000, 7, 4
_ENTRY = 16


def package_of(name: str, header: bytes) -> bytes:
    """`header`: as rpm gives its immutable region, index and data without the magic number. Raises ValueError for what is none."""
    if len(header) < 8:
        raise ValueError("is no header")
    entries, data = struct.unpack(">II", header[:8])
    if len(header) != 8 + entries * _ENTRY + data:
        raise ValueError("is no whole header")
    lead = (
        _LEAD
        + struct.pack(">HH", 0, 1)
        + name.encode("utf-8", "replace")[: _LEAD_NAME - 1].ljust(_LEAD_NAME, b"\0")
        + struct.pack(">HH", 1, _SIGNED_HEADER)
        + bytes(16)
    )
    size = struct.pack(">i", len(_MAGIC) + len(header))
    index = struct.pack(">IIII", _REGION, _BINARY, len(size), _ENTRY) + struct.pack(
        ">IIII", _SIZE, _INT32, 0, 1
    )
    trailer = struct.pack(">IIiI", _REGION, _BINARY, -len(index), _ENTRY)
    signature = (
        _MAGIC + struct.pack(">II", len(index) // _ENTRY, len(size) + len(trailer)) + index + size + trailer
    )
    return lead + signature + bytes(-len(signature) % 8) + _MAGIC + header
