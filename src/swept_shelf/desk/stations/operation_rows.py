"""The rows of an order's operations: what one line does alike many times, one after the other, is one row that opens."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import groupby

from swept_shelf.core.carry.ops import describe
from swept_shelf.core.documents.operations import (
    KeepOriginal,
    Operation,
    PurgePackages,
    RemovePackages,
    Shelve,
)
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.desk.parts.rows import Cell, Row
from swept_shelf.desk.survey.folded import folder_of

_KEY = "ops"
_LEAST = 4  # fewer stand for themselves
_BACK = {"remove_packages": "now", "shelve": "when emptied", "uninstall": "when emptied"}
_Numbered = tuple[int, Operation]


def is_folded(key: str) -> bool:
    return key.startswith(_KEY)


def operation_rows(
    first: int, operations: Sequence[Operation], opened: set[str], people: Mapping[str, str]
) -> Iterator[Row]:
    """Those of one line, numbered from `first`. `opened`: keys of rows that are open; `people`: home by name."""
    for _, run in groupby(enumerate(operations, first), key=lambda n: _alike(n[1])):
        members = list(run)
        if len(members) < _LEAST or not isinstance(members[0][1], Shelve | KeepOriginal):
            yield from (_one(n, op, people) for n, op in members)
            continue
        key = f"{_KEY}{members[0][0]}"
        yield _together(key, members, key in opened, people)
        if key in opened:
            yield from (_one(n, op, people, indent=28) for n, op in members)


def _alike(op: Operation) -> tuple[str, str, str]:
    """What operations have in common that are one row."""
    place = folder_of(op.path) if isinstance(op, Shelve) else ""
    return describe(op)[0], getattr(op, "rights", ""), place


def _together(key: str, members: list[_Numbered], opened: bool, people: Mapping[str, str]) -> Row:
    (first, op), (last, _) = members[0], members[-1]
    arrow = "▾" if opened else "▸"
    if isinstance(op, Shelve):
        where = f"{arrow} {plural(len(members), 'place')} in {home_words(folder_of(op.path), people)}"
    else:
        where = f"{arrow} {plural(len(members), 'package')}"
    tip = f"Return, or a double click, {'closes' if opened else 'opens'} it"
    return _row(key, f"{first}–{last}  {describe(op)[0]}", where, tip, [op for _, op in members])


def _one(number: int, op: Operation, people: Mapping[str, str], indent: int = 14) -> Row:
    what, where = describe(op)
    tip = f"{where}\n{getattr(op, 'why', '') or where}"
    if isinstance(op, Shelve) and op.files > 1:
        where += f" ({plural(op.files, 'file')})"
    if not isinstance(op, RemovePackages | PurgePackages | KeepOriginal):
        where = home_words(where, people)
    return _row(f"op{number}", f"{number}  {what}", where, tip, [op], indent)


def _row(key: str, what: str, where: str, tip: str, ops: Iterable[Operation], indent: int = 14) -> Row:
    ops = list(ops)
    size = sum(getattr(op, "bytes", 0) for op in ops)
    return Row(
        key,
        (
            Cell(what, indent=indent),
            Cell(where, font="small", color="ink2", tip=tip),
            Cell(human_bytes(size) if size else "", right=True, tip=f"{grouped(size)} bytes" if size else ""),
            Cell(_BACK.get(ops[0].do, ""), font="small", color="ink2"),
            Cell(getattr(ops[0], "rights", ""), font="small", color="ink2"),
        ),
    )


def home_words(path: str, people: Mapping[str, str]) -> str:
    """A path as people say it: whose home, then the rest."""
    for name, home in people.items():
        if path.startswith(home + "/"):
            return f"{name} {path[len(home) + 1 :]}"
    return path
