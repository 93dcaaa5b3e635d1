"""Scripts of shell: what they start, command by command, and which command can be taken out alone."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.shell_lines import Command, commands
from swept_shelf.core.grammars.shell_words import programs_of, words_of
from swept_shelf.core.references.kind import By, Entry, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_PATHS = re.compile(
    r"""^(\s*(?:(?:export|typeset|declare|set\s+-gx)\s+(?:-\w+\s+)*)?(\w*PATH)=)("[^"]*"|'[^']*'|[^\s;&|"'()<>]*)(.*)$""",
    re.S,
)
_FISH_PATHS = re.compile(
    r"^(\s*(?:set\s+(?:-\w+\s+)*(\w*PATH|fish_user_paths)|fish_add_path(?:\s+-\w+)*)\s+)(.*)$"
)
_ONLY = re.compile(
    r"^\s*(;\s*)?(export\s+\w+)?\s*;?\s*(#.*)?$"
)  # what may stand behind a path that goes whole
_SETS = re.compile(
    r"""^\s*(?:(?:(?:export|typeset|declare)\s+(?:-\w+\s+)*)?(\w+)=|(?:set\s+(?:-\w+\s+)+|setenv\s+)(\w+)\s+)"""
    r"""(?:"([^"]*)"|'([^']*)'|([^"';]*))\s*(?:;\s*export\s+\w+)?\s*$"""
)
_EXPORTED = re.compile(r"^\s*(\w+)=[^;]*;\s*export\s+\1\s*$")
_SEVERAL = re.compile(r"[;|&]")  # what holds more than one command
_FUNCTION = re.compile(r"^\s*(?:function\s+)?([\w.+-]+)\s*(?:\(\s*\))?\s*\{\s(.*?);?\s*\}\s*$")
_ENDS = re.compile(r"^\s*(?:exit|return)\b(?:\s+\d+)?\s*;?\s*(?:#.*)?$")
SOMEBODYS = "somebody's script starts it"
_IF, _OTHERWISE = re.compile(r"^\s*if\s"), re.compile(r"(?:^|[;\s])(?:else|elif)\b")
_OPENS, _CLOSES = re.compile(r"(?:^|[;\s])if\s"), re.compile(r"(?:^|[;\s])fi(?=$|[;\s)])")
_LONGEST_BLOCK = 60  # lines
_LONGEST_FUNCTION = 4096  # characters of one that stands on a line
_QUIET = frozenset({"set", "cd", "true", ":", "exit", "return", "umask", "export", "unset", "test", "["})
_EDITORS = re.compile(
    r"^(?:EDITOR|VISUAL|LESSOPEN|LESSCLOSE|\w+_ASKPASS|GIT_SSH|\w+_SHELL|BROWSER|PAGER|TERMINAL|SUDO_EDITOR|GIT_EDITOR|MANPAGER|MAILER|SHELL|\w+_(?:EDITOR|PAGER|BROWSER|COMMAND))$"
)


def start_up_entries(text: str, detail: str = "starts it with every shell") -> Iterator[Entry]:
    """Of a search path the parts that lead to it; of a line of several commands those that start it; else the line. Lines that
    are a part of a block are found and not cut. What stands behind a plain `exit` is never reached."""
    reached = True
    lines = list(commands(text))
    yield from _blocks(lines)
    for command in lines:
        for entry in _of_command(command, text, detail):
            yield (
                entry if reached else replace(entry, detail=f"{entry.detail}, behind an exit", enabled=False)
            )
        if command.alone and _ENDS.match(command.text):
            reached = False


def script_entries(text: str, detail: str) -> Iterator[Entry]:
    """Every command of somebody's script that does something: whether it is a script for one program alone can be told."""
    reached = True
    for command in commands(text):
        if _ENDS.match(command.text):
            reached = reached and not command.alone
            continue
        named = of_words(command.text)
        if not named and all(base("/" + p) in _QUIET for p in programs_of(command.text)):
            continue
        line = _shown(command)
        targets = tuple(dict.fromkeys((*of_shell(command.text), *named)))
        end = command.end if command.alone else 0
        yield Entry(
            command.number, line, line, targets, detail, command.start, end, enabled=reached, ask=True
        )


def _blocks(lines: list[Command]) -> Iterator[Entry]:
    """What is done only where a condition holds that asks for it: the block goes with it, where it has no other branch."""
    for i, first in enumerate(lines):
        if not _IF.match(first.text):
            continue
        depth = 0
        for last in lines[i : i + _LONGEST_BLOCK]:
            depth += len(_OPENS.findall(last.text)) - len(_CLOSES.findall(last.text))
            if _OTHERWISE.search(last.text):
                break
            if depth <= 0:
                condition = re.split(r"[;\s]then\b", _IF.sub("", first.text))[0]
                targets = (*of_shell(condition), *of_words(condition))
                line = _shown(first)
                yield Entry(
                    first.number, line, line, targets, "is done only where it is there", first.start, last.end
                )
                break


def _of_command(command: Command, text: str, detail: str) -> Iterator[Entry]:
    if match := _PATHS.match(command.text):
        yield from _of_path(command, match, text)
        if not match[4].strip(" \t;&"):
            return
        rest = match[4].lstrip(" \t;&")
        yield from _of_line(command, rest, text, detail)
        return
    if match := _FISH_PATHS.match(command.text):
        yield from _of_fish_path(command, match)
        return
    yield from _of_line(command, command.text, text, detail)


def _shown(command: Command) -> str:
    return command.text.split("\n")[0]


def _of_path(command: Command, match: re.Match[str], text: str) -> Iterator[Entry]:
    several = "\n" in text[command.start : command.end].removesuffix("\n")
    parts = match[3].strip("\"'").split(":")
    at = command.start + match.start(3) + (match[3][:1] in ("'", '"'))
    first, last = at, at + len(":".join(parts))
    itself = {f"${match[2]}", f"${{{match[2]}}}"}
    others = sum(p not in itself for p in parts)
    may_go = command.alone and _ONLY.match(match[4]) is not None
    for part in parts:
        if part not in itself and part:
            whole = (command.start, command.end) if may_go else (first, last)
            yield Entry(
                command.number,
                _shown(command),
                _shown(command),
                one(By.PATH, part),
                f"{match[2]} leads into its folder",
                at,
                at if several else at + len(part),
                whole,
                others if may_go else len(parts) + 1,
                ":",
            )
        at += len(part) + 1


def _of_fish_path(command: Command, match: re.Match[str]) -> Iterator[Entry]:
    name = match[2] or "fish_user_paths"
    parts = [p for p in match[3].split(" ") if p]
    others = sum(not p.startswith("$") for p in parts)
    at = command.start + match.start(3)
    for part in match[3].split(" "):
        if part and not part.startswith("$"):
            yield Entry(
                command.number,
                _shown(command),
                _shown(command),
                one(By.PATH, part.strip("\"'")),
                f"{name} leads into its folder",
                at,
                at + len(part) if command.alone else at,
                (command.start, command.end),
                others,
                " ",
            )
        at += len(part) + 1


def _of_line(command: Command, line: str, text: str, detail: str) -> Iterator[Entry]:
    """Commands that stand in a row are taken one by one; a line that several tests and pipes hold together goes whole."""
    shown = _shown(command)
    short = line is command.text and len(line) <= _LONGEST_FUNCTION
    if short and (function := _FUNCTION.match(line)):
        targets = of_shell(function[2])
        yield Entry(
            command.number,
            shown,
            shown,
            targets,
            f"the function {function[1]} starts it",
            command.start,
            command.start if _SEVERAL.search(function[2]) else command.end,
        )
        return
    one_line = "\n" not in text[command.start : command.end].removesuffix("\n")
    if not one_line or line is not command.text:
        for targets, said in _pointed(line, detail):
            end = command.end if command.alone and line is command.text else command.start
            yield Entry(command.number, shown, shown, targets, said, command.start, end)
        return
    pieces = [line] if _EXPORTED.match(line) else line.split(";")
    if any(p.count('"') % 2 or p.count("'") % 2 or p.count("(") != p.count(")") for p in pieces):
        pieces = [line]
    at = command.start
    filled = sum(bool(p.strip()) for p in pieces)
    for piece in pieces:
        for targets, said in _pointed(piece, detail):
            end = at + len(piece) if command.alone else at
            yield Entry(
                command.number,
                shown,
                shown,
                targets,
                said,
                at,
                end,
                (command.start, command.end),
                filled,
                ";",
            )
        at += len(piece) + 1


def _pointed(line: str, detail: str) -> Iterator[tuple[tuple[Target, ...], str]]:
    words = words_of(line)
    if words[:1] in (["alias"], ["abbr"]):
        yield from _alias(words)
        return
    if words[:1] in (["source"], ["."]) and len(words) > 1:
        yield (*one(By.PATH, words[1]), *of_shell(line)), "reads one of its files, or what it says"
        return
    if words[:1] == ["trap"] and len(words) > 2:
        yield of_shell(words[1]), detail
        return
    if words[:1] in (["bind"], ["bindkey"]) and len(words) > 2:
        yield of_shell(re.sub(r"(?:\\n|\^M)$", "", words[-1])), "a key starts it"
        return
    if words[:1] == ["complete"]:
        yield (
            tuple(Target(By.COMMAND, w) for w in words[1:] if not w.startswith("-")),
            "completes its command",
        )
        return
    if match := _SETS.match(line):
        name, value = match[1] or match[2], match[3] or match[4] or match[5] or ""
        if _EDITORS.match(name):
            yield of_shell(value.lstrip("|- ")), f"{name} is set to it"
        elif "$(" in value or "`" in value:
            yield of_shell(value), detail
        else:
            yield of_words(value), f"{name} leads to it"
        return
    if targets := of_shell(line):
        yield targets, detail
    if words[:1] in (["["], ["test"], ["eval"], ["[["]) and (named := of_words(line)):
        yield named, "asks for it"


def _alias(words: list[str]) -> Iterator[tuple[tuple[Target, ...], str]]:
    rest = [w for w in words[1:] if not w.startswith("-")]
    if rest and "=" not in rest[0] and len(rest) > 1:  # fish: alias NAME COMMAND
        yield of_shell(" ".join(rest[1:])), f"the alias {rest[0]} starts it"
        return
    for word in rest:
        name, sign, command = word.partition("=")
        if sign and (targets := of_shell(command)):
            yield targets[:1], f"the alias {name} starts it"
