"""Empties the shelf for good. A slot is first renamed aside, so that a crash never leaves half an item to put back."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from swept_shelf.core.carry.journal import Journal, read_journal, tops_noted
from swept_shelf.core.carry.ops import uninstall
from swept_shelf.core.carry.originals import drop_originals
from swept_shelf.core.carry.records import MANIFEST
from swept_shelf.core.carry.shelf import (
    EMPTYING,
    ORIGINALS,
    Slot,
    drop_empty,
    find_shelves,
    opened_shelf,
    slots_on_shelves,
)
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.paths import join, within
from swept_shelf.core.documents.terms import Ended, Task
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import mount_points, read_volumes

Tell = Callable[[dict[str, Any]], None]


def empty_shelf(
    machine: Machine,
    run: str,
    lines: Iterable[str] = (),
    journal_path: Path | None = None,
    tell: Tell = lambda _: None,
    unsealed: bool = False,
) -> list[tuple[Slot | None, str]]:
    """Delete everything of `run`, or of some `lines` of it. Returns what could not be deleted, with why.

    `unsealed`: also what does not carry this carrier's seal, where a technician took it over."""
    wanted = set(lines)
    volumes = read_volumes(machine)
    noted = tops_noted(read_journal(journal_path) if journal_path else [])
    journal = Journal(journal_path) if journal_path else None
    left: list[tuple[Slot | None, str]] = []
    try:
        if journal:
            journal.write("mode", mode=Task.EMPTY, lines=sorted(wanted))
        for slot in slots_on_shelves(machine, volumes, run, noted):
            if wanted and slot.manifest["line"] not in wanted:
                continue
            if not (slot.sealed or unsealed):
                left.append((slot, "does not carry this carrier’s seal: it was left"))
                continue
            tell({"event": "begin", "n": slot.number, "where": slot.manifest.get("path", "")})
            try:
                _empty_slot(machine, slot)
            except SweptShelfError as error:
                left.append((slot, error.reason))
            except OSError as error:
                left.append((slot, error.strerror or str(error)))
        for shelf in find_shelves(machine, volumes, noted):
            if not left and not wanted:
                left += [(None, why) for why in _finish(machine, shelf, run)]
            drop_empty(machine, shelf, run, noted=noted)
        if journal:
            journal.write("end", state=Ended.EMPTIED, left=len(left))
    finally:
        if journal:
            journal.close()
    return left


def _empty_slot(machine: Machine, slot: Slot) -> None:
    if mounted := [m for m in mount_points(machine) if within(m, slot.path)]:
        raise OSError(
            16, f"something is mounted inside, at {mounted[0]}: nothing of it was deleted", slot.path
        )
    with opened_shelf(machine, slot.shelf, slot.run) as fd:
        aside = f"{EMPTYING}{slot.number:04}"
        if not slot.emptying:
            beneath.rename(fd, slot.name, fd, aside)
            os.fsync(fd)
        if slot.sealed:  # only now: a slot that can still be put back has its originals
            drop_originals(machine, slot)
            if slot.manifest["do"] == "uninstall":
                uninstall.drop(slot, machine)
        with opened_shelf(machine, slot.shelf, slot.run, aside) as inner:
            for name in sorted(
                os.listdir(inner), key=lambda n: n == MANIFEST
            ):  # by its manifest the rest is known again
                remove_tree(inner, name)
        os.rmdir(aside, dir_fd=fd)


def _finish(machine: Machine, shelf: str, run: str) -> list[str]:
    """What an earlier, cut-off emptying left without its manifest; and originals that no slot names."""
    wrong = []
    for name in machine.names(join(shelf, run)):
        if name.startswith(EMPTYING) or name == ORIGINALS:
            with contextlib.suppress(FileNotFoundError):
                try:
                    with opened_shelf(machine, shelf, run) as fd:
                        remove_tree(fd, name)
                except FileNotFoundError:
                    raise
                except OSError as error:
                    wrong.append(error.strerror or str(error))
    return wrong
