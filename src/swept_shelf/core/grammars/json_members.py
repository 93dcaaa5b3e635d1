"""Members of JSON objects and elements of its arrays (RFC 8259) with where they stand, so that one can be cut out."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

_DECODER = json.JSONDecoder()
_SPACE = re.compile(r"[ \t\r\n]*")
_STRING = r'"(?:[^"\\\n]|\\.)*+"?'  # also one that its line does not close
_COMMENT = re.compile(rf"{_STRING}|//[^\n]*+|/\*")
_LAST_COMMA = re.compile(rf"{_STRING}|,(?=[ \t\r\n]*+[}}\]])")


@dataclass(frozen=True, slots=True)
class Member:
    """`key` is "" for an element of an array. `start` to `end`: all between the commas or brackets around it, so that a list of
    them is whole again when one goes with a comma beside it."""

    key: str
    value: Any
    start: int
    end: int
    line: int


def members(text: str, *keys: str) -> list[Member]:
    """Of the object or array that stands below these keys; none where nothing such does. Raises ValueError for what is no JSON."""
    try:
        _DECODER.decode(text)
        at = _SPACE.match(text, 0).end()  # type: ignore[union-attr]
        for key in keys:
            inner = next((m for m in _inside(text, at) if m.key == key), None)
            if inner is None:
                return []
            at = _value_of(text, inner)
        return list(_inside(text, at))
    except RecursionError:
        raise ValueError("lies deeper than any that people write") from None


def nested(text: str) -> Iterator[tuple[tuple[str, ...], list[Member]]]:
    """Every object and array with its members, from the outside, and the keys that lead to it; comments may stand between them,
    and those before a member are none of it. Raises ValueError for no JSON."""
    plain = without_comments(text)
    for way, together in _nested(plain):
        yield way, together if plain == text else [_without_what_is_before(plain, m) for m in together]


def _without_what_is_before(text: str, member: Member) -> Member:
    return replace(member, start=_skip(text, member.start))


def _nested(text: str) -> Iterator[tuple[tuple[str, ...], list[Member]]]:
    try:
        _DECODER.decode(text)
        waiting: list[tuple[tuple[str, ...], int]] = [((), _skip(text, 0))]
        while waiting:
            way, at = waiting.pop()
            together = list(_inside(text, at))
            if together:
                yield way, together
            for member in together:
                if isinstance(member.value, dict | list):
                    inner = _value_of(text, member) if text[at] == "{" else _skip(text, member.start)
                    waiting.append(((*way, member.key) if text[at] == "{" else way, inner))
    except RecursionError:
        raise ValueError("lies deeper than any that people write") from None


def without_comments(text: str) -> str:
    """`text` with blanks in the place of comments and of commas behind the last of a list, as editors' settings have them; what
    is JSON stays as it is."""
    try:
        _DECODER.decode(text)
    except (ValueError, RecursionError):
        return _LAST_COMMA.sub(_blank, _comments_blank(text))
    return text


def _comments_blank(text: str) -> str:
    made, at = [], 0
    while match := _COMMENT.search(text, at):
        made.append(text[at : match.start()])
        at = match.end()
        if match[0] == "/*":
            at = text.find("*/", at) + 2
            if at == 1:  # never closed
                return "".join((*made, text[match.start() :]))
            made.append(re.sub(r"[^\r\n]", " ", text[match.start() : at]))
        else:
            made.append(_blank(match))
    return "".join((*made, text[at:]))


def _blank(found: re.Match[str]) -> str:
    return found[0] if found[0].startswith('"') else re.sub(r"[^\r\n]", " ", found[0])


def why_no_json(_path: str, _before: str, after: str) -> str:
    try:
        json.loads(without_comments(after))
    except (ValueError, RecursionError) as error:
        return f"would not be JSON any more: {str(error)[:80]}"
    return ""


def _skip(text: str, at: int) -> int:
    return _SPACE.match(text, at).end()  # type: ignore[union-attr]


def _value_of(text: str, member: Member) -> int:
    _, at = _DECODER.raw_decode(text, _skip(text, member.start))
    return _skip(text, _skip(text, at) + 1)


def _inside(text: str, at: int) -> Iterator[Member]:
    if text[at : at + 1] not in ("{", "["):
        return
    named, start, line = text[at] == "{", at + 1, text.count("\n", 0, at + 1) + 1
    while True:
        here = _skip(text, start)
        if text[here] in "}]":
            return
        line += text.count("\n", start, here)
        key, where = "", here
        if named:
            key, where = _DECODER.raw_decode(text, here)
            where = _skip(text, _skip(text, where) + 1)
        value, end = _DECODER.raw_decode(text, where)
        end = _skip(text, end)
        yield Member(key, value, start, end, line)
        if text[end] in "}]":
            return
        line += text.count("\n", here, end)
        start = end + 1
