"""What a root's apt is told to keep, by its own configuration files (apt.conf(5)).

They are read here and by nobody else: apt's own tools obey them, and they can name programs to run. Four settings count, the
rest is passed over; files that one includes are not read."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

_PARTS, _MAIN = "/etc/apt/apt.conf.d", "/etc/apt/apt.conf"
_RECOMMENDS, _SUGGESTS, _NEVER = (
    "apt::autoremove::recommendsimportant",
    "apt::autoremove::suggestsimportant",
    "apt::neverautoremove",
)
_PART = re.compile(r"^[A-Za-z0-9_-]+(\.conf)?$")
_MOST = 1 << 20
_DEPTH = 64
_TOKEN = re.compile(
    r"""\s+ | //[^\n]* | /\*.*?(?:\*/|\Z) | \#(?!clear\b|include\b)[^\n]*
                        | "(?P<text>[^"\n]*)" | (?P<mark>[{};]) | (?P<word>(?:[^\s{};"/]|/(?![/*]))+) | (?P<other>.)""",
    re.X | re.S,
)


@dataclass(frozen=True, slots=True)
class Kept:
    """Whether recommended and suggested packages stay with whoever needs them, and patterns of what is never removed by itself."""

    recommends: bool = True
    suggests: bool = True
    never: tuple[str, ...] = ()


def read_settings(machine: Machine, problems: list[tuple[str, str]]) -> Kept:
    """The parts in the order of their names, then the main file; a later word counts. What could not be read is in `problems`."""
    paths = [f"{_PARTS}/{n}" for n in machine.names(_PARTS) if _PART.match(n)]
    said: dict[str, str] = {}
    never: list[str] = []
    for path in [*paths, _MAIN]:
        try:
            text = machine.read_text(path, default="", most=_MOST)
            for act, key, value in statements(text):
                if act == "clear" and (key == _NEVER or _NEVER.startswith(key + "::")):
                    never = []
                elif key.startswith(_NEVER) and value:
                    never.append(value)
                elif act == "set":
                    said[key] = value
        except CouldNotRead as error:
            problems.append((path, error.reason))
        except ValueError as error:
            problems.append((path, f"is not read as settings of apt: {error}"))

    def on(key: str) -> bool:
        return said.get(key, "").lower() not in ("false", "no", "0", "off", "without", "disable")

    return Kept(on(_RECOMMENDS), on(_SUGGESTS), tuple(never))


def statements(text: str) -> Iterator[tuple[str, str, str]]:
    """("set" | "clear", key in small letters, value) in their order. Raises ValueError where it is nested without end."""
    scopes: list[str] = []
    words: list[str] = []
    value: str | None = None

    def said() -> Iterator[tuple[str, str, str]]:
        if words and words[0].lower() == "#clear":
            for word in words[1:]:
                yield "clear", _inside(scopes, word), ""
        elif value is not None:
            yield "set", _inside(scopes, words[0] if words else ""), value
        elif len(words) == 2 and not words[0].startswith("#"):
            yield "set", _inside(scopes, words[0]), words[1]

    for match in _TOKEN.finditer(text):
        mark = match["mark"]
        if match["text"] is not None:
            value = match["text"]
        elif match["word"]:
            words.append(match["word"])
        elif mark == "{":
            if len(scopes) >= _DEPTH:
                raise ValueError(f"more than {_DEPTH} levels")
            scopes.append(_inside(scopes, words[0] if words else ""))
            words, value = [], None
        elif mark == ";":
            yield from said()
            words, value = [], None
        elif mark == "}":
            yield from said()
            words, value = [], None
            if scopes:
                scopes.pop()


def _inside(scopes: list[str], word: str) -> str:
    name = word.lower().removesuffix("::")
    return "::".join(x for x in (scopes[-1] if scopes else "", name) if x)
