"""Values as GVariant stores them (the GVariant serialisation format, little endian), written as a line of text and back.

The text is our own: what a value is made of, each part with where it stands in the line, so that one can be cut out."""

from __future__ import annotations

import json
import math
import struct
from collections.abc import Iterator
from dataclasses import dataclass, field

_FIXED = {
    "b": ("<?", 1),
    "y": ("<B", 1),
    "n": ("<h", 2),
    "q": ("<H", 2),
    "i": ("<i", 4),
    "u": ("<I", 4),
    "h": ("<i", 4),
    "x": ("<q", 8),
    "t": ("<Q", 8),
    "d": ("<d", 8),
}
_STRINGS = "sog"
_DEEPEST = 40
_JSON = json.JSONDecoder()


@dataclass(slots=True)
class Part:
    """A value of a `type`: `start` to `end` of the line; its members where it has some; else the plain `value`."""

    type: str
    value: object = None
    members: list[Part] = field(default_factory=list)
    start: int = 0
    end: int = 0

    def walk(self) -> Iterator[Part]:
        """This one and all that it holds, from the outside."""
        yield self
        for member in self.members:
            yield from member.walk()


def decoded(data: bytes) -> Part:
    """What a stored variant holds. Raises ValueError where it is none in its normal form."""
    found = _variant(memoryview(data), 0)
    if encoded(found) != data:
        raise ValueError("is no value in its normal form")
    return found


def encoded(value: Part) -> bytes:
    """A variant as it is stored."""
    return _bytes_of(value) + b"\0" + value.type.encode()


def written(value: Part) -> str:
    """A value as one line of text."""
    kind = value.type[0]
    inner = ", ".join(map(written, value.members))
    if kind == "a":
        return f"[{inner}]"
    if kind == "(":
        return f"({inner})"
    if kind == "{":
        return "{" + inner + "}"
    if kind == "m":
        return f"just {inner}" if value.members else "nothing"
    if kind == "v":
        return f"<{value.members[0].type} {inner}>"
    if kind == "d":
        assert isinstance(value.value, float)
        return value.value.hex()
    return json.dumps(value.value, ensure_ascii=False)


def read(type: str, text: str, at: int = 0) -> Part:
    """The value of a `type` that stands in a line from `at` to its end. Raises ValueError."""
    reader = _Reader(text, at)
    if _one(type, 0) != len(type):
        raise ValueError("has a type that is none")
    found = reader.value(type, 0)
    if reader.at != len(text):
        raise ValueError("says more than one value")
    return found


# -- types ------------------------------------------------------------------------------------------------------


def _one(types: str, at: int, depth: int = 0) -> int:
    """Where the first complete type of a string of types ends. Raises ValueError."""
    if at >= len(types) or depth > _DEEPEST:
        raise ValueError("has a type that is none")
    kind = types[at]
    if kind in _FIXED or kind in _STRINGS or kind == "v":
        return at + 1
    if kind in "am":
        return _one(types, at + 1, depth + 1)
    if kind in "({":
        close, at = (")" if kind == "(" else "}"), at + 1
        while at < len(types) and types[at] != close:
            at = _one(types, at, depth + 1)
        if at < len(types):
            return at + 1
    raise ValueError("has a type that is none")


def _inside(type: str) -> list[str]:
    """The types of a tuple's or a dictionary entry's members."""
    found, at = [], 1
    while at < len(type) - 1:
        end = _one(type, at)
        found.append(type[at:end])
        at = end
    return found


def _shape(type: str) -> tuple[int, int]:
    """(alignment, size where all values of it have the same, else 0) of a type, in bytes."""
    kind = type[0]
    if kind in _FIXED:
        size = _FIXED[kind][1]
        return size, size
    if kind in _STRINGS:
        return 1, 0
    if kind == "v":
        return 8, 0
    if kind in "am":
        return _shape(type[1:])[0], 0
    shapes = [_shape(t) for t in _inside(type)]
    if not shapes:
        return 1, 1
    align, at = max(a for a, _ in shapes), 0
    for alignment, size in shapes:
        if not size:
            return align, 0
        at = _up(at, alignment) + size
    return align, _up(at, align)


def _up(at: int, align: int) -> int:
    return -(-at // align) * align


# -- bytes to values --------------------------------------------------------------------------------------------


def _variant(data: memoryview, depth: int) -> Part:
    mark = bytes(data).rfind(b"\0")
    if mark < 0:
        raise ValueError("is no variant")
    type = bytes(data[mark + 1 :]).decode("ascii")
    if _one(type, 0) != len(type):
        raise ValueError("has a type that is none")
    return _value(type, data[:mark], depth + 1)


def _value(type: str, data: memoryview, depth: int) -> Part:
    if depth > _DEEPEST:
        raise ValueError("lies deeper than any value that programs write")
    kind = type[0]
    if kind in _FIXED:
        form, size = _FIXED[kind]
        if len(data) != size:
            raise ValueError("is cut off")
        return Part(type, struct.unpack(form, data)[0])
    if kind in _STRINGS:
        if not data or data[-1] or 0 in bytes(data[:-1]):
            raise ValueError("is no string")
        return Part(type, bytes(data[:-1]).decode("utf-8"))
    if kind == "v":
        return Part(type, members=[_variant(data, depth)])
    if kind == "m":
        if not data:
            return Part(type)
        fixed = _shape(type[1:])[1]
        return Part(type, members=[_value(type[1:], data if fixed else data[:-1], depth + 1)])
    if kind == "a":
        return Part(type, members=_of_array(type[1:], data, depth))
    return Part(type, members=_of_tuple(type, data, depth))


def _of_array(type: str, data: memoryview, depth: int) -> list[Part]:
    align, fixed = _shape(type)
    if not data:
        return []
    if fixed:
        return [_value(type, data[i : i + fixed], depth + 1) for i in range(0, len(data), fixed)]
    width = _width(len(data))
    last = _number(data, len(data) - width, width)
    count = (len(data) - last) // width
    found, at = [], 0
    for i in range(count):
        end = _number(data, last + i * width, width)
        at = _up(at, align)
        if not at <= end <= last:
            raise ValueError("has members that lie elsewhere")
        found.append(_value(type, data[at:end], depth + 1))
        at = end
    return found


def _of_tuple(type: str, data: memoryview, depth: int) -> list[Part]:
    found: list[Part] = []
    types, width = _inside(type), _width(len(data))
    offsets = sum(not _shape(t)[1] for t in types[:-1])
    end_of_data, at, seen = len(data) - offsets * width, 0, 0
    for number, inner in enumerate(types):
        align, size = _shape(inner)
        at = _up(at, align)
        if size:
            end = at + size
        elif number == len(types) - 1:
            end = end_of_data
        else:
            seen += 1
            end = _number(data, len(data) - seen * width, width)
        if not at <= end <= end_of_data:
            raise ValueError("has members that lie elsewhere")
        found.append(_value(inner, data[at:end], depth + 1))
        at = end
    return found


def _width(size: int) -> int:
    """How many bytes an offset has in a container of `size` bytes."""
    return next(w for w in (1, 2, 4, 8) if size < 1 << 8 * w)


def _number(data: memoryview, at: int, width: int) -> int:
    if at < 0:
        raise ValueError("is cut off")
    return int.from_bytes(data[at : at + width], "little")


# -- values to bytes --------------------------------------------------------------------------------------------


def _bytes_of(value: Part) -> bytes:
    kind = value.type[0]
    if kind in _FIXED:
        return struct.pack(_FIXED[kind][0], value.value)
    if kind in _STRINGS:
        return str(value.value).encode() + b"\0"
    if kind == "v":
        return encoded(value.members[0])
    if kind == "m":
        if not value.members:
            return b""
        return _bytes_of(value.members[0]) + (b"" if _shape(value.type[1:])[1] else b"\0")
    made, ends = bytearray(), []
    for member in value.members:
        made += bytes(_up(len(made), _shape(member.type)[0]) - len(made))
        made += _bytes_of(member)
        if not _shape(member.type)[1]:
            ends.append(len(made))
    if kind == "a":
        return bytes(made) + _offsets(ends, len(made))
    size = _shape(value.type)[1]
    if size:
        return bytes(made).ljust(size, b"\0")
    if value.members and not _shape(value.members[-1].type)[1]:
        ends.pop()
    return bytes(made) + _offsets(ends[::-1], len(made))


def _offsets(ends: list[int], size: int) -> bytes:
    width = next(w for w in (1, 2, 4, 8) if size + len(ends) * w < 1 << 8 * w)
    return b"".join(e.to_bytes(width, "little") for e in ends)


# -- text to values ---------------------------------------------------------------------------------------------


class _Reader:
    def __init__(self, text: str, at: int) -> None:
        self._text, self.at = text, at

    def value(self, type: str, depth: int) -> Part:
        if depth > _DEEPEST:
            raise ValueError("lies deeper than any value that programs write")
        found, kind = Part(type, start=self.at), type[0]
        if kind == "a":
            self._members(found, "[", "]", depth)
        elif kind == "(":
            self._members(found, "(", ")", depth)
        elif kind == "{":
            self._members(found, "{", "}", depth)
        elif kind == "m":
            if self._text.startswith("nothing", self.at):
                self.at += len("nothing")
            else:
                self._word("just ")
                found.members.append(self.value(type[1:], depth + 1))
        elif kind == "v":
            self._word("<")
            end = _one(self._text, self.at)
            inner, self.at = self._text[self.at : end], end
            self._word(" ")
            found.members.append(self.value(inner, depth + 1))
            self._word(">")
        else:
            found.value = self._plain(kind)
        found.end = self.at
        return found

    def _members(self, into: Part, opens: str, closes: str, depth: int) -> None:
        types = [] if into.type[0] == "a" else _inside(into.type)
        self._word(opens)
        while not self._text.startswith(closes, self.at):
            if into.members:
                self._word(", ")
            if into.type[0] != "a" and len(into.members) == len(types):
                raise ValueError("says more than its type")
            inner = types[len(into.members)] if types else into.type[1:]
            into.members.append(self.value(inner, depth + 1))
        self._word(closes)
        if into.type[0] != "a" and len(into.members) != len(types):
            raise ValueError("says less than its type")

    def _plain(self, kind: str) -> object:
        if kind == "d":
            end = self.at
            while end < len(self._text) and self._text[end] not in ",)]}>":
                end += 1
            number = float.fromhex(self._text[self.at : end])
            if math.isnan(number):
                raise ValueError("is no number")
            self.at = end
            return number
        value, self.at = _JSON.raw_decode(self._text, self.at)
        wanted = str if kind in _STRINGS else bool if kind == "b" else int
        if type(value) is not wanted:
            raise ValueError("is not of its type")
        return value

    def _word(self, word: str) -> None:
        if not self._text.startswith(word, self.at):
            raise ValueError("is no value as they are written here")
        self.at += len(word)
