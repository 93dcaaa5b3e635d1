"""Start-up lines of shells: aliases, sourced files, search paths, commands."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.operations import LineEdit
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.lines import split_lines
from swept_shelf.core.references.pointees import Pointees
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
_PATHS = re.compile(r"^\s*(?:export\s+)?(\w*PATH)=(.*)$")
_BLOCK = re.compile(r"(^|[;\s])(if|then|else|fi|do|done|case|esac|for|while|until|\{|\})($|[;\s])|\\$|<<")


def places(home: str | None) -> list[str]:
    if home:
        return [f"{home}/{name}" for name in _FILES]
    return ["/etc/profile.d", "/etc/profile", "/etc/bash.bashrc", "/etc/environment"]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    for number, line in enumerate(split_lines(text), 1):
        for id, detail in _pointed(line, to):
            yield Hit(id, FAMILY, "shell line", path, number, line, line, detail)


def _pointed(line: str, to: Pointees) -> Iterator[tuple[str, str]]:
    if line.lstrip().startswith("#"):
        return
    if match := _PATHS.match(line):
        for part in match[2].strip().strip("\"'").split(":"):
            if part.startswith("/") and (id := to.place(part)):
                yield id, f"{match[1]} leads into its folder"
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


def edits(text: str, to: Pointees) -> list[LineEdit]:
    """A line goes whole; of a search path only the parts that lead to what is gone. Lines of blocks stay."""
    made = []
    for number, line in enumerate(split_lines(text), 1):
        if not any(_pointed(line, to)):
            continue
        if match := _PATHS.match(line):
            value, quote = match[2].strip(), ""
            if value[:1] in ("'", '"') and value[-1:] == value[:1]:
                quote, value = value[0], value[1:-1]
            kept = [p for p in value.split(":") if not (p.startswith("/") and to.place(p))]
            left = f"{line[: match.start(2)]}{quote}{':'.join(kept)}{quote}"
            made.append(
                LineEdit(number, line, left if [p for p in kept if p.strip("$") != match[1]] else None)
            )
        elif not _BLOCK.search(line):
            made.append(LineEdit(number, line, None))
    return made
