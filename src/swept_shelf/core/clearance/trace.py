"""Whether anything of a name is left anywhere: of an application that an earlier survey knew, or of a name alone, however it was
removed."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from swept_shelf.core.belongings.common import is_distinctive, normal
from swept_shelf.core.clearance.findings import finding_of
from swept_shelf.core.clearance.registered import registered
from swept_shelf.core.documents.clearance import FAMILIES, Cell, Finding
from swept_shelf.core.documents.paths import base, outermost, within
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.trace import TRACE_FORMAT, TRACE_VERSION, Trace
from swept_shelf.core.machine.facts import machine_facts
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.references import Found, Pointee, Pointees, find_references
from swept_shelf.core.registries.debian import read as debian
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
    processes: list[Process],
    name: str,
    pointee: Pointee,
    known_since: datetime | None,
    progress: Progress = lambda *_: None,
) -> Trace:
    """Look in every family for what points at `pointee`, and for what is called like it."""
    began = machine.now()
    progress("references", 0, 2)
    people = read_people(machine)
    states, owned, trouble = registered(machine)
    found = find_references(machine, people, owned, Pointees([pointee]))
    progress("files and folders", 1, 2)
    tree = walk(machine)
    cells = [_cell(f, pointee, machine, found, states, trouble, tree, processes) for f in FAMILIES]
    not_read = [n for rows in found.not_read.values() for n in rows]
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
    )


def _cell(
    family: str,
    pointee: Pointee,
    machine: Machine,
    found: Found,
    states: dict[str, str],
    trouble: str,
    tree: Tree,
    processes: list[Process],
) -> Cell:
    findings = [finding_of(r, machine) for r in found.references.get(pointee.id, ()) if r.family == family]
    looked, why_not = plural(found.looked_at.get(family, 0), "file"), ""
    if unread := found.not_read.get(family):
        why_not = f"{unread[0].path}: {unread[0].reason}"
    if family == "registry":
        looked, why_not = plural(len(states), "package"), trouble or why_not
        findings += [
            Finding(f"{debian.ADMIN}/status", 0, f"{p}: {states[p]}", "the registry knows it", [], [])
            for p in pointee.packages
            if states.get(p, "not-installed") != "not-installed"
        ]
    elif family == "files":
        pointed = {r.path for r in found.references.get(pointee.id, ())}
        looked = plural(len(tree.paths), "path")
        findings += [
            Finding(p, 0, p, "is there", [], []) for p in _called_like(pointee, tree) if p not in pointed
        ]
        if tree.not_read and not why_not:
            why_not = f"{tree.not_read[0].path}: {tree.not_read[0].reason}"
    elif family == "processes":
        programs = set(pointee.programs)
        looked = plural(len(processes), "process", "processes")
        findings += [
            Finding(p.programs[0], 0, f"process {p.pid}", f"runs ({p.user})", [], [])
            for p in processes
            if any(x in programs or any(within(x, f) for f in pointee.folders) for x in p.programs)
        ]
        if hidden := sum(not p.could_look for p in processes):
            why_not = f"{plural(hidden, 'process', 'processes')} of others may not be looked at"
    if findings:
        return Cell(family, Looked.FOUND, looked, findings)
    return (
        Cell(family, Looked.COULD_NOT_LOOK, why_not, [])
        if why_not
        else Cell(family, Looked.CLEAR, looked, [])
    )


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
