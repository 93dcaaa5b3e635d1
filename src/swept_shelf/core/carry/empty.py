"""Empties the shelf for good. A slot is first renamed aside, so that a crash never leaves half an item to put back."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from swept_shelf.core.carry import durable
from swept_shelf.core.carry.journal import Journal, read_journal, tops_noted
from swept_shelf.core.carry.shelf import EMPTYING, Slot, drop_empty, find_shelves, slots_on_shelves
from swept_shelf.core.documents.paths import join
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes

Tell = Callable[[dict[str, Any]], None]


def empty_shelf(machine: Machine, run: str, lines: Iterable[str] = (), journal_path: Path | None = None,
                tell: Tell = lambda _: None) -> list[tuple[Slot | None, str]]:  # fmt: skip
    """Delete everything of `run`, or of some `lines` of it. Returns what could not be deleted, with why."""
    wanted = set(lines)
    volumes = read_volumes(machine)
    noted = tops_noted(read_journal(journal_path) if journal_path else [])
    journal = Journal(journal_path) if journal_path else None
    left: list[tuple[Slot | None, str]] = []
    try:
        if journal:
            journal.write("mode", mode="empty", lines=sorted(wanted))
        for slot in slots_on_shelves(machine, volumes, run):
            if wanted and slot.manifest["line"] not in wanted:
                continue
            tell({"event": "begin", "n": slot.number, "where": slot.manifest.get("path", "")})
            try:
                _empty_slot(machine, slot)
            except OSError as error:
                left.append((slot, error.strerror or str(error)))
        for shelf in find_shelves(machine, volumes):
            left += [(None, why) for why in _finish(machine, shelf, run, bool(wanted))]
            drop_empty(machine, shelf, run, noted=noted)
        if journal:
            journal.write("end", state="emptied", left=len(left))
    finally:
        if journal:
            journal.close()
    return left


def _empty_slot(machine: Machine, slot: Slot) -> None:
    for original in slot.manifest.get("originals", ()):
        Path(original["file"]).unlink(missing_ok=True)
        Path(original["file"] + ".json").unlink(missing_ok=True)
        if f"{os.sep}swept-shelf-originals-" in original["file"]:
            try:
                Path(original["file"]).parent.rmdir()
            except OSError:
                pass
    folder = join(slot.shelf, slot.run)
    with machine.folder(folder) as fd:
        beneath.rename(fd, f"{slot.number:04}", fd, f"{EMPTYING}{slot.number:04}")
        os.fsync(fd)
        durable.remove_tree(fd, f"{EMPTYING}{slot.number:04}")


def _finish(machine: Machine, shelf: str, run: str, some: bool) -> list[str]:
    """What an earlier, cut-off emptying left; and originals that no slot names."""
    wrong = []
    folder = join(shelf, run)
    for name in machine.names(folder):
        if name.startswith(EMPTYING) or (name == "originals" and not some):
            try:
                with machine.folder(folder) as fd:
                    durable.remove_tree(fd, name)
            except OSError as error:
                wrong.append(error.strerror or str(error))
    return wrong
