"""Puts back what stands on the shelf, last thing first; from the shelf's manifests alone if need be."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.journal import Journal, read_journal, replay
from swept_shelf.core.carry.ops import BY_NAME
from swept_shelf.core.carry.parents import set_mtime
from swept_shelf.core.carry.shelf import ORIGINALS, Slot, drop_empty, find_shelves, opened_shelf
from swept_shelf.core.carry.work import Tell
from swept_shelf.core.documents.errors import Refused, SweptShelfError
from swept_shelf.core.documents.paths import join
from swept_shelf.core.documents.terms import Ended, Task
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.registries.debian import change

_ONLY_MOVED = (
    "only what was moved can be taken over: packages and edited files need the seal of who carried out"
)


def put_back(
    machine: Machine,
    run: str,
    lines: Iterable[str] = (),
    journal_path: Path | None = None,
    tell: Tell = lambda _: None,
    unsealed: bool = False,
) -> list[tuple[Slot, str]]:
    """Put back everything of `run`, or only `lines` of it with what they need of others. Returns (slot, why) of what stays.

    Never overwrites anything newer. `unsealed`: also paths that do not carry this carrier's seal, where a technician took
    them over; packages never. Raises Refused when nothing of the run waits."""
    wanted = set(lines)
    entries = read_journal(journal_path) if journal_path else []
    back = Back(machine, run, replay(entries).tops)
    back.look()
    slots = [s for s in back.slots if not s.emptying and (not wanted or s.manifest["line"] in wanted)]
    if not slots and journal_path is None:
        raise Refused("nothing of this waits on the holding shelf")
    journal = Journal(journal_path) if journal_path else None
    stays: list[tuple[Slot, str]] = []

    def note(event: str, **more: Any) -> None:
        if journal:
            journal.write(event, **more)

    try:
        note("mode", mode=Task.PUT_BACK, lines=sorted(wanted))
        if wanted:
            slots = _with_needed(slots, back)
        for slot in sorted(reversed(slots), key=_is_undone_last):
            slot = next(s for s in back.slots if (s.shelf, s.number) == (slot.shelf, slot.number))
            head = {"n": slot.number, "line": slot.manifest["line"]}
            where = slot.manifest.get("path", "")
            note("begin", **head)
            tell({"event": "begin", **head, "where": where})
            if why := _one(slot, back, unsealed):
                stays.append((slot, why))
            else:
                back.gone(slot)
            note("stays" if why else "returned", **head, note=why)
            tell({"event": "stays" if why else "returned", **head, "note": why, "where": where})
        if any(s.manifest["do"] in ("remove_packages", "purge_packages") for s in slots):
            with contextlib.suppress(SweptShelfError):
                change.write_up(machine)
        if not stays and not wanted:
            _drop_originals(machine, run, back.tops)
        _drop_shelves(machine, run, journal, entries, back.tops)
        note("end", state=Ended.PUT_BACK, left=len(stays) or int(bool(wanted and back.slots)))
    finally:
        if journal:
            journal.close()
    return stays


def _with_needed(slots: list[Slot], back: Back) -> list[Slot]:
    """These and what they would not start without, of the same run, in the order of their numbers."""
    found = {(s.shelf, s.number): s for s in slots}
    for slot in slots:
        others = getattr(BY_NAME[slot.manifest["do"]], "needed", None)
        with contextlib.suppress(SweptShelfError):  # said when its turn comes
            found |= {(s.shelf, s.number): s for s in (others(slot, back) if others else ())}
    return [s for s in back.slots if (s.shelf, s.number) in found]


def _is_undone_last(slot: Slot) -> bool:
    return getattr(BY_NAME[slot.manifest["do"]], "UNDONE_LAST", False)


def _one(slot: Slot, back: Back, unsealed: bool) -> str:
    """Put one slot back. Returns "" or why it stays."""
    if not slot.sealed and not unsealed:
        return "does not carry this carrier’s seal: it was left on the shelf"
    if not slot.sealed and slot.manifest["do"] != "shelve":
        return _ONLY_MOVED
    try:
        return str(BY_NAME[slot.manifest["do"]].undo(slot, back))
    except SweptShelfError as error:
        return str(error)
    except OSError as error:
        return error.strerror or str(error)


def _drop_shelves(
    machine: Machine, run: str, journal: Journal | None, entries: list[Any], noted: dict[str, int]
) -> None:
    """Empty shelves go, and the folders above them get their times again, also where an earlier putting back was cut off."""
    last = max((i for i, e in enumerate(entries) if e.event == "end"), default=-1)
    in_the_air = {e.path: e.before for e in entries[last + 1 :] if e.event == "top"}

    def note(top: str, before: int) -> None:
        if journal:
            journal.write("top", path=top, before=before)

    for shelf in find_shelves(machine, read_volumes(machine), noted):
        drop_empty(machine, shelf, run, note, noted)
    for top, before in in_the_air.items():
        if not machine.exists(join(top, SHELF)):
            set_mtime(machine, top, before)


def _drop_originals(machine: Machine, run: str, tops: dict[str, int]) -> None:
    """Originals of packages that were kept but never removed (the run ended before)."""
    for shelf in find_shelves(machine, read_volumes(machine), tops):
        with contextlib.suppress(FileNotFoundError), opened_shelf(machine, shelf, run) as fd:
            remove_tree(fd, ORIGINALS)
