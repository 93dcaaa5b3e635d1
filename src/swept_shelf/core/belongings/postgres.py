"""Names of databases in a PostgreSQL server's data folder, read from its files (Database Page Layout and System Catalogs in its
manual): the shared catalogue pg_database, whose file the relation map names. Nothing is asked of the server."""

from __future__ import annotations

import struct
from collections.abc import Iterator

from swept_shelf.core.machine.machine import Machine

_CATALOGUE = 1262  # the oid of pg_database
_MAP_MAGIC = 0x592717
_PAGE = 8192
_LARGEST = 4 << 20
_XMAX_INVALID = 0x0800  # nobody deleted or replaced the row
_NAME = 64


def databases_of(machine: Machine, data: str) -> dict[str, int]:
    """Name to oid of the databases in the cluster whose data folder is `data`; their files are below base/OID. Raises CouldNotRead."""
    pages = machine.read_bytes(f"{data}/global/{_file(machine, data)}", _LARGEST)
    found: dict[str, int] = {}
    for start in range(0, len(pages) - _PAGE + 1, _PAGE):
        for row in _rows(pages[start : start + _PAGE]):
            name = row[4 : 4 + _NAME].split(b"\0", 1)[0].decode("utf-8", "replace")
            if name:
                found[name] = struct.unpack_from("<I", row)[0]
    return found


def _file(machine: Machine, data: str) -> int:
    """The number of the file that holds the catalogue now."""
    path = f"{data}/global/pg_filenode.map"
    table = machine.read_bytes(path, 512) if machine.exists(path) else b""
    if len(table) >= 8 and struct.unpack_from("<i", table)[0] == _MAP_MAGIC:
        count = min(struct.unpack_from("<i", table, 4)[0], (len(table) - 8) // 8)
        pairs: dict[int, int] = dict(
            struct.unpack_from("<II", table, 8 + 8 * i) for i in range(max(0, count))
        )
        return pairs.get(_CATALOGUE, _CATALOGUE)
    return _CATALOGUE


def _rows(page: bytes) -> Iterator[bytes]:
    """The data of the rows of one page that stand."""
    lower = struct.unpack_from("<H", page, 12)[0]
    for at in range(24, min(lower, _PAGE - 4), 4):
        item = struct.unpack_from("<I", page, at)[0]
        offset, flags, length = item & 0x7FFF, item >> 15 & 3, item >> 17
        if flags != 1 or length < 24 or offset + length > _PAGE:
            continue
        deleted_by = struct.unpack_from("<I", page, offset + 4)[0]
        mask, header = struct.unpack_from("<HB", page, offset + 20)
        if (deleted_by == 0 or mask & _XMAX_INVALID) and header + 4 + _NAME <= length:
            yield page[offset + header : offset + length]
