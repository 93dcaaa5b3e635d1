"""Ending what runs of an application, before anything of it goes. Nothing is put back: it is started again by whoever wants it."""

from __future__ import annotations

import os
from typing import Any

from swept_shelf.core.carry.ask import Ask
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.errors import Gone, Refused
from swept_shelf.core.documents.operations import EndPrograms
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.documents.times import clock
from swept_shelf.core.machine.ending import end, is_mine
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process, read_processes, running_of

STOPS = True  # what is in use does not go
_SECONDS = 10.0  # for each to end by itself
_ROUNDS = 3  # what it starts anew meanwhile is asked again


def describe(op: EndPrograms) -> tuple[str, str]:
    return "End it" if op.hard else "Ask it to end", op.name


def why_not_mine(op: EndPrograms, machine: Machine) -> str:
    return "" if all(is_mine(p) for p in _running(op, machine)) else op.rights


def room(op: EndPrograms, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {}


def check(op: EndPrograms, ask: Ask) -> None:
    """Who has it open, said before."""
    for p in _running(op, ask.machine):
        ask.notes[
            f"{op.name} runs ({p.user}, process {p.pid}, since {clock(p.started)}): it will be asked to end"
        ] = None


def do(op: EndPrograms, number: int, work: Work) -> dict[str, Any]:
    said: list[str] = []
    for _ in range(_ROUNDS):
        running = _running(op, work.machine)
        if not running:
            break
        for p in running:
            try:
                how = end(work.machine, p, _SECONDS, op.hard)
            except PermissionError:
                raise Refused(f"{op.name} is {p.user}’s, process {p.pid}: it is not ours to end") from None
            if not how:
                raise Refused(f"{op.name} did not end when it was asked ({p.user}, process {p.pid})")
            said.append(f"{p.user}, process {p.pid}: {how}")
    else:
        raise Refused(f"{op.name} is started again by something as soon as it ends")
    if not said:
        raise Gone("nothing of it runs any more")
    return {"note": "; ".join(said)}


def undo(slot: Slot, back: Back) -> str:
    raise AssertionError("it leaves nothing on the shelf")


def _running(op: EndPrograms, machine: Machine) -> list[Process]:
    return [p for p in running_of(op.programs, read_processes(machine)) if p.pid != os.getpid()]
