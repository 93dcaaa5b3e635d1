"""Rows that `find -printf` printed, as columns: numbers of fixed width read in bulk by NumPy, and the paths, printed apart.

Every row of numbers is ROW characters, the last of them a line's end; every path ends with a zero byte. A row whose numbers do
not fit their width, or whose times lie before 1970, is read on its own."""

from __future__ import annotations

import re
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.times import LATEST, held_ns

# Widths, a space in front included, are whole groups of eight characters.
_FIELDS = (
    ("device", "D", 8),
    ("inode", "i", 16),
    ("links", "n", 8),
    ("uid", "U", 8),
    ("gid", "G", 8),
    ("mode", "m", 8),
    ("depth", "d", 8),
    ("blocks", "b", 8),
    ("size", "s", 16),
    ("mtime", "T@", 24),
    ("ctime", "C@", 24),
)
FORMAT = "".join(f" %{width - 1}{letter}" for _, letter, width in _FIELDS) + r" %6y\n"
PATHS = r"%p\0"
_NUMBERS = sum(width for *_, width in _FIELDS)
_ROW = _NUMBERS + 8
_U = np.uint64
_STARTS = {name: sum(w for *_, w in _FIELDS[:i]) for i, (name, *_) in enumerate(_FIELDS)}
_DOTS = [
    _STARTS[name] // 8 + 1 for name in ("mtime", "ctime")
]  # find prints ten decimals: the word of the dot,
_DOT_IN_WORD = 5  # and its place in it
_SLOW = re.compile(rb" +(\d+)" * (len(_FIELDS) - 2) + rb" +(-?\d+\.\d{10})" * 2 + rb" +([a-zA-Z])")
_TYPES = {
    "device": np.uint64,
    "inode": np.uint64,
    "uid": np.uint32,
    "gid": np.uint32,
    "mode": np.uint16,
    "links": np.int32,
    "depth": np.int16,
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


class Reader:
    """Reads the numbers that find prints with FORMAT as they come, piece by piece, so that only columns are held."""

    def __init__(self) -> None:
        self._rest = b""
        self._parts: list[dict[str, NDArray[np.generic]]] = []

    def take(self, piece: bytes) -> None:
        """A piece of the output; what of it is no whole row waits for the next. Raises CouldNotRead."""
        whole = piece.rfind(b"\n") + 1
        if whole:
            self._parts.append(_read_whole(self._rest + piece[:whole]))
            self._rest = piece[whole:]
        else:
            self._rest += piece

    def rows(self, paths: bytes) -> Rows:
        """All rows, when the output has ended. `paths`: what find printed with PATHS. Raises CouldNotRead when either was cut off."""
        parts = self._parts or [_read_whole(b"")]
        columns = {name: np.concatenate([p[name] for p in parts]) for name in COLUMNS}
        if self._rest or paths.count(b"\0") != len(columns["type"]):
            raise CouldNotRead("the walk was cut off")
        return Rows(columns, paths)


def _read_whole(text: bytes) -> dict[str, NDArray[np.generic]]:
    """Columns of whole rows. Raises CouldNotRead where one cannot be read."""
    others: dict[int, bytes] = {}
    many = len(text) // _ROW
    if text[_ROW - 1 :: _ROW] != b"\n" * many or text.count(b"\n") != many or len(text) != many * _ROW:
        lines = text.split(b"\n")[:-1]
        others = {i: line for i, line in enumerate(lines) if len(line) != _ROW - 1}
        text = b"".join([bytes(_ROW) if i in others else line + b"\n" for i, line in enumerate(lines)])
    rows = np.frombuffer(text, dtype=np.uint8).reshape(-1, _ROW)
    plain, groups = _groups(rows[:, :_NUMBERS].copy().view("<u8").astype(np.uint64, copy=False))
    columns: dict[str, NDArray[np.generic]] = {name: _column(name, groups) for name, *_ in _FIELDS}
    columns["type"] = rows[:, -2].copy()
    for i in np.flatnonzero(~plain).tolist():
        _read_alone(others.get(i) or text[i * _ROW : (i + 1) * _ROW - 1], columns, i)
    return columns


def _groups(words: NDArray[np.uint64]) -> tuple[NDArray[np.bool_], NDArray[np.uint64]]:
    """Eight characters at once, as one 64-bit word each: (which rows are digits, spaces and dots at their places
    alone, the number each word stands for; `words` itself is used up). Neighbouring digits are joined three times: pairs, fours, eights."""
    dots = words[:, _DOTS] >> _U(8 * _DOT_IN_WORD) & _U(0xFF)
    plain = (dots == ord(".")).all(axis=1)
    digits = words
    digits &= _U(0x0F0F0F0F0F0F0F0F)
    digits[:, _DOTS] &= ~(_U(0xFF) << _U(8 * _DOT_IN_WORD))
    plain &= ~((digits + _U(0x7676767676767676)) & _U(0x8080808080808080)).any(axis=1)
    for factor, shift, mask in (
        (2561, 8, 0x00FF00FF00FF00FF),
        (6553601, 16, 0x0000FFFF0000FFFF),
        (42949672960001, 32, 0xFFFFFFFF),
    ):
        digits *= _U(factor)
        digits >>= _U(shift)
        digits &= _U(mask)
    return plain, digits


def _column(name: str, groups: NDArray[np.uint64]) -> NDArray[np.generic]:
    first = _STARTS[name] // 8
    if name in ("mtime", "ctime"):
        high, middle, low = (groups[:, first + i].astype(np.int64) for i in range(3))
        seconds = np.minimum(high * 100_000 + middle // 1000, LATEST)
        return np.asarray(seconds * 1_000_000_000 + ((middle % 100) * 100_000_000 + low) // 10)
    if name == "mode":
        return np.asarray(_OCTAL[groups[:, first] % 10_000])
    width = next(w for n, _, w in _FIELDS if n == name)
    total = groups[:, first]
    for i in range(1, width // 8):
        total = total * np.uint64(100_000_000) + groups[:, first + i]
    return total.astype(_TYPES.get(name, np.int64))


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
