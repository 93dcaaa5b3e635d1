"""Whether anything of a name is left anywhere: of an application that an earlier survey knew, or of a name alone, however it was
removed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from swept_shelf.core.belongings.common import is_distinctive, normal
from swept_shelf.core.clearance.cells import (
    homes_missing,
    looked_in,
    mentions_of,
    not_to_be_taken,
    processes_cell,
    references_cell,
    said_of,
    with_state,
)
from swept_shelf.core.clearance.findings import standing, standing_at
from swept_shelf.core.clearance.registered import LET_IT_MEND, is_installed, registered
from swept_shelf.core.clearance.remnants import Leftovers, Remnant, write_remnants
from swept_shelf.core.documents.clearance import FAMILIES, Cell, Finding
from swept_shelf.core.documents.paths import base, outermost
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import NotRead, Person
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.trace import TRACE_FORMAT, TRACE_VERSION, Trace
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.held import AllHeld
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import homes_not_there, read_people
from swept_shelf.core.references.find import FAMILIES_IN_HOMES, find_references
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.others import read_others
from swept_shelf.core.tree.elsewhere import in_tree
from swept_shelf.core.tree.walk import Tree, walk

Progress = Callable[[str, int, int], None]
_KEPT = ("/var/lib/dpkg/", "/var/lib/apt/", "/var/cache/apt/", "/proc/", "/sys/")
_ENDINGS = (
    ".desktop",
    ".service",
    ".timer",
    ".socket",
    ".conf",
    ".list",
    ".log",
    ".xml",
    ".rules",
    ".png",
    ".svg",
)


def named_only(name: str) -> Pointee:
    """What a name alone may be: a path, a program, a package, a launcher, a unit, an account, a name on the bus."""
    if name.startswith("/"):
        return Pointee(name, programs=(name,), folders=(name,))
    stem = next((name.removesuffix(e) for e in (".desktop", ".service") if name.endswith(e)), name)
    return Pointee(
        name,
        commands=(stem,),
        programs=tuple(
            f"{folder}/{stem}" for folder in ("/usr/bin", "/usr/sbin", "/usr/games", "/usr/local/bin")
        ),
        folders=tuple(
            f"{folder}/{stem}" for folder in ("/opt", "/usr/lib", "/usr/share", "/var/lib", "/etc")
        ),
        launchers=(f"{stem}.desktop",),
        buses=(stem,) if "." in stem else (),
        units=tuple(f"{stem}.{kind}" for kind in ("service", "timer", "socket", "path")),
        packages=(stem,),
        accounts=(stem, f"_{stem}"),
        names=(stem,),
    )


def trace(
    machine: Machine,
    held: AllHeld,
    name: str,
    pointee: Pointee,
    known_since: datetime | None,
    progress: Progress = lambda *_: None,
    remnants: Path | None = None,
) -> Trace:
    """Look in every family for what points at `pointee`, and for what is called like it. What can be taken out is written into
    the folder `remnants` as a survey."""
    began = machine.now()
    progress("references", 0, 2)
    people = read_people(machine)
    states, owned, trouble = registered(machine)
    tree = walk(machine)
    reading = Reading(machine, tree, people)
    known = [e for e in read_others(reading) if _is_called_so(pointee, e)]
    found = find_references(machine, people, owned, Pointees([pointee]), in_tree(tree))
    homes_missing(found, FAMILIES_IN_HOMES, homes_not_there(machine))
    progress("files and folders", 1, 2)
    looker = _Looker(
        pointee, machine, people, found, states, known, reading.not_read, owned, trouble, tree, held
    )
    cells = [looker.cell(f) for f in FAMILIES]
    here = (
        bool(known)
        or is_installed(states, pointee.packages)
        or any(machine.resolve(p) is not None for p in pointee.programs)
    )
    if here:
        cells = [not_to_be_taken(cell) for cell in cells]
    left = None
    if remnants is not None and not here:
        places = [f.path for c in cells for f in c.findings if f.kind == "path" and f.action == "take_out"]
        references = list(found.references.get(pointee.id, ()))
        remnant = Remnant(pointee.id, name, pointee.as_names(), references, places)
        left = write_remnants(machine, people, remnants, [remnant], "trace")
    not_read = [*reading.not_read, *(n for rows in found.not_read.values() for n in rows)]
    if trouble:
        not_read.append(NotRead(debian.ADMIN, trouble))
    progress("done", 2, 2)
    return Trace(
        TRACE_FORMAT,
        TRACE_VERSION,
        began,
        machine.now(),
        machine_facts(machine),
        name,
        pointee.id if known_since else "",
        known_since,
        pointee.as_names(),
        cells,
        list(dict.fromkeys([*not_read, *tree.not_read])),
        mentions_of(pointee.id, found, machine),
        rights(),
        looked_in(found),
        found.searched,
        left.id if left else "",
    )


@dataclass(frozen=True, slots=True)
class _Looker:
    pointee: Pointee
    machine: Machine
    people: list[Person]
    found: Found
    states: dict[str, str]
    known: list[Registered]
    unread: list[NotRead]
    owned: dict[str, str]
    trouble: str
    tree: Tree
    held: AllHeld

    def cell(self, family: str) -> Cell:
        if family == "processes":
            return processes_cell(self.pointee, (), self.held)
        cell = references_cell(self.pointee.id, family, self.found, self.machine, self.people)
        if family == "registry":
            looked = plural(len(self.states), "package")
            why = (self.trouble, LET_IT_MEND) if self.trouble else said_of(self.unread, self.people)
            return self._with(cell, looked, self._registered(), *why)
        if family == "files":
            looked = plural(len(self.tree.paths), "path")
            return self._with(cell, looked, self._standing(), *said_of(self.tree.not_read, self.people))
        return cell

    def _with(self, cell: Cell, looked: str, more: list[Finding], why_not: str, helps: str) -> Cell:
        """The cell of what points at it, with what else its family holds."""
        if not why_not:
            why_not, helps = cell.looked_at if cell.state == Looked.COULD_NOT_LOOK else "", cell.helps
        return with_state(cell.family, looked, [*more, *cell.findings], why_not, helps)

    def _registered(self) -> list[Finding]:
        return [
            standing(
                self.pointee.id,
                f"{debian.ADMIN}/status",
                "the registry knows it",
                text=f"{p}: {self.states[p]}",
            )
            for p in self.pointee.packages
            if self.states.get(p, "not-installed") != "not-installed"
        ] + [
            standing(
                self.pointee.id,
                e.receipt or next(iter(e.tops), ""),
                "the registry knows it",
                text=f"{e.registry}: {e.name} {e.version}",
            )
            for e in self.known
        ]

    def _standing(self) -> list[Finding]:
        """What is called like it; what a registry owns goes by that registry alone."""
        pointed = {r.path for r in self.found.references.get(self.pointee.id, ())}
        leftovers = Leftovers(self.machine, self.people, self.tree)
        found = []
        for path in _called_like(self.pointee, self.tree):
            if path in pointed:
                continue
            inside = (self.tree.paths[i] for i in self.tree.slice(path))
            listed = any(p in self.owned for p in inside)
            stays = "its registry owns it" if listed else leftovers.why_it_stays(path)
            found.append(standing_at(self.pointee.id, path, "is there", stays))
        return found


def _is_called_so(pointee: Pointee, entry: Registered) -> bool:
    """Whether a registry's application is what is asked about: by its id, a name of it, or a place."""
    called = {pointee.id, *pointee.packages, *pointee.names, *pointee.commands}
    if called & {
        entry.id,
        entry.id.partition(":")[2],
        entry.name,
        *entry.packages,
        *map(base, entry.executables),
    }:
        return True
    if set(pointee.launchers) & {base(x) for x in entry.launchers}:
        return True
    return not {*pointee.programs, *pointee.folders}.isdisjoint({*entry.tops, *entry.executables})


def _called_like(pointee: Pointee, tree: Tree) -> list[str]:
    """Its own places that are there, and whatever else is called like it; the outermost of them."""
    names = {normal(n) for n in (*pointee.names, *pointee.packages, *pointee.commands) if is_distinctive(n)}
    own = [p for p in (*pointee.programs, *pointee.folders) if p in tree]
    for path in tree.paths[1:]:
        name = base(path).lstrip(".")
        stem = next((name.removesuffix(e) for e in _ENDINGS if name.endswith(e)), name)
        if normal(stem) in names and not path.startswith(_KEPT):
            own.append(path)
    return outermost(own)
