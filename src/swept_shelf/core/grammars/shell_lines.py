"""The lines of a shell script that are read as commands: continued lines together, without here-documents, comments and the
insides of quotes that span lines (POSIX 2.2, 2.7.4)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

_HERE = re.compile(r"(?<!<)<<(-?)\s*(?:'([^'\n]+)'|\"([^\"\n]+)\"|\\?([\w.+-]+))")
_BLOCK = re.compile(
    r"(^|[;\s(&|])(if|then|else|elif|fi|do|done|case|esac|for|while|until|select|function|\{|\})($|[;\s)])|\(\)\s*$|;;"
)
# What means anything outside quotes, and inside each kind of them.
_TELLING = {"": re.compile(r"""['"`\\#<\n]""")} | {
    quote: re.compile(rf"[{quote}\\\n]" if quote != "'" else r"['\n]") for quote in "'\"`"
}


@dataclass(frozen=True, slots=True)
class Command:
    """One line as the shell reads it: `text` with continued lines joined, `start` to `end` in the file, its line feed included.

    `alone`: it holds no word that opens, parts or closes a block, no here-document, and is no part of one."""

    number: int
    text: str
    start: int
    end: int
    alone: bool


def commands(text: str) -> Iterator[Command]:
    """Every line that holds commands. A quote that never closes hides the rest, as it does for the shell."""
    number, at = 1, 0
    while at < len(text):
        end, plain, heres = _logical(text, at)
        body = text[at:end].removesuffix("\n")
        joined = body.replace("\\\n", " ") if plain else body
        after = end
        for dash, word in heres:
            after = _after_here(text, after, dash, word)
        if joined.strip() and not joined.lstrip().startswith("#"):
            yield Command(number, joined, at, end, plain and not heres and not _BLOCK.search(joined))
        number += text.count("\n", at, after)
        at = after


def _logical(text: str, at: int) -> tuple[int, bool, list[tuple[bool, str]]]:
    """End of the logical line at `at`, whether all its quotes close on one line each, and the here-documents it announces."""
    quote, plain, start = "", True, at
    heres: list[tuple[bool, str]] = []
    while match := _TELLING[quote].search(text, at):
        at = match.start()
        char = text[at]
        if quote == "'":
            quote = "" if char == "'" else quote
            plain &= char != "\n"
        elif char == "\\":
            at += 1
        elif quote:
            quote = "" if char == quote else quote
            plain &= char != "\n"
        elif char in "'\"`":
            quote = char
        elif char == "#" and (at == start or text[at - 1] in " \t;&|("):
            end = text.find("\n", at)
            return (len(text) if end < 0 else end + 1), plain, heres
        elif char == "<" and (here := _HERE.match(text, at)):
            heres.append((bool(here[1]), here[2] or here[3] or here[4]))
            at = here.end() - 1
        elif char == "\n":
            return at + 1, plain, heres
        at += 1
    return len(text), plain and not quote, heres


def _after_here(text: str, at: int, dash: bool, word: str) -> int:
    while at < len(text):
        end = text.find("\n", at)
        end = len(text) if end < 0 else end + 1
        line = text[at:end].removesuffix("\n")
        at = end
        if (line.lstrip("\t") if dash else line) == word:
            break
    return at
