"""What is asked before the first operation of a line, by the carrier and by a rehearsal alike: everything that could stop it."""

from __future__ import annotations

from collections.abc import Iterable

from swept_shelf.core.carry.ask import Ask
from swept_shelf.core.carry.checks import bounds_of
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.documents.errors import Refused, SweptShelfError
from swept_shelf.core.documents.operations import (
    STARTS_IT,
    EditLines,
    EndPrograms,
    Operation,
    RemovePackages,
    Shelve,
)
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process, read_processes, running_of
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders.scope import runs_from


def new_ask(machine: Machine, pure: bool) -> Ask:
    return Ask(machine, read_volumes(machine), pure=pure, bounds=bounds_of(machine))


def why_not(ask: Ask, operations: list[Operation]) -> list[str]:
    """Why the operations of one line could not be done, each reason once; empty where nothing is known to hinder them."""
    found: dict[str, None] = {}
    for op in operations:
        try:
            if lacking := module_of(op).why_not_mine(op, ask.machine):
                raise Refused(f"needs rights that are not there: {lacking}")
            module_of(op).check(op, ask)
        except SweptShelfError as error:
            found[str(error)] = None
        except OSError as error:
            found[f"{getattr(op, 'path', '')}: {error.strerror or error}"] = None
    for op in operations:
        if isinstance(op, RemovePackages) and not found:
            ask.removed |= set(ask.going(op.line, op.packages))
    return list(found)


def running(machine: Machine, survey: Survey, operations: Iterable[Operation]) -> dict[str, str]:
    """Lines whose application runs now: running programs are refused, but where nothing of theirs goes."""
    some = list(operations)
    ended = {op.line for op in some if isinstance(op, EndPrograms)}
    wanted = {op.line for op in some if not _only_turns_off(op)} - ended
    entries = [e for e in survey.entries if isinstance(e, Application) and e.id in wanted]
    processes = read_processes(machine) if entries else []
    return {e.id: why for e in entries if (why := _running(e, processes))}


def _only_turns_off(op: Operation) -> bool:
    return isinstance(op, EditLines) or (
        isinstance(op, Shelve) and (op.identity.type == "link" or op.why == STARTS_IT)
    )


def _running(entry: Application, processes: list[Process]) -> str:
    found = running_of(runs_from(entry), processes)
    return f"{entry.name} is running ({found[0].user}, process {found[0].pid})" if found else ""
