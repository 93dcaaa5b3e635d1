"""Text of files that a log rotation may have compressed."""

from __future__ import annotations

import bz2
import gzip
import lzma
import zlib
from collections.abc import Callable

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

_BY_ENDING: dict[str, Callable[[bytes], bytes]] = {".gz": gzip.decompress, ".xz": lzma.decompress, ".bz2": bz2.decompress}
ENDINGS = tuple(_BY_ENDING)


def read_unpacked(machine: Machine, path: str) -> str:
    """The text of `path`, unpacked where its name says so. Raises CouldNotRead naming it."""
    return unpacked_bytes(machine, path).decode("utf-8", "replace")


def unpacked_bytes(machine: Machine, path: str) -> bytes:
    """The bytes of `path`, unpacked where its name says so. Raises CouldNotRead naming it."""
    data = machine.read_bytes(path)
    unpack = next((u for ending, u in _BY_ENDING.items() if path.endswith(ending)), None)
    try:
        return unpack(data) if unpack else data
    except (OSError, EOFError, zlib.error, lzma.LZMAError, ValueError) as error:
        raise CouldNotRead(f"could not be unpacked: {error}", path) from None


def rotated(machine: Machine, folder: str, name: str) -> list[str]:
    """`name` and its rotated parts (NAME.1, NAME.2.gz ...) as paths, oldest first."""
    found = []
    for other in machine.names(folder):
        rest = other[len(name) :] if other.startswith(name) else None
        for ending in ENDINGS:
            rest = rest.removesuffix(ending) if rest else rest
        if rest is not None and (rest == "" or (rest[0] == "." and rest[1:].isdigit())):
            found.append((int(rest[1:] or 0), f"{folder}/{other}"))
    return [path for _, path in sorted(found, key=lambda f: (-f[0], f[1]))]
