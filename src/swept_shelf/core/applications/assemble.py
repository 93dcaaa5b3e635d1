"""What an application is: every visible launcher, what was asked for that has a command or service of its own, and each older kernel.

The rest is the system. Each installed package is in one application's own part or in the system's."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime

from swept_shelf.core.applications.graph import Graph
from swept_shelf.core.applications.kernels import is_image, made_for, number_of
from swept_shelf.core.applications.protected import SYSTEM_PRIORITIES, Protection
from swept_shelf.core.documents.command_folders import COMMAND_FOLDERS
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.registries.debian.package import DebianRegistry, Package
from swept_shelf.core.registries.entry import Data, Registered
from swept_shelf.core.registries.launchers import LauncherFile, main_launcher

_COMMAND_PREFIXES = tuple(f"{f}/" for f in COMMAND_FOLDERS)
_UNIT_FOLDERS = ("/lib/systemd/system", "/usr/lib/systemd/system", "/usr/lib/systemd/user")


@dataclass(frozen=True, slots=True)
class Known:
    """One application before sizes, belongings, references and use are known."""

    id: str
    name: str
    version: str
    registry: str
    type: str
    state: str
    summary: str
    publisher: str
    homepage: str
    package: Package | None
    tops: tuple[str, ...]
    launchers: tuple[LauncherFile, ...]
    executables: tuple[str, ...]
    units: tuple[str, ...]
    packages: tuple[str, ...]
    own_packages: tuple[str, ...]
    needed_by: tuple[str, ...]
    why_here: tuple[str, ...]
    asked_for: bool | None
    installed_first: datetime | None
    installed_last: datetime | None
    protected: str | None
    source: str = "Debian packages"
    receipt: str = ""
    data: tuple[Data, ...] = ()
    reinstallable: bool | None = None
    asked_by: str = ""
    icon: str = ""


Commands = Mapping[str, tuple[str, ...]]  # programs that people call, by package


@dataclass(frozen=True, slots=True)
class Assembled:
    applications: tuple[Known, ...]
    system_packages: tuple[str, ...]


def assemble(
    registry: DebianRegistry | None,
    graph: Graph,
    launchers: list[LauncherFile],
    others: list[Registered],
    protection: Protection,
) -> Assembled:
    """All applications of the machine, sorted by name."""
    found: list[Known] = []
    system: list[str] = []
    if registry is not None:
        old = protection.old_kernels
        kernels = _kernel_parts(graph, old)
        commands = {p.name: commands_of(p) for p in registry.packages.values()}
        lent = _lent(registry, graph, launchers, commands)
        heads = _heads(registry, launchers, lent, commands)
        heads += _stood_for(registry, graph, heads, commands)
        heads = sorted({*heads, *kernels} - (set(old) - set(kernels)))
        own, ways = _own_parts(graph, heads) | kernels, graph.ways()
        first: dict[str, datetime] = {}
        for event in registry.history:
            if event.action == "install":
                first.setdefault(event.package.split(":")[0], event.at)
        for head in heads:
            known = _from_package(
                head, registry, graph, heads, launchers, lent, tuple(own[head]), ways, first, protection
            )
            found.append(_as_kernel(known, old) if head in kernels else known)
        taken = {p for parts in own.values() for p in parts}
        system = [n for n in graph.names if n not in taken]
    found += [_from_registry(r, launchers, protection) for r in others]
    return Assembled(tuple(sorted(found, key=lambda a: (a.name.lower(), a.id))), tuple(system))


def _lent(
    registry: DebianRegistry, graph: Graph, launchers: list[LauncherFile], commands: Commands
) -> dict[str, str]:
    """Launchers that lie in a package of data, by path, with the package of the same source that has the program which they start
    and needs that one: they are its launchers."""
    brought = {lf.path: lf.executable for lf in launchers}
    owners: dict[str, str] = {}
    for package in registry.packages.values():
        for file in commands[package.name] if package.installed else ():
            owners[file] = package.name
            owners.setdefault(base(file), package.name)
    found: dict[str, str] = {}
    for package in registry.packages.values():
        if not package.installed or commands[package.name] or brought.keys().isdisjoint(package.files):
            continue
        for path in package.files:
            program = owners.get(brought.get(path, ""), "")
            if not program or registry.packages[program].source != package.source:
                continue
            if graph.number[package.name] in graph.needs[graph.number[program]]:
                found[path] = program
    return found


def _heads(
    registry: DebianRegistry, launchers: list[LauncherFile], lent: Mapping[str, str], commands: Commands
) -> list[str]:
    """Packages that make an application."""
    with_launcher = {lf.path for lf in launchers if lf.visible and lf.path not in lent}
    shown_by_others = {lent[lf.path] for lf in launchers if lf.visible and lf.path in lent}
    heads = []
    for package in registry.packages.values():
        if not package.installed:
            continue
        shown = not with_launcher.isdisjoint(package.files)
        asked = package.name not in registry.automatic
        system = package.essential or package.priority in SYSTEM_PRIORITIES
        if (
            shown
            or package.name in shown_by_others
            or (asked and not system and (commands[package.name] or units_of(package)))
        ):
            heads.append(package.name)
    return sorted(heads)


def _stood_for(registry: DebianRegistry, graph: Graph, heads: list[str], commands: Commands) -> list[str]:
    """Programs that somebody asked for by another name: by a package of the same source that has none and needs one of those
    that are called like it."""
    found: list[str] = []
    for package in registry.packages.values():
        if not package.installed or package.name in registry.automatic or package.name in heads:
            continue
        if package.essential or package.priority in SYSTEM_PRIORITIES or commands[package.name]:
            continue
        for i in sorted({n for group in graph.hard[graph.number[package.name]] for n in group}):
            program = registry.packages[graph.names[i]]
            called_so = program.plain_name.startswith(f"{package.plain_name}-")
            if called_so and program.source == package.source and commands[program.name]:
                found.append(program.name)
    return [name for name in dict.fromkeys(found) if name not in heads]


def _kernel_parts(graph: Graph, old: Mapping[str, str]) -> dict[str, list[str]]:
    """Packages of older kernels by the one that all of them need: with it they go."""
    found: dict[str, list[str]] = {}
    taken: set[str] = set()
    for name in sorted(old):
        number = number_of(old[name])
        same = {n for n, release in old.items() if number_of(release) == number}
        if not any(graph.names[i] in same for i in graph.needs[graph.number[name]]):
            found[name] = [name, *(n for n in graph.goes_with({name}) if n in same - taken - {name})]
            taken |= set(found[name])
    return found


def _as_kernel(known: Known, old: Mapping[str, str]) -> Known:
    """By its release, with what is made for it when it is installed."""
    images = sorted(old[p] for p in known.own_packages if is_image(p))
    release = images[0] if images else old[known.own_packages[0]]
    made = [Data(made_for(r), EVERYONE, Kind.PROGRAM, "made for it, goes with its package") for r in images]
    name = f"Linux {release}" if images else f"Linux {release}, to build modules"
    return replace(known, name=name, type="kernel", data=tuple(made))


def commands_of(package: Package) -> tuple[str, ...]:
    return tuple(f for f in package.files if f.startswith(_COMMAND_PREFIXES) and parent(f) in COMMAND_FOLDERS)


def units_of(package: Package) -> tuple[str, ...]:
    return tuple(
        f
        for f in package.files
        if f.endswith((".service", ".timer", ".socket")) and parent(f) in _UNIT_FOLDERS
    )


def _own_parts(graph: Graph, heads: list[str]) -> dict[str, list[str]]:
    """Cut the packages into one part per application by the nearest application that dominates each."""
    idom = graph.dominators()
    head_numbers = {graph.number[h] for h in heads}
    own: dict[str, list[str]] = {h: [h] for h in heads}
    for i, name in enumerate(graph.names):
        if i in head_numbers:
            continue
        above = idom[i]
        while 0 <= above < len(graph.names) and above not in head_numbers:
            above = idom[above]
        if above in head_numbers and i not in graph.roots:
            own[graph.names[above]].append(name)
    return {h: sorted(parts, key=lambda n, h=h: (n != h, n)) for h, parts in own.items()}  # type: ignore[misc]


def _from_package(
    head: str,
    registry: DebianRegistry,
    graph: Graph,
    heads: list[str],
    launchers: list[LauncherFile],
    lent: Mapping[str, str],
    own: tuple[str, ...],
    ways: list[int],
    first: dict[str, datetime],
    protection: Protection,
) -> Known:
    package = registry.packages[head]
    files = set(package.files)
    mine = tuple(lf for lf in launchers if lent.get(lf.path, head if lf.path in files else "") == head)
    shown = main_launcher(mine, package.plain_name)
    goes = graph.goes_with({head})
    needs = graph.dependents({graph.number[head]}) - {graph.number[head]}
    needed_by = tuple(f"debian:{graph.names[i]}" for i in sorted(needs) if graph.names[i] in heads)
    asked = registry.asked.get(package.plain_name)
    offered = registry.offered
    native = next(
        (p.architecture for p in registry.packages.values() if p.plain_name == "dpkg"), package.architecture
    )
    foreign = package.architecture not in (native, "all")
    commands, units = commands_of(package), units_of(package)
    if not commands:
        commands = tuple(f for lf in mine if (f := lf.executable) in files)
    served = bool(units) and all("/sbin/" in c for c in commands)
    kind = "desktop" if shown else "service" if served else "terminal"
    chain = graph.why(head, ways)
    names = {c: registry.packages[c].plain_name for c in chain}
    state = {"installed": "installed", "triggers-pending": "installed", "triggers-awaited": "installed"}.get(
        package.status, f"broken: {package.status}"
    )
    return Known(
        id=f"debian:{head}",
        name=shown.name if shown else package.plain_name,
        version=package.version,
        registry="debian",
        type=kind,
        state=state,
        summary=shown.comment if shown and shown.comment else package.summary,
        publisher=re.sub(r"\s*<[^>]*>", "", package.maintainer),
        homepage=package.homepage,
        package=package,
        tops=(),
        launchers=mine,
        executables=commands,
        units=units,
        source=f"Debian packages of {package.architecture}" if foreign else "Debian packages",
        icon=(shown or mine[0]).icon if mine else "",
        packages=tuple(sorted(goes, key=lambda n: (n != head, n))),
        own_packages=own,
        needed_by=needed_by,
        why_here=tuple(names[c] for c in chain[:-1]),
        asked_for=head not in registry.automatic,
        installed_first=first.get(package.plain_name) or (asked.at if asked else None),
        installed_last=package.changed_at,
        asked_by=asked.person if asked else "",
        protected=protection.application(f"debian:{head}")
        or protection.package(head)
        or protection.taking(goes),
        reinstallable=None
        if offered is None
        else all(registry.packages[p].plain_name in offered for p in own),
    )


def _from_registry(told: Registered, launchers: list[LauncherFile], protection: Protection) -> Known:
    wanted = set(told.launchers)
    mine = tuple(
        lf
        for lf in launchers
        if lf.path in wanted
        or any(within(lf.executable, t) for t in told.tops if told.registry == "appimage")
    )
    return Known(
        id=told.id,
        name=told.name,
        version=told.version,
        registry=told.registry,
        type=told.type,
        state=told.state,
        summary=told.summary,
        publisher=told.publisher,
        homepage=told.homepage,
        package=None,
        tops=told.tops,
        launchers=mine,
        executables=told.executables,
        units=(),
        packages=told.packages,
        own_packages=told.own_packages,
        needed_by=told.needed_by,
        why_here=told.why_here,
        asked_for=told.asked_for,
        installed_first=told.installed_first,
        installed_last=told.installed_last,
        protected=told.protected or protection.application(told.id),
        source=told.source,
        receipt=told.receipt,
        data=told.data,
        reinstallable=told.reinstallable,
        icon=told.icon or (mine[0].icon if mine else ""),
    )
