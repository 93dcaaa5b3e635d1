"""Rows that `find -fprintf` wrote, as columns: numbers of fixed width read in bulk by NumPy, and the paths, printed apart.

Every row of numbers is ROW characters, the last of them a line's end; every path ends with a zero byte. A row whose numbers do
not fit their width, or whose times lie before 1970, is read on its own."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from functools import cached_property
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.times import LATEST, held_ns

# Each with its width: together whole groups of eight characters.
_FIELDS = (
    ("device", " %7D", 8),
    ("inode", " %15i", 16),
    ("links", " %3n", 4),
    ("mode", "%04m", 4),
    ("uid", " %7U", 8),
    ("blocks", " %7b", 8),
    ("size", " %15s", 16),
    ("mtime", " %23T@", 24),
    ("ctime", " %23C@", 24),
    ("gid", " %5G", 6),
)
FORMAT = "".join(text for _, text, _ in _FIELDS) + r"%y\n"
PATHS = r"%p\0"
ROW = sum(width for *_, width in _FIELDS) + 2
_WORDS = ROW // 8
_PIECE = 4096 * ROW  # bytes
_FIRST = {name: sum(w for *_, w in _FIELDS[:i]) // 8 for i, (name, *_) in enumerate(_FIELDS)}
_TIMES = ("mtime", "ctime")
# find prints ten decimals: the word of the dot, and its place in it
_DOTS = [_FIRST[name] + 1 for name in _TIMES]
_DOT_IN_WORD = 5
_U = np.uint64
_DIGITS = np.full(_WORDS, 0x0F0F0F0F0F0F0F0F, _U)
_DIGITS[_DOTS] &= ~(_U(0xFF) << _U(8 * _DOT_IN_WORD))
_DIGITS[-1] &= _U(0xFFFFFFFFFFFF)  # the letter and the line's end stand last
_SLOW = re.compile(
    rb" +(\d+) +(\d+) +(\d+)(\d{4}) +(\d+) +(\d+) +(\d+) +(-?\d+\.\d{10}) +(-?\d+\.\d{10}) +(\d+)([a-zA-Z])"
)
_COLUMN_TYPES = {
    "device": np.uint64,
    "inode": np.uint64,
    "uid": np.uint32,
    "gid": np.uint32,
    "mode": np.uint16,
    "links": np.int32,
}
_OCTAL = np.array(
    [int(str(n), 8) if "8" not in str(n) and "9" not in str(n) else 0 for n in range(10_000)], dtype=np.uint16
)  # of a mode's digits
COLUMNS = (*(name for name, *_ in _FIELDS), "type")


class Rows:
    """Columns of n rows: numbers by name (blocks of 512 bytes, times in ns), `type` the letter; `text`: their paths as find
    prints them, a '.' before and a zero byte behind each."""

    def __init__(self, columns: dict[str, NDArray[np.generic]], text: bytes) -> None:
        self.columns, self.text = columns, text

    def __len__(self) -> int:
        return len(self.columns["type"])

    def positions_of(self, paths: Iterable[str]) -> list[tuple[int, str]]:
        """Where those of `paths` are that are there, as find prints them; they stand in the order in which they are given."""
        text, at, found = b"\0" + self.text, 0, []
        for path in paths:
            line = b"\0" + path.encode("utf-8", "surrogateescape") + b"\0"
            start = text.find(line, at)
            if start >= 0:
                found.append((int(np.searchsorted(self.ends, start)), path))
                at = start + len(line) - 1
        return found

    @cached_property
    def ends(self) -> NDArray[np.int64]:
        """Where in the text each path ends."""
        return np.flatnonzero(np.frombuffer(self.text, np.uint8) == 0)

    def path(self, i: int) -> str:
        start = int(self.ends[i - 1]) + 1 if i else 0
        return self.text[start + 1 : int(self.ends[i])].decode("utf-8", "surrogateescape") or "/"

    def paths(self) -> list[str]:
        """Paths without the '.', in the order of the rows."""
        text = self.text[1:].replace(b"\0.", b"\0").decode("utf-8", "surrogateescape")
        return [path or "/" for path in text.split("\0")[:-1]]


def read(numbers: BinaryIO, paths: BinaryIO, size: int = _PIECE) -> Rows:
    """What find wrote with FORMAT, read in pieces of `size` bytes so that only columns are held, and with PATHS.

    Raises CouldNotRead when a row cannot be read, or one of the two was cut off."""
    parts, rest, at = [], b"", 0
    while piece := os.pread(numbers.fileno(), size, at):
        at += len(piece)
        end = piece.rfind(b"\n") + 1
        if end:
            parts.append(_read_whole(rest + piece[:end]))
        rest = piece[end:] if end else rest + piece
    columns = {name: np.concatenate([p[name] for p in parts or [_read_whole(b"")]]) for name in COLUMNS}
    rows = Rows(columns, os.pread(paths.fileno(), os.fstat(paths.fileno()).st_size, 0))
    if rest or len(rows.ends) != len(rows):
        raise CouldNotRead("the walk was cut off")
    return rows


def _read_whole(text: bytes) -> dict[str, NDArray[np.generic]]:
    """Columns of whole rows. Raises CouldNotRead where one cannot be read."""
    if len(text) % ROW == 0:
        words = _words(text)
        digits = words & _DIGITS
        if not np.bitwise_or.reduce(_strange(words, digits), axis=None):
            return _columns(words, digits)
    lines = text.split(b"\n")[:-1]
    words = _words(b"".join([line + b"\n" if len(line) == ROW - 1 else bytes(ROW) for line in lines]))
    digits = words & _DIGITS
    alone = np.flatnonzero(_strange(words, digits).any(axis=1)).tolist()
    columns = _columns(words, digits)
    for i in alone:
        _read_alone(lines[i], columns, i)
    return columns


def _words(text: bytes) -> NDArray[np.uint64]:
    """Eight characters at once, as one 64-bit word each, of rows of the usual width."""
    return np.frombuffer(text, "<u8").reshape(-1, _WORDS).astype(np.uint64, copy=False)


def _strange(words: NDArray[np.uint64], digits: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """Not zero where a word has another than digits and spaces, and the dots and the line's end at their places."""
    strange = digits + _U(0x7676767676767676)
    strange &= _U(0x8080808080808080)
    strange[:, _DOTS] |= words[:, _DOTS] >> _U(8 * _DOT_IN_WORD) & _U(0xFF) ^ _U(ord("."))
    strange[:, -1] |= words[:, -1] >> _U(56) ^ _U(ord("\n"))
    return strange


def _columns(words: NDArray[np.uint64], digits: NDArray[np.uint64]) -> dict[str, NDArray[np.generic]]:
    """What the rows say that are nowhere strange. Neighbouring digits are joined three times, in place: pairs, fours, eights."""
    for factor, shift, mask in (
        (2561, 8, 0x00FF00FF00FF00FF),
        (6553601, 16, 0x0000FFFF0000FFFF),
        (42949672960001, 32, 0xFFFFFFFF),
    ):
        digits *= _U(factor)
        digits >>= _U(shift)
        digits &= _U(mask)
    columns: dict[str, NDArray[np.generic]] = {
        name: _column(name, width, digits) for name, _, width in _FIELDS
    }
    columns["type"] = (words[:, -1] >> _U(48)).astype(np.uint8)
    return columns


def _column(name: str, width: int, groups: NDArray[np.uint64]) -> NDArray[np.generic]:
    first = _FIRST[name]
    group = groups[:, first]
    if name in _TIMES:
        high, middle, low = (groups[:, first + i].astype(np.int64) for i in range(3))
        seconds = np.minimum(high * 100_000 + middle // 1000, LATEST)
        return np.asarray(seconds * 1_000_000_000 + ((middle % 100) * 100_000_000 + low) // 10)
    if name == "mode":
        return np.asarray(_OCTAL[group % _U(10_000)])
    if name == "links":  # in front of the mode
        group = group // _U(10_000)
    elif name == "gid":  # two other characters behind it
        group = group // _U(100)
    elif width == 16:
        group = group * _U(100_000_000) + groups[:, first + 1]
    return group.astype(_COLUMN_TYPES.get(name, np.int64))


def _read_alone(line: bytes, columns: dict[str, NDArray[np.generic]], i: int) -> None:
    """Fill row `i` from its own text. Raises CouldNotRead."""
    match = _SLOW.fullmatch(line)
    if match is None:
        raise CouldNotRead("the walk printed a row that cannot be read")
    for (name, *_), value in zip(_FIELDS, match.groups(), strict=False):
        columns[name][i] = _ns(value.decode()) if b"." in value else int(value, 8 if name == "mode" else 10)
    columns["type"][i] = match.group(len(_FIELDS) + 1)[0]


def _ns(text: str) -> int:
    """find's fractional seconds as nanoseconds, without a float in between (find(1), %T@)."""
    whole, _, part = text.partition(".")
    fraction = int(part[:9])
    return held_ns(int(whole) * 1_000_000_000 + (-fraction if whole.startswith("-") else fraction))
