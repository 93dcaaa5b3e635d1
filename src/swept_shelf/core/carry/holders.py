"""A program that keeps a file in memory and would write it over ours: asked to end, it is started again when it is needed."""

from __future__ import annotations

from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.ending import end
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process, read_processes, runs_as
from swept_shelf.core.references.take_out import holder_of

_SECONDS = 5.0


def holders_of(machine: Machine, kind: str, owner: int | None) -> list[Process]:
    """Those that run as the owner of a file of a kind."""
    name = holder_of(kind)
    if not name:
        return []
    running = [p for p in read_processes(machine) if any(base(x) == name for x in p.programs)]
    return [p for p in running if runs_as(p) == owner]


def let_go(machine: Machine, kind: str, owner: int | None) -> str:
    """Ask them to end, after the file was exchanged. Returns what is to be said of it, "" where none ran."""
    said = []
    for process in holders_of(machine, kind, owner):
        try:
            ended = bool(end(machine, process, _SECONDS, hard=False))
        except PermissionError:
            ended = False
        if not ended:
            said.append(f"{process.name} of {process.user} did not end: it may write its own over it")
    return "; ".join(said)
