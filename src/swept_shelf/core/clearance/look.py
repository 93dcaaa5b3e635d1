"""The clearance of a run: lines x families. What was not looked at is never clear."""

from __future__ import annotations

import uuid
from collections.abc import Callable

from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.carry.run import Run
from swept_shelf.core.clearance.findings import finding_of
from swept_shelf.core.clearance.registered import registered
from swept_shelf.core.documents.clearance import (
    CLEARANCE_FORMAT,
    CLEARANCE_VERSION,
    FAMILIES,
    Cell,
    Clearance,
    ClearanceLine,
    Finding,
    VolumeResult,
)
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import PurgePackages, Shelve
from swept_shelf.core.documents.order import OrderLine
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Application, NotRead
from swept_shelf.core.documents.terms import Looked, Verdict
from swept_shelf.core.machine.facts import machine_facts
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.machine.volumes import allocated_below, read_volumes
from swept_shelf.core.orders.plan import pointee_of
from swept_shelf.core.references import Found, Pointees, find_references
from swept_shelf.core.registries.debian import read as debian

Progress = Callable[[str, int, int], None]


def look_again(
    run: Run,
    result: RunResult | None,
    machine: Machine,
    processes: list[Process],
    progress: Progress = lambda *_: None,
) -> Clearance:
    """Look at every family for every line of the run, and measure the volumes."""
    began = machine.now()
    progress("references", 0, 3)
    removed = [
        a
        for line in run.order.lines
        if line.verdict == Verdict.REMOVE and isinstance(a := run.survey.find(line.id), Application)
    ]
    people = read_people(machine)
    states, owned, trouble = registered(machine)
    listed = {
        row.path: line.id
        for line in run.order.lines
        for row, owners in run.index.rows_of(set(line.packages))
        if owners <= set(line.packages) and row.identity.type != "folder"
    }
    found = find_references(machine, people, owned, Pointees((pointee_of(a) for a in removed), listed))
    progress("files", 1, 3)
    looker = _Looker(run, machine, found, states, trouble, processes)
    lines = [looker.line(line) for line in run.order.lines if line.verdict != Verdict.KEEP]
    progress("volumes", 2, 3)
    not_read = [n for rows in found.not_read.values() for n in rows] + (
        [NotRead(debian.ADMIN, trouble)] if trouble else []
    )
    volumes = _volumes(run, result, machine)
    progress("done", 3, 3)
    return Clearance(
        CLEARANCE_FORMAT,
        CLEARANCE_VERSION,
        str(uuid.uuid4()),
        began,
        machine.now(),
        run.order.id,
        run.id,
        machine_facts(machine),
        lines,
        volumes,
        not_read,
    )


class _Looker:
    def __init__(
        self,
        run: Run,
        machine: Machine,
        found: Found,
        states: dict[str, str],
        trouble: str,
        processes: list[Process],
    ) -> None:
        self._run, self._machine, self._found = run, machine, found
        self._states, self._trouble, self._processes = states, trouble, processes

    def line(self, line: OrderLine) -> ClearanceLine:
        return ClearanceLine(
            line.id, line.name, line.verdict, [self._cell(line, family) for family in FAMILIES]
        )

    def _cell(self, line: OrderLine, family: str) -> Cell:
        entry = self._run.survey.find(line.id)
        parts = {
            "registry": bool(line.packages),
            "files": True,
            "processes": bool(isinstance(entry, Application)),
        }
        if not parts.get(family, line.verdict == Verdict.REMOVE and isinstance(entry, Application)):
            return Cell(family, Looked.NOT_PART, "", [])
        if line.verdict != Verdict.REMOVE and family != "files":
            return Cell(family, Looked.NOT_PART, "", [])
        if family == "registry":
            return self._and_references(self._registry_cell(line), line)
        if family == "files":
            return self._and_references(self._files_cell(line), line)
        if family == "processes":
            return self._processes_cell(entry)
        return self._references_cell(line, family)

    def _and_references(self, cell: Cell, line: OrderLine) -> Cell:
        """The cell with what else of its family points at the application."""
        if line.verdict != Verdict.REMOVE:
            return cell
        more = self._references_cell(line, cell.family)
        state = next(
            (s for s in (Looked.FOUND, Looked.COULD_NOT_LOOK) if s in (cell.state, more.state)), cell.state
        )
        looked = more.looked_at if state == Looked.COULD_NOT_LOOK and cell.state != state else cell.looked_at
        return Cell(cell.family, state, looked, [*cell.findings, *more.findings])

    def _registry_cell(self, line: OrderLine) -> Cell:
        if self._trouble:
            return Cell("registry", Looked.COULD_NOT_LOOK, self._trouble, [])
        wrong = [
            (p, s) for p in line.packages if (s := self._states.get(p, "not-installed")) != "not-installed"
        ]
        purged = {p for op in self._run.plan.operations if isinstance(op, PurgePackages) for p in op.packages}
        found = [
            Finding(
                f"{debian.ADMIN}/status",
                0,
                f"{p}: {s}",
                "the registry still knows it" if p in purged or s != "config-files" else self._why_known(p),
                [],
                [],
            )
            for p, s in wrong
        ]
        return Cell(
            "registry", Looked.FOUND if found else Looked.CLEAR, plural(len(line.packages), "package"), found
        )

    def _files_cell(self, line: OrderLine) -> Cell:
        moved = [op.path for op in self._run.plan.operations if op.line == line.id and isinstance(op, Shelve)]
        gone = set(self._run.order.packages)
        own = [
            row.path
            for row, owners in self._run.index.rows_of(set(line.packages))
            if owners <= gone
            and not row.path.startswith(debian.ADMIN)
            and not (row.identity.type == "folder" and is_standard(row.path))
        ]
        found: list[Finding] = []
        hidden = 0
        for path in [*moved, *own]:
            try:
                status = self._machine.lstat(path)
            except CouldNotRead:
                hidden += 1
                continue
            if (
                status is not None
                and not any(path == f.path for f in found)
                and not self._only_kept(path, line)
            ):
                found.append(Finding(path, 0, path, "is still there", [], []))
        looked = plural(len(moved) + len(own), "path")
        if stays := self._stays(line):
            looked += f"; {'; '.join(stays)}"
        if hidden and not found:
            return Cell("files", Looked.COULD_NOT_LOOK, f"{hidden} of {looked} may not be read", [])
        return Cell("files", Looked.FOUND if found else Looked.CLEAR, looked, found)

    def _why_known(self, package: str) -> str:
        """Why the plan did not let the registry forget a package."""
        kept = [x.path for x in self._run.plan.left_alone if f"forget {package}:" in x.why]
        return (
            f"kept on purpose: its purge would take {kept[0]} along"
            if kept
            else "the registry still knows it"
        )

    def _stays(self, line: OrderLine) -> list[str]:
        """Parts of the application in packages that others need: by name, with who needs them."""
        entry = self._run.survey.find(line.id)
        if not isinstance(entry, Application):
            return []
        parts = {*entry.executables, *(x.path for x in entry.launchers)}
        return [f"{x.path} stays: {x.why}" for x in self._run.plan.left_alone if x.path in parts]

    def _only_kept(self, path: str, line: OrderLine) -> bool:
        """A folder of its package that stays only because of what was left on purpose inside."""
        entry = self._run.survey.find(line.id)
        kept = [b.path for b in entry.belongings if b.path not in line.ticks] if entry else []
        return any(k.startswith(path + "/") and self._machine.exists(k) for k in kept)

    def _processes_cell(self, entry: object) -> Cell:
        assert isinstance(entry, Application)
        programs = set(entry.pointed_at.get("programs", ()))
        found = [
            Finding(p.programs[0], 0, f"process {p.pid}", f"still runs ({p.user})", [], [])
            for p in self._processes
            if any(x in programs for x in p.programs)
        ]
        hidden = sum(not p.could_look for p in self._processes)
        if hidden and not found:
            return Cell(
                "processes", Looked.COULD_NOT_LOOK, f"{hidden} processes of others may not be looked at", []
            )
        return Cell("processes", Looked.FOUND if found else Looked.CLEAR, "all processes", found)

    def _references_cell(self, line: OrderLine, family: str) -> Cell:
        found = [
            finding_of(r, self._machine)
            for r in self._found.references.get(line.id, ())
            if r.family == family
        ]
        unread = self._found.not_read.get(family, [])
        looked = plural(self._found.looked_at.get(family, 0), "file")
        if found:
            return Cell(family, Looked.FOUND, looked, found)
        if unread:
            return Cell(family, Looked.COULD_NOT_LOOK, f"{unread[0].path}: {unread[0].reason}", [])
        return Cell(family, Looked.CLEAR, looked, [])


def _volumes(run: Run, result: RunResult | None, machine: Machine) -> list[VolumeResult]:
    """Promised against measured, per volume that the order promised anything for."""
    now = {v.id: v for v in read_volumes(machine)}
    made = []
    for promise in run.order.comes_back:
        volume = now.get(promise.volume)
        if volume is None:
            continue
        before = (result.volumes_before if result else {}).get(volume.id, volume.free)
        shelf = f"{volume.mount.rstrip('/')}/{SHELF}"
        held = allocated_below(machine, shelf, []) if machine.exists(shelf) else 0
        made.append(
            VolumeResult(
                volume.id,
                volume.mount,
                volume.capacity,
                before,
                volume.free,
                promise.now + promise.when_emptied + promise.when_ended,
                promise.now,
                held,
            )
        )
    return made
