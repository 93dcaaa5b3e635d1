"""Rows of the registry's own tables, taken and given back by the root's own tools and never by writing the tables: choices of
update-alternatives(1), diversions of dpkg-divert(1), owners and modes of dpkg-statoverride(1).

A row is a list of texts: of an alternative its name, link, path and priority, then name, link and path of each slave; of a
diversion what is put aside, where to and the package (":" for a person's own); of an override user, group, mode and path."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import get_args

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import Table
from swept_shelf.core.documents.paths import base, is_clean, join
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.diversions import FILE as DIVERSIONS
from swept_shelf.core.registries.debian.diversions import read_diversions

ALTERNATIVES, OVERRIDES = "/var/lib/dpkg/alternatives", "/var/lib/dpkg/statoverride"
CHOSEN = "/etc/alternatives"
TABLES = get_args(Table)
Row = list[str]
_NAME = re.compile(r"[A-Za-z0-9_.][\w.+-]*")
_ACCOUNT = re.compile(r"#?[A-Za-z0-9_][\w.-]*\$?")


@dataclass(frozen=True, slots=True)
class Choice:
    """`line`: where it stands; `paths`: one for each slave, "" for none."""

    line: int
    priority: str
    paths: list[str]


@dataclass(frozen=True, slots=True)
class Alternative:
    """A file of ALTERNATIVES: the links, of the group and of its slaves by name, and the choices by path."""

    link: str
    slaves: dict[str, str]
    choices: dict[str, Choice]


def read_alternative(text: str) -> Alternative:
    """Raises ValueError for what is no such file."""
    lines = enumerate(text.split("\n"), 1)

    def following() -> tuple[int, str]:
        return next(lines, (0, ""))

    status, link = following()[1], following()[1]
    if status not in ("auto", "manual"):
        raise ValueError("says neither auto nor manual in its first line")
    slaves: dict[str, str] = {}
    while name := following()[1]:
        slaves[name] = following()[1]
    choices: dict[str, Choice] = {}
    while (path := following())[1]:
        choices[path[1]] = Choice(path[0], following()[1], [following()[1] for _ in slaves])
    return Alternative(link, slaves, choices)


def read_row(machine: Machine, table: str, key: str) -> Row | None:
    """The row of a table for `key`: "NAME PATH" of an alternative, the path of what is put aside or overridden; None where there
    is none. Raises CouldNotRead for a table, or a row, that its tool could not have written."""
    row = _row(machine, table, key)
    if row is not None and not _is_sound(table, row):
        raise CouldNotRead(
            "has a row that its registry’s own tool could not have written", file_of(table, key)
        )
    return row


def file_of(table: str, key: str) -> str:
    """The file that a row stands in."""
    if table == "alternatives":
        return join(ALTERNATIVES, key.partition(" ")[0])
    return DIVERSIONS if table == "diversions" else OVERRIDES


def key_of(table: str, row: Row) -> str:
    return f"{row[0]} {row[2]}" if table == "alternatives" else row[3] if table == "overrides" else row[0]


def _row(machine: Machine, table: str, key: str) -> Row | None:
    text = machine.read_text(file_of(table, key), default="")
    if table == "overrides":
        rows = (line.split(None, 3) for line in text.splitlines())
        row = next((r for r in rows if len(r) == 4 and r[3] == key), None)
        return row and [*row[:2], row[2].lstrip("0") or "0", row[3]]  # as its tool writes a mode
    if table == "diversions":
        return next(([a, b, c] for _, a, b, c in read_diversions(text) if a == key), None)
    name, _, path = key.partition(" ")
    if not text:
        return None
    try:
        group = read_alternative(text)
    except ValueError as error:
        raise CouldNotRead(str(error), file_of(table, key)) from None
    if path not in group.choices:
        return None
    choice = group.choices[path]
    slaves = [(n, link, p) for (n, link), p in zip(group.slaves.items(), choice.paths, strict=True) if p]
    return [name, group.link, path, choice.priority, *(t for slave in slaves for t in slave)]


def _is_sound(table: str, row: Row) -> bool:
    if table == "alternatives":
        name, link, path, priority, *rest = row
        slaves = [rest[i : i + 3] for i in range(0, len(rest), 3)]
        return (
            bool(_NAME.fullmatch(name) and re.fullmatch(r"-?\d{1,9}", priority))
            and all(
                len(s) == 3 and _NAME.fullmatch(s[0]) and is_clean(s[1]) and is_clean(s[2]) for s in slaves
            )
            and is_clean(link)
            and is_clean(path)
        )
    if table == "diversions":
        return is_clean(row[0]) and is_clean(row[1]) and bool(row[2] == ":" or _NAME.fullmatch(row[2]))
    return bool(
        _ACCOUNT.fullmatch(row[0])
        and _ACCOUNT.fullmatch(row[1])
        and re.fullmatch(r"[0-7]{1,5}", row[2])
        and is_clean(row[3])
    )


def is_row(table: object, row: object) -> bool:
    """Whether a manifest's words are a row as read_row gives one."""
    least = {"alternatives": 4, "diversions": 3, "overrides": 4}.get(str(table), 0)
    texts = isinstance(row, list) and all(isinstance(t, str) and "\n" not in t and "\0" not in t for t in row)
    return bool(
        least and texts and isinstance(row, list) and len(row) >= least and _is_sound(str(table), row)
    )


def is_chosen_by_hand(machine: Machine, row: Row) -> bool:
    """Whether somebody chose this alternative, and the registry does not choose."""
    text = machine.text(file_of("alternatives", key_of("alternatives", row)))
    return text.startswith("manual\n") and machine.readlink(join(CHOSEN, row[0])) == row[2]


def links_of(row: Row) -> Iterator[str]:
    """The links that a choice of an alternative may change: those of the file hierarchy, and those in CHOSEN."""
    for i in (0, *range(4, len(row), 3)):
        yield row[i + 1]
        yield join(CHOSEN, row[i])


def unfinished(table: str, row: Row) -> list[str]:
    """What a tool that was killed may leave beside what it changes."""
    beside = [file_of(table, key_of(table, row)), *(links_of(row) if table == "alternatives" else ())]
    return [f"{path}{ending}" for path in beside for ending in (".dpkg-tmp", ".dpkg-new")]


def goes_back(machine: Machine, row: Row) -> bool:
    """Whether what a diversion put aside is to stand at its own place again with it: nothing stands there."""
    return machine.exists(row[1]) and not machine.exists(row[0])


def take(machine: Machine, table: str, row: Row) -> None:
    """The tool takes the row. Raises CouldNotRead, Refused with its words where it still stands."""
    if table == "alternatives":
        done = change.tool(machine, "update-alternatives", "--quiet", "--remove", row[0], row[2])
    elif table == "diversions":
        how = "--rename" if goes_back(machine, row) else "--no-rename"
        done = change.tool(machine, "dpkg-divert", "--quiet", how, *_whose(row), "--remove", row[0])
    else:
        done = change.tool(machine, "dpkg-statoverride", "--quiet", "--remove", row[3])
    if read_row(machine, table, key_of(table, row)) is not None:
        raise CouldNotRead(
            f"its registry’s own tool left it: {change.words(done.err)}", file_of(table, key_of(table, row))
        )


def give(machine: Machine, table: str, row: Row, by_hand: bool, renamed: bool) -> str:
    """The tool gives the row again; `by_hand`: it was somebody's choice; `renamed`: its file had gone back with it. Returns ""
    or why it does not stand there again. Raises CouldNotRead, Refused."""
    stands = read_row(machine, table, key_of(table, row))
    if stands is not None and stands != row:
        return "another row stands there by now; it was not overwritten"
    if table == "alternatives":
        slaves = [t for i in range(4, len(row), 3) for t in ("--slave", row[i + 1], row[i], row[i + 2])]
        done = change.tool(
            machine, "update-alternatives", "--quiet", "--install", row[1], row[0], *row[2:4], *slaves
        )
        if by_hand and done.status == 0:
            done = change.tool(machine, "update-alternatives", "--quiet", "--set", row[0], row[2])
    elif stands is not None:
        return ""
    elif table == "diversions":
        how = "--rename" if renamed else "--no-rename"
        done = change.tool(
            machine, "dpkg-divert", "--quiet", how, *_whose(row), "--divert", row[1], "--add", row[0]
        )
    else:
        done = change.tool(machine, "dpkg-statoverride", "--quiet", "--add", *row)
    if done.status != 0 or read_row(machine, table, key_of(table, row)) != row:
        return f"its registry’s own tool did not take it again: {change.words(done.err)}"
    return ""


def _whose(row: Row) -> list[str]:
    return ["--local"] if row[2] == ":" else ["--package", row[2]]


def shown(table: str, row: Row) -> str:
    """A row in words."""
    if table == "alternatives":
        return f"{row[2]} as a choice for {row[0]}"
    return (
        f"{row[0]} put aside as {base(row[1])}"
        if table == "diversions"
        else f"{' '.join(row[:3])} for {row[3]}"
    )
