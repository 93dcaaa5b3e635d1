"""Modification times of the folders that a run takes things from: whose the time is that stands there now, and which one is
to stand there when something came back.

Several operations take things from one folder. Each notes the folder's time before it, as it was before the whole run where
nobody else wrote there meanwhile, and the time that it left. So the last of them to come back, in whatever order, finds that
nobody wrote there and restores the very first time; between, the folder has a time that the others know as ours."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from swept_shelf.core.carry.records import read_record
from swept_shelf.core.carry.shelf import Slot, opened_shelf
from swept_shelf.core.machine.machine import Machine


class FolderTimes:
    """Per folder and slot, the time before and the time after it, in nanoseconds."""

    def __init__(self) -> None:
        self._before: dict[str, dict[int, int]] = {}
        self._after: dict[str, dict[int, int]] = {}

    def before(self, folder: str, now: int) -> int:
        """What a new slot notes as the folder's time: the one before the run where the time of now is ours."""
        afters = self._after.get(folder, {})
        number = next((n for n in sorted(afters, reverse=True) if afters[n] == now), None)
        return now if number is None else self._before[folder][number]

    def note(self, number: int, before: dict[str, int], after: dict[str, int | None]) -> None:
        """A slot took something from these folders."""
        for folder, time in before.items():
            left = after.get(folder)
            if left is not None:
                self._before.setdefault(folder, {})[number] = time
                self._after.setdefault(folder, {})[number] = left

    def is_ours(self, folder: str, now: int) -> bool:
        """Whether the folder's time was left by one of the slots that still wait, or given back to it: nobody came after us."""
        return any(now in table.get(folder, {}).values() for table in (self._after, self._before))

    def returned(self, number: int, folder: str, before: int) -> int:
        """The time that the folder gets now that slot `number` came back."""
        peers = {n: t for n, t in self._before.get(folder, {}).items() if n != number and t == before}
        return self._after[folder][max(peers)] if peers else before

    def standing(self, folder: str, otherwise: int) -> int:
        """The time that the folder has while slots of it still wait."""
        left = self._after.get(folder, {})
        return left[max(left)] if left else otherwise

    def drop(self, number: int) -> None:
        for table in (self._before, self._after):
            for slots in table.values():
                slots.pop(number, None)


def times_of(machine: Machine, slots: Iterable[Slot]) -> FolderTimes:
    """What the slots of one run tell."""
    times = FolderTimes()
    for slot in slots:
        if slot.sealed and not slot.emptying:
            with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
                after = read_record(machine, fd, "after.json")
            if isinstance(after, dict) and isinstance(after.get("folders"), dict):
                times.note(slot.number, befores(slot.manifest), after["folders"])
    return times


def befores(manifest: dict[str, Any]) -> dict[str, int]:
    """The folders that a manifest's operation touches, with their times before it."""
    if "parent" in manifest:
        return {manifest["parent"]["path"]: manifest["parent"]["before"]}
    return {path: kept["mtime_ns"] for path, kept in manifest["folders"].items()}
