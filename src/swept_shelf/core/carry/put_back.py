"""Puts back what stands on the shelf, last thing first; from the shelf's manifests alone if need be."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from swept_shelf.core.carry import durable, edits, moves, packages
from swept_shelf.core.carry.journal import Journal, read_journal, tops_noted
from swept_shelf.core.carry.shelf import (
    ORIGINALS,
    Slot,
    drop_empty,
    find_shelves,
    opened_shelf,
    slots_on_shelves,
)
from swept_shelf.core.documents.errors import Refused, SweptShelfError
from swept_shelf.core.documents.paths import join
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.volumes import read_volumes

Tell = Callable[[dict[str, Any]], None]
_BACK = {
    "shelve": moves.put_path_back,
    "edit_lines": edits.put_edit_back,
    "remove_packages": packages.put_packages_back,
    "purge_packages": packages.put_purge_back,
}


def put_back(
    machine: Machine,
    run: str,
    lines: Iterable[str] = (),
    journal_path: Path | None = None,
    tell: Tell = lambda _: None,
    unsealed: bool = False,
) -> list[tuple[Slot, str]]:
    """Put back everything of `run`, or only `lines` of it. Returns (slot, why) of what stays on the shelf.

    Never overwrites anything newer. `unsealed`: also paths that do not carry this carrier's seal, where a technician took
    them over; packages never. Raises Refused when nothing of the run waits."""
    wanted = set(lines)
    volumes = read_volumes(machine)
    slots = [
        s
        for s in slots_on_shelves(machine, volumes, run)
        if not s.emptying and (not wanted or s.manifest["line"] in wanted)
    ]
    if not slots and journal_path is None:
        raise Refused("nothing of this waits on the holding shelf")
    journal = Journal(journal_path) if journal_path else None
    stays: list[tuple[Slot, str]] = []
    try:
        if journal:
            journal.write("mode", mode="put_back", lines=sorted(wanted))
        for slot in reversed(slots):
            number = slot.number
            if journal:
                journal.write("begin", n=number, line=slot.manifest["line"])
            tell(
                {
                    "event": "begin",
                    "n": number,
                    "line": slot.manifest["line"],
                    "where": slot.manifest.get("path", ""),
                }
            )
            try:
                why = _why_not(slot, unsealed) or _BACK[slot.manifest["do"]](machine, slot)
            except SweptShelfError as error:
                why = str(error)
            except OSError as error:
                why = error.strerror or str(error)
            if why:
                stays.append((slot, why))
            if journal:
                journal.write("stays" if why else "returned", n=number, line=slot.manifest["line"], note=why)
            tell(
                {
                    "event": "stays" if why else "returned",
                    "n": number,
                    "note": why,
                    "where": slot.manifest.get("path", ""),
                }
            )
        if not stays and not wanted:
            _drop_originals(machine, run)
        tops, noted = (
            _tops_in_the_air(journal_path),
            tops_noted(read_journal(journal_path) if journal_path else []),
        )

        def note(top: str, before: int) -> None:
            if journal:
                journal.write("top", path=top, before=before)

        for shelf in find_shelves(machine, volumes):
            drop_empty(machine, shelf, run, note, noted)
        for top, before in tops.items():
            if not machine.exists(join(top, SHELF)):
                moves.set_mtime(machine, top, before)
        if journal:
            journal.write("end", state="put_back")
    finally:
        if journal:
            journal.close()
    return stays


def _why_not(slot: Slot, unsealed: bool) -> str:
    if slot.sealed:
        return ""
    if not unsealed:
        return "does not carry this carrier’s seal: it was left on the shelf"
    return (
        ""
        if slot.manifest["do"] == "shelve"
        else "only what was moved can be taken over: packages and edited files need the seal of who carried out"
    )


def _tops_in_the_air(journal_path: Path | None) -> dict[str, int]:
    """Volume tops whose time a putting back that was cut off was about to restore."""
    records = read_journal(journal_path) if journal_path else []
    last = max((i for i, r in enumerate(records) if r["event"] == "end"), default=-1)
    return {r["path"]: r["before"] for r in records[last + 1 :] if r["event"] == "top"}


def _drop_originals(machine: Machine, run: str) -> None:
    """Originals of packages that were kept but never removed (the run ended before)."""
    for shelf in find_shelves(machine, read_volumes(machine)):
        with contextlib.suppress(FileNotFoundError), opened_shelf(machine, shelf, run) as fd:
            durable.remove_tree(fd, ORIGINALS)
