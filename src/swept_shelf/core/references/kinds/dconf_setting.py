"""Settings in a dconf database that name it: a member of a list, a command, or an object that a list names, taken out whole."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from swept_shelf.core.grammars import gvariant
from swept_shelf.core.grammars.gvdb import Setting, data_of, settings, text_of
from swept_shelf.core.references.kind import By, Codec, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_exec, one

_STRING = re.compile(r"[^\0-\x1f]{3,}")
_COMMAND = re.compile(r"(?:command|exec|terminal|browser|editor)$")
_ADDRESS = re.compile(r"[a-z]+://+")
_DETAIL = "a setting names it"


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is no such database."""
    rows = list(settings(text))
    for row in rows:
        if row.type in "@#":
            yield from _unread(row)
            continue
        value = gvariant.read(row.type, text[: row.end].removesuffix("\n"), row.at)
        if value.type == "s":
            if targets := _targets(row.key, str(value.value)) + _by_name(row.key):
                yield from _whole(rows, row, targets, text)
        elif targets := _by_name(row.key):
            yield from _whole(rows, row, targets, text)
        else:
            yield from _members(row, value)


def _members(row: Setting, value: gvariant.Part) -> Iterator[Entry]:
    """Members of lists, however deep, that are called like it; what names it elsewhere is shown."""
    strings = [p for p in value.walk() if p.type == "s"]
    for part in value.walk():
        for member in part.members if part.type[0] == "a" else ():
            kind = member.type[0]
            names = [member] if kind == "s" else member.members[:1] if kind == "{" else member.members
            if kind not in "s{(":
                continue
            for name in names:
                if name.type == "s" and (found := _named(row, str(name.value))):
                    strings.remove(name)
                    span = (part.start + 1, part.end - 1)
                    yield replace(
                        found,
                        start=member.start,
                        end=member.end,
                        whole=span,
                        pieces=len(part.members),
                        separator=", ",
                    )
    for name in strings:
        if found := _named(row, str(name.value)):
            yield found


def _named(row: Setting, word: str) -> Entry | None:
    if targets := _targets(row.key, word):
        return Entry(row.number, f"{row.key} {word}", f"{row.key}: {word}"[:200], targets, _DETAIL)
    return None


def _whole(rows: Sequence[Setting], row: Setting, targets: tuple[Target, ...], text: str) -> Iterator[Entry]:
    """The setting goes; where a list above it names the object that it is part of, all of the object and its name in the list."""
    shown = f"{row.key}: {row.value}"[:200]
    folder = row.key[: row.key.rfind("/") + 1]
    named = (
        [e for r in rows if r.type == "as" for e in _naming(r, folder, text)] if folder.count("/") > 2 else []
    )
    mine = [r for r in rows if r.key.startswith(folder)] if named else [row]
    spans = [(mine[0].start, mine[-1].end, None, 1, ""), *named]
    for start, end, whole, pieces, separator in spans:
        yield Entry(row.number, row.key, shown, targets, _DETAIL, start, end, whole, pieces, separator)


def _naming(
    row: Setting, folder: str, text: str
) -> Iterator[tuple[int, int, tuple[int, int] | None, int, str]]:
    """The members of a list of objects that mean the folder: by its path, or by its name in a list that stands above it."""
    name = folder[:-1].rpartition("/")[2]
    above = folder.startswith(row.key[: row.key.rfind("/") + 1]) and not row.key.startswith(folder)
    if folder not in row.value and not (above and name in row.value):
        return
    value = gvariant.read(row.type, text[: row.end].removesuffix("\n"), row.at)
    for member in value.members:
        if member.value == folder or (above and member.value == name):
            yield member.start, member.end, (value.start + 1, value.end - 1), len(value.members), ", "


def _unread(row: Setting) -> Iterator[Entry]:
    """What is stored in no form that is known is searched for names, and shown."""
    if row.type != "#":
        return
    said = _STRING.findall(bytes.fromhex(row.value).decode("utf-8", "replace"))
    targets = [t for word in said for t in _targets(row.key, word)]
    targets += _by_name(row.key)
    if targets:
        yield Entry(row.number, row.key, f"{row.key}: {', '.join(said)}"[:200], tuple(targets), _DETAIL)


def _targets(key: str, word: str) -> tuple[Target, ...]:
    if word.endswith(".desktop"):
        return tuple(one(By.LAUNCHER, _ADDRESS.sub("", word).rpartition("/")[2]))
    return tuple(of_exec(word)) if _COMMAND.search(key) else ()


def _by_name(key: str) -> tuple[Target, ...]:
    return tuple(t for part in key.split("/") if part.endswith(".desktop") for t in one(By.LAUNCHER, part))


def _why_broken(_path: str, _before: str, after: str) -> str:
    try:
        data_of(after)
    except ValueError as error:
        return f"would be no database of settings any more: {error}"
    return ""


KIND = Kind(
    "dconf",
    "launchers",
    ("setting in dconf", "settings in dconf"),
    (Place("~config/dconf/user"), Place("/etc/dconf/db/*")),
    _parse,
    why_broken=_why_broken,
    strict=True,
    codec=Codec(text_of, data_of),
    held_by="dconf-service",
)
