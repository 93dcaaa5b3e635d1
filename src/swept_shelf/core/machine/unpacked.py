"""Text of files that a log rotation may have compressed, as far as a limit."""

from __future__ import annotations

import bz2
import lzma
import zlib
from collections.abc import Callable, Iterator
from typing import Protocol

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

_MOST = 32 << 20  # bytes unpacked from one file that is read at once
_WINDOW = 96 << 20  # memory that an xz stream may ask for
_PIECE = 1 << 20


class _Unpacks(Protocol):
    @property
    def eof(self) -> bool: ...

    @property
    def unused_data(self) -> bytes: ...

    def decompress(self, data: bytes, max_length: int = -1, /) -> bytes: ...


class _Gzip:
    """zlib's decompressor with what the other two have: it keeps what it could not hand out yet."""

    def __init__(self) -> None:
        self._inner, self._rest = zlib.decompressobj(31), b""

    @property
    def eof(self) -> bool:
        return self._inner.eof

    @property
    def unused_data(self) -> bytes:
        return self._inner.unused_data

    def decompress(self, data: bytes, max_length: int = 0, /) -> bytes:
        out = self._inner.decompress(self._rest + data, max_length)
        self._rest = self._inner.unconsumed_tail
        return out


_BY_ENDING: dict[str, Callable[[], _Unpacks]] = {
    ".gz": _Gzip,
    ".xz": lambda: lzma.LZMADecompressor(memlimit=_WINDOW),
    ".bz2": bz2.BZ2Decompressor,
}
ENDINGS = tuple(_BY_ENDING)


def read_unpacked(machine: Machine, path: str) -> str:
    """The text of `path`, unpacked where its name says so. Raises CouldNotRead naming it."""
    return unpacked_bytes(machine, path).decode("utf-8", "replace")


def unpacked_bytes(machine: Machine, path: str) -> bytes:
    """The bytes of `path`, unpacked where its name says so. Raises CouldNotRead naming it, also where they are too many."""
    return b"".join(unpacked_pieces(machine, path, _MOST))


def unpacked_pieces(machine: Machine, path: str, most: int) -> Iterator[bytes]:
    """The same piece by piece, of which none is held here: at most `most` bytes. Raises CouldNotRead."""
    data = machine.read_bytes(path)
    make = next((m for ending, m in _BY_ENDING.items() if path.endswith(ending)), None)
    total = 0
    try:
        for piece in _unpack(make, data) if make else (data,):
            total += len(piece)
            if total > most:
                raise CouldNotRead(f"holds more than the {most >> 20} MiB that are unpacked", path)
            yield piece
    except (OSError, EOFError, zlib.error, lzma.LZMAError, ValueError) as error:
        raise CouldNotRead(f"could not be unpacked: {error}", path) from None


def _unpack(make: Callable[[], _Unpacks], data: bytes) -> Iterator[bytes]:
    """One stream after the other, as they may stand in one file; zeros behind the last are passed over."""
    while data.strip(b"\0"):
        stream = make()
        while not stream.eof:
            piece = stream.decompress(data, _PIECE)
            if not piece and not data and not stream.eof:
                raise EOFError("it ends too early")
            data = b""
            yield piece
        data = stream.unused_data


def rotated(machine: Machine, folder: str, name: str) -> list[str]:
    """`name` and its rotated parts (NAME.1, NAME.2.gz ...) as paths, oldest first."""
    found = []
    for other in machine.names(folder):
        rest = other[len(name) :] if other.startswith(name) else None
        for ending in ENDINGS:
            rest = rest.removesuffix(ending) if rest else rest
        if rest is not None and (
            rest == "" or (rest[0] == "." and rest[1:].isascii() and rest[1:].isdigit() and len(rest) < 6)
        ):
            found.append((int(rest[1:] or 0), f"{folder}/{other}"))
    return [path for _, path in sorted(found, key=lambda f: (-f[0], f[1]))]
