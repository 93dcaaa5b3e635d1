"""Keys of a daemon: a line with the key, an indented one with the command."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, lines_of
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_shell


def _parse(path: str, text: str) -> Iterator[Entry]:
    if path.endswith("/.xbindkeysrc"):
        yield from _quoted(text)
        return
    key: Line | None = None
    for line in lines_of(text):
        bare = line.text.strip()
        if not bare or bare.startswith("#"):
            continue
        if not line.text[0].isspace():
            key = line
        elif key is not None:
            yield Entry(
                line.number,
                line.text,
                bare,
                of_shell(bare.lstrip("; ")),
                f"the keys {key.text.strip()} start it",
                key.start,
                line.end,
            )
            key = None


def _quoted(text: str) -> Iterator[Entry]:
    """The command in quotes first, its keys on the lines below."""
    begun: Line | None = None
    for line in lines_of(text):
        bare = line.text.strip()
        if bare.startswith('"') and bare.endswith('"') and len(bare) > 2:
            begun = line
        elif begun and bare and not bare.startswith("#"):
            command = begun.text.strip().strip('"')
            detail = f"the keys {bare} start it"
            yield Entry(begun.number, command, command, of_shell(command), detail, begun.start, line.end)
            begun = None


KIND = Kind(
    "hot key",
    "other_programs",
    ("key that starts it", "keys that start it"),
    (Place("~config/sxhkd/sxhkdrc"), Place("~/.xbindkeysrc")),
    _parse,
)
