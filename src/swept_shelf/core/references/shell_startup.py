"""Start-up lines of shells: aliases, sourced files, search paths, commands."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.references.cutting import whole_line
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.references.shell_lines import Command, commands
from swept_shelf.core.references.shell_words import programs_of, words_of

FAMILY = "shell"
_FILES = (
    ".bashrc",
    ".bash_profile",
    ".bash_login",
    ".bash_aliases",
    ".bash_logout",
    ".profile",
    ".zshrc",
    ".zprofile",
    ".zshenv",
    ".zlogin",
    ".xprofile",
    ".xsessionrc",
)
_PATHS = re.compile(
    r"""^(\s*(?:(?:export|typeset|declare)\s+(?:-\w+\s+)*)?(\w*PATH)=)("[^"]*"|'[^']*'|[^\s;&|"'()<>]*)(.*)$""",
    re.S,
)
_ONLY = re.compile(
    r"^\s*(;\s*)?(export\s+\w+)?\s*;?\s*(#.*)?$"
)  # what may stand behind a search path that goes whole


def places(home: str | None) -> list[str]:
    if home:
        return [f"{home}/{name}" for name in _FILES]
    return ["/etc/profile.d", "/etc/profile", "/etc/bash.bashrc", "/etc/environment"]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    for command in commands(text):
        for id, detail in _pointed(command.text, to):
            line = command.text.split("\n")[0]
            yield Hit(id, FAMILY, "shell line", path, command.number, line, line, detail)


def _pointed(line: str, to: Pointees) -> Iterator[tuple[str, str]]:
    if match := _PATHS.match(line):
        for part in _parts(match[3]):
            if part.startswith("/") and (id := to.place(part)):
                yield id, f"{match[2]} leads into its folder"
        if not (line := match[4].lstrip(" \t;&")):
            return
    words = words_of(line)
    if words[:1] == ["alias"]:
        for word in words[1:]:
            name, sign, command = word.partition("=")
            if sign and (id := next((i for p in programs_of(command) if (i := to.program(p))), "")):
                yield id, f"the alias {name} starts it"
        return
    if words[:1] in (["source"], ["."]) and len(words) > 1 and (id := to.place(words[1])):
        yield id, "reads one of its files"
        return
    for id in dict.fromkeys(i for p in programs_of(line) if (i := to.program(p))):
        yield id, "starts it with every shell"


def _parts(value: str) -> list[str]:
    return value.strip("\"'").split(":")


def cuts(path: str, text: str, to: Pointees) -> list[tuple[str, Cut]]:
    """Of a search path the parts that lead to what is gone; of a line of several commands those that start it; else the line.

    Lines that are a part of a block, or hold more than can be told apart, give nothing."""
    made: list[tuple[str, Cut]] = []
    for command in commands(text):
        if not any(_pointed(command.text, to)):
            continue
        key = command.text.split("\n")[0]
        if match := _PATHS.match(command.text):
            if "\n" in text[command.start : command.end].removesuffix("\n"):
                continue
            made += [(key, c) for c in _of_path(command, match, to)]
        elif command.alone:
            made += [(key, c) for c in _of_line(command, text, to)]
    return made


def _of_path(command: Command, match: re.Match[str], to: Pointees) -> Iterator[Cut]:
    parts = _parts(match[3])
    at = command.start + match.start(3) + (match[3][:1] in ("'", '"'))
    first, last = at, at + len(":".join(parts))
    itself = {f"${match[2]}", f"${{{match[2]}}}"}
    others = sum(p not in itself for p in parts)
    may_go = command.alone and _ONLY.match(match[4]) is not None
    for part in parts:
        if part.startswith("/") and to.place(part):
            whole = (command.start, command.end) if may_go else (first, last)
            yield Cut(command.number, at, at + len(part), *whole, others if may_go else len(parts) + 1, ":")
        at += len(part) + 1


def _of_line(command: Command, text: str, to: Pointees) -> Iterator[Cut]:
    """Commands that stand in a row are taken one by one; a line that several tests and pipes hold together goes whole."""
    if "\n" in text[command.start : command.end].removesuffix("\n"):
        yield whole_line(command.number, command.start, command.end)
        return
    pieces = command.text.split(";")
    if any(p.count('"') % 2 or p.count("'") % 2 or p.count("(") != p.count(")") for p in pieces):
        pieces = [command.text]
    at = command.start
    filled = sum(bool(p.strip()) for p in pieces)
    for piece in pieces:
        if any(_pointed(piece, to)):
            yield Cut(command.number, at, at + len(piece), command.start, command.end, filled, ";")
        at += len(piece) + 1
