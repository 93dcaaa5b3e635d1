"""Items of a person's keyrings that are an application's, by their attributes alone: secrets are encrypted and stay so.

The file (GNOME keyring file format, version 0) holds attribute names in the clear and their values as MD5 sums, so that a
known name can be recognised and nothing else can be learnt."""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

_SIGNATURE = b"GnomeKeyring\n\r\0\n"
# Attributes by which programs find their own items again.
_OF_APPLICATIONS = frozenset(
    {"application", "app", "app_id", "app-id", "appname", "program", "service", "xdg:schema"}
)
_MOST = 10_000  # items or attributes: more is no keyring


@dataclass(frozen=True, slots=True)
class Item:
    """`attributes`: (name, MD5 of its value in hexadecimal digits)."""

    id: int
    attributes: tuple[tuple[str, str], ...]


def read_items(data: bytes) -> list[Item]:
    """Items of a keyring, without any secret. Raises ValueError when it is no such file or cut off."""
    if not data.startswith(_SIGNATURE):
        raise ValueError("is no keyring of the format that is known")
    at = len(_SIGNATURE) + 4

    def number() -> int:
        nonlocal at
        if at + 4 > len(data):
            raise ValueError("is cut off")
        (value,) = struct.unpack_from(">I", data, at)
        at += 4
        return int(value)

    def text() -> str:
        nonlocal at
        length = number()
        if length == 0xFFFFFFFF:
            return ""
        if at + length > len(data):
            raise ValueError("is cut off")
        at += length
        return data[at - length : at].decode("utf-8", "replace")

    text()  # its name
    at += 8 + 8 + 4 + 4 + 4 + 8 + 16  # times, flags, lock, iterations, salt, reserved
    found = []
    for _ in range(_bounded(number())):
        id, _kind = number(), number()
        attributes = []
        for _ in range(_bounded(number())):
            name, kind = text(), number()
            if kind == 0:
                attributes.append((name, text()))
            else:
                number()
        found.append(Item(id, tuple(attributes)))
    return found


def _bounded(count: int) -> int:
    if count > _MOST:
        raise ValueError("names more items than a keyring has")
    return count


def items_of(items: Iterable[Item], names: Iterable[str]) -> Iterator[tuple[Item, str, str]]:
    """(item, attribute, name) for items whose attributes name one of `names`."""
    sums = {
        hashlib.md5(n.encode("utf-8", "surrogateescape"), usedforsecurity=False).hexdigest(): n
        for n in names
        if n
    }
    for item in items:
        hit = next(
            ((a, sums[v]) for a, v in item.attributes if a.lower() in _OF_APPLICATIONS and v in sums), None
        )
        if hit:
            yield item, *hit
