"""What a run did itself, by its journal: when its registry worked, and what of a line was skipped."""

from __future__ import annotations

import stat
from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime

from swept_shelf.core.carry.journal import read_journal
from swept_shelf.core.carry.run import Run
from swept_shelf.core.documents.operations import PurgePackages, RemovePackages, Shelve, Uninstall
from swept_shelf.core.documents.paths import within
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE, person_of, read_people

_SECOND = 1_000_000_000  # the journal's clock tells whole ones
_REGISTRYS = (RemovePackages, PurgePackages, Uninstall)
_PLACES = ("/etc", "/var")


def as_scripts_left_it(machine: Machine, op: Shelve, run: Run) -> Shelve | None:
    """The operation on a system's file as scripts of packages of this very run wrote it anew, after an earlier line; None where
    somebody else may have, or a person's it is."""
    status = machine.lstat(op.path)
    if (
        status is None
        or not stat.S_ISREG(status.st_mode)
        or (op.identity.type, op.identity.uid or 0, status.st_uid) != ("file", 0, 0)
        or not any(within(op.path, place) for place in _PLACES)
        or person_of(read_people(machine), op.path) != EVERYONE
        or not any(begin <= status.st_ctime_ns < end for begin, end in _registry_worked(run))
    ):
        return None
    return replace(op, identity=machine.identity(status))


def skipped_paths(run: Run, line: str) -> list[str]:
    """Places of a line that were to go and stand where they stood."""
    last = {e.n: e.event for e in read_journal(run.journal_path) if e.event in ("done", "skipped")}
    each = enumerate(run.plan.operations, 1)
    return [
        op.path for n, op in each if isinstance(op, Shelve) and op.line == line and last.get(n) == "skipped"
    ]


def _registry_worked(run: Run) -> Iterator[tuple[int, int]]:
    """From and to, in ns of the clock, each time its own tool ran to the end: what came after one that was cut off nobody knows."""
    numbers = {n for n, op in enumerate(run.plan.operations, 1) if isinstance(op, _REGISTRYS)}
    began: dict[int, int] = {}
    for entry in read_journal(run.journal_path):
        at = _nanoseconds(entry.at)
        if entry.event == "begin" and entry.n in numbers:
            began[entry.n] = at
        elif entry.event in ("done", "skipped") and entry.n in began:
            yield began.pop(entry.n), at + _SECOND


def _nanoseconds(at: datetime) -> int:
    return int(at.timestamp()) * _SECOND
