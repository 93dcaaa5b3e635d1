"""What a putting back has in hand: handed to every operation's undo."""

from __future__ import annotations

from dataclasses import dataclass, field

from swept_shelf.core.carry.checks import Bounds, bounds_of
from swept_shelf.core.carry.shelf import Slot, slots_on_shelves
from swept_shelf.core.carry.times import FolderTimes, times_of
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes


@dataclass(slots=True)
class Back:
    """All slots of the run that wait, and whose the times of folders are."""

    machine: Machine
    run: str
    tops: dict[str, int]
    slots: list[Slot] = field(default_factory=list)
    times: FolderTimes = field(default_factory=FolderTimes)
    bounds: Bounds = field(init=False)

    def look(self) -> None:
        """Read the shelves, and where nothing may be put."""
        self.bounds = bounds_of(self.machine)
        self.slots = slots_on_shelves(self.machine, read_volumes(self.machine), self.run, self.tops)
        self.times = times_of(self.machine, self.slots)

    def gone(self, slot: Slot) -> None:
        """A slot came back whole."""
        self.slots = [s for s in self.slots if (s.shelf, s.number) != (slot.shelf, slot.number)]
        self.times.drop(slot.number)
