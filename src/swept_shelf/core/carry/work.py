"""What a carrier has in hand while it carries one run out: handed to every operation."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Collection
from contextlib import AbstractContextManager
from functools import cached_property
from typing import Any

from swept_shelf.core.belongings.common import normal
from swept_shelf.core.carry.checks import bounds_of
from swept_shelf.core.carry.journal import Journal, State
from swept_shelf.core.carry.meanwhile import skipped_paths
from swept_shelf.core.carry.originals import originals_folder
from swept_shelf.core.carry.records import FORMAT, VERSION
from swept_shelf.core.carry.run import Run
from swept_shelf.core.carry.shelf import Slot, drop_slot, make_folder, shelf_for, slots_on_shelves
from swept_shelf.core.carry.times import times_of
from swept_shelf.core.documents.operations import Operation
from swept_shelf.core.documents.paths import base, within
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders.removal_scripts import RemovalScripts
from swept_shelf.core.orders.scope import Scope

Tell = Callable[[dict[str, Any]], None]


class Work:
    """One run on one machine."""

    def __init__(self, run: Run, machine: Machine, state: State, journal: Journal) -> None:
        self.run, self.machine, self.state, self.journal = run, machine, state, journal
        self.volumes = read_volumes(machine)
        self.bounds = bounds_of(machine)
        self.noted = dict(state.tops)
        self.shrunk: dict[str, frozenset[str]] = {}
        slots = self.slots()
        self._earlier = {s.number: s for s in slots if s.sealed and not s.emptying}
        self.times = times_of(machine, slots)
        self.edits = [s for s in slots if s.manifest["do"] == "edit_lines"]

    @cached_property
    def scope(self) -> Scope:
        return Scope(self.run.survey, self.run.order.survey.sha256, self.run.index)

    def reread(self, state: State) -> None:
        """What was done meanwhile counts as done before."""
        self.state = state
        self._earlier = {s.number: s for s in self.slots() if s.sealed and not s.emptying}

    # -- shelves ------------------------------------------------------------------------------------------------

    def slots(self) -> list[Slot]:
        return slots_on_shelves(self.machine, self.volumes, self.run.id, self.noted)

    def shelf(self, path: str) -> str:
        """The shelf for a path, made. The time of the folder above it is in the journal before that changes."""
        shelf = shelf_for(self.machine, path, self.volumes)
        make_folder(self.machine, shelf, self._note_top, self.noted)
        return shelf

    def _note_top(self, top: str, before: int) -> None:
        self.journal.write("shelf", path=top, before=before)
        self.noted[top] = before

    def earlier(self, number: int) -> Slot | None:
        """A slot that an earlier, cut-off try of this operation left."""
        return self._earlier.get(number) if self.state.begun(number) else None

    def manifest(self, number: int, op: Operation, **more: Any) -> dict[str, Any]:
        line = self.run.order.line(op.line)
        return {
            "format": FORMAT,
            "version": VERSION,
            "run": self.run.id,
            "order": self.run.order.id,
            "machine": self.run.order.machine.key,
            "number": number,
            "line": op.line,
            "name": line.name if line else op.line,
            "do": op.do,
            "at": to_plain(self.run.order)["drawn_at"],
            "bytes": getattr(op, "bytes", 0),
            "files": getattr(op, "files", 0),
            "volume": getattr(op, "volume", self.volumes[0].id),
            **more,
        }

    def clean(self, number: int) -> None:
        """After an operation that failed: a slot of it that holds nothing goes."""
        for slot in self.slots():
            empty = slot.sealed and not (slot.waiting or slot.emptying)
            if (
                slot.number == number
                and empty
                and slot.manifest["do"] in ("shelve", "edit_lines", "move_data", "make_anew")
            ):
                with contextlib.suppress(OSError):
                    drop_slot(self.machine, slot.shelf, slot.run, number)

    def originals(self, make: bool = False) -> AbstractContextManager[int]:
        elsewhere = self.run.head.originals
        return originals_folder(
            self.machine, "" if elsewhere else self.shelf("/x"), self.run.id, elsewhere, make
        )

    # -- lines --------------------------------------------------------------------------------------------------

    def going(self, line: str, packages: Collection[str]) -> list[str]:
        """Of an operation's packages those that may go with this line by now."""
        allowed = self.shrunk.get(line)
        return [p for p in packages if allowed is None or p in allowed]

    def keep_settings(self, line: str, packages: Collection[str]) -> list[str]:
        """Those of these packages whose purge could delete what of this line was skipped: by their lists, by what their scripts
        name, or by what they made."""
        skipped = skipped_paths(self.run, line)
        if not skipped:
            return []
        index, made = self.scope.index, self.run.survey.system.made
        scripts = RemovalScripts(self.scope, self.machine)

        def is_at(place: str) -> bool:
            return any(within(place, p) or within(p, place) for p in skipped)

        listed = {p for path in skipped for p in index.listing(path)}
        return [
            p
            for p in packages
            if p in listed or any(map(is_at, (*made.get(p, ()), *scripts.named(p, (".postrm",)))))
        ]

    def still_needed(self, line: str, path: str) -> bool:
        """Whether a package that stays after all lists what was to go with a group."""
        allowed = self.shrunk.get(line)
        return allowed is not None and bool(self.scope.index.listing(path) - allowed)

    def other_names(self, line: str) -> frozenset[str]:
        """What other applications are called, as files are."""
        names: set[str] = set()
        own: set[str] = set()
        for a in self.run.survey.applications:
            called = {
                normal(base("/" + n))
                for kind in ("commands", "launchers")
                for n in a.pointed_at.get(kind, ())
            }
            if a.id == line:
                own = called
            else:
                names |= called
        return frozenset(n for n in names - own if len(n) >= 4)

    def application(self, line: str) -> Application | None:
        entry = self.scope.entries.get(line)
        return entry if isinstance(entry, Application) else None


def names_in(slot: int) -> set[str]:
    return set(os.listdir(slot))
