"""The clearance of a run: lines x families. What was not looked at is never clear."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from pathlib import Path

from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.carry.run import Run
from swept_shelf.core.clearance.cells import (
    homes_missing,
    looked_in,
    mentions_of,
    not_to_be_taken,
    processes_cell,
    references_cell,
    with_state,
)
from swept_shelf.core.clearance.findings import standing, standing_at
from swept_shelf.core.clearance.registered import LET_IT_MEND, is_installed, registered, still_listed
from swept_shelf.core.clearance.remnants import Leftovers, Remnant, write_remnants
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
from swept_shelf.core.documents.operations import PurgePackages, Shelve, Uninstall
from swept_shelf.core.documents.order import OrderLine
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Application, NotRead, Person, Volume
from swept_shelf.core.documents.terms import Looked, Verdict
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.held import AllHeld
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.people import homes_not_there, read_people
from swept_shelf.core.machine.volumes import allocated_below, read_volumes, volume_of
from swept_shelf.core.orders.plan import files_of, pointee_of
from swept_shelf.core.orders.scope import goes_by_paths, goes_by_tool, goes_whole
from swept_shelf.core.references.find import FAMILIES_IN_HOMES, find_references
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.registries.ways import keeps_books
from swept_shelf.core.survey.own_starts import own_starts
from swept_shelf.core.tree.elsewhere import Inode
from swept_shelf.core.tree.part import part_of

_STARTING = ("startup", "schedules", "services")
_OF_HOW = {"login": "startup", "schedule": "schedules"}
Progress = Callable[[str, int, int], None]


def look_again(
    run: Run,
    result: RunResult | None,
    machine: Machine,
    held: AllHeld,
    progress: Progress = lambda *_: None,
    remnants: Path | None = None,
) -> Clearance:
    """Look at every family for every line of the run, and measure the volumes. What can be taken out is written into the folder
    `remnants` as a survey."""
    began = machine.now()
    progress("references", 0, 3)
    removed = [
        a
        for line in run.order.lines
        if line.verdict in (Verdict.REMOVE, Verdict.STOP_STARTING)
        and isinstance(a := run.survey.find(line.id), Application)
    ]
    people = read_people(machine)
    states, owned, trouble = registered(machine)
    listed: dict[str, str] = {}
    files: dict[Inode, str] = {}
    for line in run.order.lines:
        for row, owners in run.index.rows_of(set(line.packages)):
            if owners <= set(line.packages) and row.identity.type != "folder":
                listed[row.path] = line.id
                if row.links > 1 and row.identity.type == "file":
                    files[row.identity.file_system, row.identity.inode] = line.id
    pointees = (p for a in removed for p in (pointee_of(a), files_of(a, machine.exists)))
    to = Pointees(pointees, listed)
    found = find_references(machine, people, owned, to, files=files)
    homes_missing(found, FAMILIES_IN_HOMES, homes_not_there(machine))
    progress("files", 1, 3)
    looker = _Looker(run, machine, found, states, owned, trouble, held, people)
    lines = [looker.line(line) for line in run.order.lines if line.verdict != Verdict.KEEP]
    left = None
    if remnants is not None:
        left = write_remnants(machine, people, remnants, looker.remnants(removed, lines), run.id)
    progress("volumes", 2, 3)
    not_read = [n for rows in found.not_read.values() for n in rows] + (
        [NotRead(debian.ADMIN, trouble)] if trouble else []
    )
    volumes = _volumes(run, result, machine, held)
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
        list(dict.fromkeys(not_read)),
        rights(),
        looked_in(found),
        found.searched,
        left.id if left else "",
    )


class _Looker:
    def __init__(
        self,
        run: Run,
        machine: Machine,
        found: Found,
        states: dict[str, str],
        owned: dict[str, str],
        trouble: str,
        held: AllHeld,
        people: list[Person],
    ) -> None:
        self._run, self._machine, self._found, self._people = run, machine, found, people
        self._states, self._owned, self._trouble, self._held = states, owned, trouble, held
        self._books = {
            a.id: a
            for line in run.order.lines
            if line.verdict == Verdict.REMOVE
            and (a := run.survey.find(line.id))
            and isinstance(a, Application)
            and (goes_by_paths(a) or goes_whole(a))
            and keeps_books(a.registry)
        }
        self._listed = still_listed(machine, people, self._books.values())

    def line(self, line: OrderLine) -> ClearanceLine:
        cells = [self._cell(line, family) for family in FAMILIES]
        if self._is_here(line.id):
            cells = [not_to_be_taken(cell) for cell in cells]
        return ClearanceLine(
            line.id,
            line.name,
            line.verdict,
            cells,
            mentions_of(line.id, self._found, self._machine) if line.verdict == Verdict.REMOVE else [],
        )

    def _is_here(self, id: str) -> bool:
        """Whether the application itself did not go: its package, or a program that no registry knows."""
        entry = self._run.survey.find(id)
        if not isinstance(entry, Application):
            return False
        if goes_by_tool(entry):
            return is_installed(self._states, entry.own_packages[:1])
        return any(self._machine.resolve(p) is not None for p in entry.executables)

    def remnants(self, removed: list[Application], lines: list[ClearanceLine]) -> list[Remnant]:
        """What was found of each application and can be taken out."""
        places = {
            line.id: [f.path for _, f in line.found if f.kind == "path" and f.action == "take_out"]
            for line in lines
        }
        return [
            Remnant(
                a.id, a.name, a.pointed_at, list(self._found.references.get(a.id, ())), places.get(a.id, [])
            )
            for a in removed
            if not self._is_here(a.id)
        ]

    def _cell(self, line: OrderLine, family: str) -> Cell:
        entry = self._run.survey.find(line.id)
        parts = {
            "registry": bool(line.packages) or line.id in self._books,
            "files": True,
            "processes": bool(isinstance(entry, Application)),
        }
        if line.verdict == Verdict.STOP_STARTING:
            return self._starts_cell(line, family)
        if not parts.get(family, line.verdict == Verdict.REMOVE and isinstance(entry, Application)):
            return Cell(family, Looked.NOT_PART, "", [])
        if line.verdict != Verdict.REMOVE and family != "files":
            return Cell(family, Looked.NOT_PART, "", [])
        if family == "registry":
            return self._and_references(self._registry_cell(line), line)
        if family == "files":
            return self._and_references(self._files_cell(line), line)
        if family == "processes":
            assert isinstance(entry, Application)
            return processes_cell(pointee_of(entry), _taken(self._run, line.id), self._held)
        return references_cell(line.id, family, self._found, self._machine, self._people)

    def _and_references(self, cell: Cell, line: OrderLine) -> Cell:
        """The cell with what else of its family points at the application."""
        if line.verdict != Verdict.REMOVE:
            return cell
        more = references_cell(line.id, cell.family, self._found, self._machine, self._people)
        state = next(
            (s for s in (Looked.FOUND, Looked.COULD_NOT_LOOK) if s in (cell.state, more.state)), cell.state
        )
        looked = more.looked_at if state == Looked.COULD_NOT_LOOK and cell.state != state else cell.looked_at
        return Cell(cell.family, state, looked, [*cell.findings, *more.findings], cell.helps or more.helps)

    def _starts_cell(self, line: OrderLine, family: str) -> Cell:
        """Of an application that stays: what starts it by itself all the same."""
        entry = self._run.survey.find(line.id)
        if family not in _STARTING or not isinstance(entry, Application):
            return Cell(family, Looked.NOT_PART, "", [])
        cell = references_cell(line.id, family, self._found, self._machine, self._people)
        starting = {
            (r.path, r.line)
            for r in self._found.references.get(line.id, ())
            if r.in_effect and KINDS[r.kind].starts and r.kind != "D-Bus service"
        }
        found = [f for f in cell.findings if (f.path, f.line) in starting]
        own = own_starts(self._machine, line.ticks)
        found += [
            standing(line.id, s.path, "still starts it", text=s.path)
            for s in own
            if s.enabled and _OF_HOW[s.how] == family
        ]
        if found or cell.state == Looked.COULD_NOT_LOOK:
            return with_state(family, cell.looked_at, found, cell.looked_at, cell.helps)
        return Cell(family, Looked.CLEAR, cell.looked_at, [])

    def _books_cell(self, app: Application) -> Cell:
        """Of a registry that is books and receipts: whether it still has the application in them."""
        listed, why_not = self._listed
        found = [standing(app.id, app.receipt, "its registry still has it", text=app.receipt)]
        return with_state(
            "registry",
            f"the receipts and books of {app.origin.source}",
            found if app.id in listed else [],
            why_not.get(app.id, ""),
            "look again with administrator rights",
        )

    def _registry_cell(self, line: OrderLine) -> Cell:
        if line.id in self._books:
            return self._books_cell(self._books[line.id])
        if self._trouble:
            return with_state("registry", "", [], self._trouble, LET_IT_MEND)
        wrong = [
            (p, s) for p in line.packages if (s := self._states.get(p, "not-installed")) != "not-installed"
        ]
        purged = {p for op in self._run.plan.operations if isinstance(op, PurgePackages) for p in op.packages}
        found = [
            standing(
                line.id,
                f"{debian.ADMIN}/status",
                "the registry still knows it" if p in purged or s != "config-files" else self._why_known(p),
                text=f"{p}: {s}",
            )
            for p, s in wrong
        ]
        return with_state("registry", plural(len(line.packages), "package"), found)

    def _files_cell(self, line: OrderLine) -> Cell:
        moved = _taken(self._run, line.id)
        gone = set(self._run.order.packages)
        own = [
            row.path
            for row, owners in self._run.index.rows_of(set(line.packages))
            if owners <= gone
            and not row.path.startswith(debian.ADMIN)
            and not (row.identity.type == "folder" and is_standard(row.path))
        ]
        there: dict[str, bool] = {}
        hidden: list[str] = []
        for path in dict.fromkeys([*moved, *own]):
            try:
                status = self._machine.lstat(path)
            except CouldNotRead:
                hidden.append(path)
                continue
            if status is not None and not self._only_kept(path, line):
                row = self._run.index.row(path)
                there[path] = row is None or row.identity.inode != status.st_ino
        found = self._still_there(line, there)
        looked = plural(len(moved) + len(own), "path")
        if stays := self._stays(line):
            looked += f"; {'; '.join(stays)}"
        why_not = f"{plural(len(hidden), 'path')} of {looked} may not be read: {hidden[0]}" if hidden else ""
        return with_state("files", looked, found, why_not, "look again with administrator rights")

    def _still_there(self, line: OrderLine, paths: dict[str, bool]) -> list[Finding]:
        """Each, with whether it is another than went, and whether it can be taken: no registry owns it, nobody's work is in it."""
        leftovers = Leftovers(self._machine, self._people, part_of(self._machine, paths))
        found = []
        for path, again in paths.items():
            stays = "its registry owns it" if path in self._owned else leftovers.why_it_stays(path)
            detail = "is there again" if again else "is still there"
            found.append(standing_at(line.id, path, detail, stays))
        return found

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


def _taken(run: Run, line: str = "") -> list[str]:
    """The places that the order took path by path, or had a registry take, of one line or of all."""
    found: list[str] = []
    for op in run.plan.operations:
        if line in ("", op.line):
            found += [op.path] if isinstance(op, Shelve) else op.paths if isinstance(op, Uninstall) else []
    return found


def _volumes(run: Run, result: RunResult | None, machine: Machine, held: AllHeld) -> list[VolumeResult]:
    """Promised against measured, per volume that the order promised anything for."""
    now = {v.id: v for v in read_volumes(machine)}
    made = []
    still_open = _still_open(run, list(now.values()), held)
    for promise in run.order.comes_back:
        volume = now.get(promise.volume)
        if volume is None:
            continue
        before = (result.volumes_before if result else {}).get(volume.id, volume.free)
        shelf = f"{volume.mount.rstrip('/')}/{SHELF}"
        waiting = allocated_below(machine, shelf, []) if machine.exists(shelf) else 0
        made.append(
            VolumeResult(
                volume.id,
                volume.mount,
                volume.capacity,
                before,
                volume.free,
                promise.now + promise.when_emptied + promise.when_ended,
                promise.now,
                waiting,
                still_open.get(volume.id, 0),
            )
        )
    return made


def _still_open(run: Run, volumes: list[Volume], held: AllHeld) -> dict[str, int]:
    """Bytes by volume of what the order took and processes keep open without a name."""
    found: dict[str, int] = {}
    nameless = {(h.path, h.bytes) for h in held.rows if h.deleted and h.bytes}
    if nameless:
        tops = _taken(run)
        listed = {row.path for row, _ in run.index.rows_of(set(run.order.packages))}
        for path, size in nameless:
            if path in listed or any(within(path, top) for top in tops):
                id = volume_of(volumes, path).id
                found[id] = found.get(id, 0) + size
    return found
