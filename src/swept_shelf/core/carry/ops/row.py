"""Taking a row of the registry's tables (alternatives, diversions, overrides) by its own tool, and giving it again."""

from __future__ import annotations

import contextlib
import os
import stat
from typing import Any

from swept_shelf.core.carry.ask import Ask, must_have_registry
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.script_made import make_again, noted
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.surroundings import attributes_of, returned_attributes
from swept_shelf.core.carry.times import befores
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.errors import Changed, CouldNotRead, Gone
from swept_shelf.core.documents.operations import TakeRow
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.attributes import restore_attributes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change, rows

STOPS = False
_TABLE = 1 << 20


def describe(op: TakeRow) -> tuple[str, str]:
    return "Registry forgets a row", rows.shown(op.table, op.row)


def why_not_mine(op: TakeRow, machine: Machine) -> str:
    return "" if change.may_change(machine) else op.rights


def room(op: TakeRow, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volumes[0].id: _TABLE}


def check(op: TakeRow, ask: Ask) -> None:
    """Raises Refused where the registry cannot be changed, CouldNotRead for an order whose row is none."""
    if not rows.is_row(op.table, op.row):
        raise CouldNotRead("is no row that its registry’s own tool could have written", op.path)
    must_have_registry(ask)


def do(op: TakeRow, number: int, work: Work) -> dict[str, Any]:
    machine = work.machine
    if not rows.is_row(op.table, op.row):
        raise CouldNotRead("is no row that its registry’s own tool could have written", op.path)
    stands = rows.read_row(machine, op.table, rows.key_of(op.table, op.row))
    slot = work.earlier(number)
    if stands is None and slot is None:
        raise Gone("was gone already", op.path)
    if stands is not None and stands != op.row:
        raise Changed("says something else than was surveyed", op.path)
    if slot is None:
        links = list(rows.links_of(op.row)) if op.table == "alternatives" else []
        moved = op.row[:2] if op.table == "diversions" else []
        table = rows.file_of(op.table, rows.key_of(op.table, op.row))
        manifest = work.manifest(
            number,
            op,
            table=op.table,
            row=op.row,
            by_hand=op.table == "alternatives" and rows.is_chosen_by_hand(machine, op.row),
            renamed=op.table == "diversions" and rows.goes_back(machine, op.row),
            folders=attributes_of(machine, {parent(p) for p in (table, *links, *moved)}, work.times),
            made=noted(machine, [table, *links, *rows.unfinished(op.table, op.row)]),
        )
        shelf = work.shelf("/x")
    else:
        manifest, shelf = slot.manifest, slot.shelf
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        if stands is not None:
            rows.take(machine, op.table, op.row)
        if slot is not None:
            _sweep(machine, manifest)
        after = {f: (s.st_mtime_ns if (s := machine.lstat(f)) else None) for f in manifest["folders"]}
        write_record(machine, fd, "after.json", {"folders": after})
        work.times.note(number, befores(manifest), after)
    return {}


def _sweep(machine: Machine, kept: dict[str, Any]) -> None:
    """What the tool left half made when it was killed, and was not there before. Raises OSError."""
    for path in rows.unfinished(kept["table"], kept["row"]):
        if path in kept["made"]:
            continue
        with (
            contextlib.suppress(FileNotFoundError, NotADirectoryError),
            machine.folder(parent(path)) as folder,
        ):
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
            if stat.S_ISLNK(status.st_mode) or stat.S_ISREG(status.st_mode):
                os.unlink(base(path), dir_fd=folder)


def undo(slot: Slot, back: Back) -> str:
    """The row again, and what the tool made with it as it was. Returns "" or why it stays. Raises OSError, CouldNotRead."""
    machine, kept = back.machine, slot.manifest
    if not rows.is_row(kept["table"], kept["row"]):
        return "is no row that its registry’s own tool could have written: it was left on the shelf"
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling = read_record(machine, fd, "settling.json")
        if settling is None:
            cut_off = read_record(machine, fd, "after.json") is None  # inside the tool: what it wrote is ours
            ours = [
                f
                for f in kept["folders"]
                if (s := machine.lstat(f)) and (cut_off or back.times.is_ours(f, s.st_mtime_ns))
            ]
            settling = {"folders": ours, "cut_off": cut_off}
            write_record(machine, fd, "settling.json", settling)
    if why := rows.give(machine, kept["table"], kept["row"], kept["by_hand"], kept["renamed"]):
        return why
    if settling["cut_off"]:
        _sweep(machine, kept)
    make_again(machine, kept["made"], [p for p in kept["made"] if machine.exists(p)])
    restore_attributes(machine, returned_attributes(slot, settling["folders"], back.times))
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""
