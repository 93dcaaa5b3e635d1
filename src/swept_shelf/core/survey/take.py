"""Takes a survey: one walk, every registry, all claims together; written as survey.json and survey.index."""

from __future__ import annotations

import uuid
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from swept_shelf import __version__
from swept_shelf.core.applications.assemble import Known, assemble
from swept_shelf.core.applications.graph import Graph, build_graph
from swept_shelf.core.belongings import stores
from swept_shelf.core.belongings.belong import Maker, strangers, without_strangers
from swept_shelf.core.belongings.claims import Claim, Place, candidates, claim_places, inner_claims
from swept_shelf.core.belongings.left_behind import find_left_behind
from swept_shelf.core.belongings.names import Declared, declared_places, distinct, own_names
from swept_shelf.core.belongings.ownership import Ownership
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, outermost, ways_up, within
from swept_shelf.core.documents.sizes import KINDS
from swept_shelf.core.documents.survey import (
    SURVEY_FORMAT,
    SURVEY_VERSION,
    Application,
    Belonging,
    BytesBy,
    ComesBack,
    Evidence,
    IndexFile,
    Installed,
    Kinds,
    Launcher,
    LeftBehind,
    NotRead,
    Origin,
    Person,
    Proof,
    Reference,
    Running,
    Start,
    Survey,
    SystemPart,
    Volume,
)  # fmt: skip
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE, person_of, read_people
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.references import Pointee, Pointees, find_references
from swept_shelf.core.references.pointees import bus_names
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.registries.debian.original import info_files
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.registries.launchers import read_launchers
from swept_shelf.core.registries.others import read_others
from swept_shelf.core.registries.unregistered import read as unregistered
from swept_shelf.core.survey.owners import owners
from swept_shelf.core.tree import Tree, walk
from swept_shelf.core.tree.index import write_index
from swept_shelf.core.tree.returning import returning_bytes
from swept_shelf.core.use import access_times, writes
from swept_shelf.core.use.judgement import judge

Progress = Callable[[str, int, int], None]
STEPS = ("volumes", "files and folders", "packages", "belongings", "references", "use", "writing")


def take_survey(machine: Machine, folder: str, processes: list[Process], progress: Progress = lambda *_: None,
                doubts: Iterable[NotRead] = ()) -> Survey:  # fmt: skip
    """Look at the whole machine and write `folder`/survey.json and survey.index.

    What cannot be read is listed in `not_read` and makes the survey incomplete; nothing is raised for it."""
    began = machine.now()
    not_read: list[NotRead] = list(doubts)
    progress(STEPS[0], 0, len(STEPS))
    volumes, people = read_volumes(machine), read_people(machine)
    progress(STEPS[1], 1, len(STEPS))
    tree = walk(machine)
    not_read += tree.not_read
    progress(STEPS[2], 2, len(STEPS))
    registry = _registry(machine, not_read)
    launchers, broken = read_launchers(machine, [p.home for p in people])
    not_read += broken
    ownership = Ownership(registry, tree)
    graph = build_graph(registry) if registry else Graph([], {}, set(), [], [])
    others, troubles = read_others(machine, tree, people)
    not_read += [t for t in troubles if t not in not_read]
    claimed = {path for r in others for path in r.launchers}
    free = [lf for lf in launchers if lf.path not in claimed]
    loose = unregistered.read(free, set(ownership.owner), tree, [p.home for p in people], [t for r in others for t in r.tops])
    known = assemble(registry, graph, launchers, loose, others)
    progress(STEPS[3], 3, len(STEPS))
    maker = Maker(tree, volumes)
    files = {a.id: _files(a, ownership, tree) for a in known.applications}
    belongings, left, places = _belongings(machine, tree, people, registry, ownership, known.applications, files, maker)
    progress(STEPS[4], 4, len(STEPS))
    pointees = [_pointee(a, files[a.id], ownership, belongings[a.id]) for a in known.applications]
    found = find_references(machine, people, set(ownership.owner), Pointees(pointees))
    references = {id: _not_own(refs, belongings[id], known.applications) for id, refs in found.references.items()}
    not_read += [n for rows in found.not_read.values() for n in rows if n not in not_read]
    progress(STEPS[5], 5, len(STEPS))
    made = [
        _application(a, p, machine, registry, tree, volumes, belongings[a.id], references.get(a.id, []), files, ownership,
                     processes, began)
        for a, p in zip(known.applications, pointees, strict=True)
    ]  # fmt: skip
    made = _versions(made)
    progress(STEPS[6], 6, len(STEPS))
    shared = stores.find_stores(tree, people, volumes)
    whose = owners(people, places, ownership, made, left, shared)
    digest = _write_index(folder, tree, registry, graph, ownership, whose, machine)
    survey = Survey(
        format=SURVEY_FORMAT, version=SURVEY_VERSION, id=str(uuid.uuid4()), surveyed_at=began, finished_at=machine.now(),
        complete=not not_read, tool=f"swept-shelf {__version__}", rights=rights(), index=IndexFile("survey.index", digest),
        machine=machine_facts(machine), volumes=volumes, people=people,
        evidence=Evidence(access_times.behaviour(volumes)),
        system=SystemPart(list(known.system_packages), _bytes_of(tree, (f for p in known.system_packages for f in ownership.files[p]))),
        applications=made, left_behind=left, shared_stores=shared, not_read=not_read,
    )  # fmt: skip
    (Path(folder) / "survey.json").write_bytes(to_json(survey))
    progress("done", len(STEPS), len(STEPS))
    return survey


def _registry(machine: Machine, not_read: list[NotRead]) -> DebianRegistry | None:
    if not debian.present(machine):
        return None
    try:
        registry = debian.read(machine)
    except CouldNotRead as error:
        not_read.append(NotRead(error.path or debian.ADMIN, error.reason))
        return None
    not_read += [NotRead(path, reason) for path, reason in registry.problems]
    return registry


def _files(app: Known, ownership: Ownership, tree: Tree) -> list[str]:
    """All files of its own part, or of its own folder."""
    if app.registry in ("files", "rpm"):
        inside = [tree.paths[i] for top in app.tops for i in tree.slice(top) if not tree.is_folder[i]]
        return sorted({*inside, *(lf.path for lf in app.launchers if lf.path in tree)})
    if app.registry != "debian":
        return sorted({*(t for t in app.tops if tree.kind(t) == "file"), *(e for e in app.executables if e in tree)})
    return sorted({f for p in app.own_packages for f in ownership.files[p]})


def _belongings(machine: Machine, tree: Tree, people: list[Person], registry: DebianRegistry | None, ownership: Ownership,
                apps: tuple[Known, ...], files: dict[str, list[str]], maker: Maker) -> tuple[dict[str, list[Belonging]], list[LeftBehind], list[Place]]:  # fmt: skip
    """Belongings per application, what was left behind, and the places that were looked at, from all claims together."""
    sources = {a.id: own_names(a, files[a.id]) for a in apps}
    names = distinct(sources)
    declared: dict[str, list[Declared]] = {a.id: list(declared_places(machine, tree, a, files[a.id])) for a in apps}
    places = candidates(tree, people, ownership.owner, ownership.folders)
    tops = sorted({t for a in apps for t in a.tops})
    given = [(a.id, d) for a in apps for d in a.data]
    taken = {*tops, *(d.path for _, d in given)}
    places = [p for p in places if not any(above in taken for above in ways_up(p.path))]
    claims = claim_places(places, tree, people, names, sources, declared)
    for id, d in given:
        places.append(Place(d.path, d.person, d.kind, d.path))
        claims.setdefault(d.path, []).append(Claim(id, "registered", d.reason, [Proof("registered", d.path)]))
    by_path = {p.path: p for p in places}
    made: dict[str, list[Belonging]] = {a.id: _registered(a, ownership, tree, maker, registry, people, tops) for a in apps}
    for path in sorted(claims):
        if not claims[path]:
            continue
        place = by_path.get(path)
        if place is None:
            outer = next(p for p in places if within(path, p.path))
            place = replace(outer, path=path, rest="")
        for id, belonging in maker.place(place, claims[path], inner_claims(claims, path)):
            made[id].append(belonging)
            for other in belonging.shared_with:
                made[other].append(replace(belonging, shared_with=sorted({id, *belonging.shared_with} - {other})))
    claimed = {p.path for p in places if any(within(c, p.path) and claims[c] for c in claims)}
    left = find_left_behind(registry, places, claimed, names, maker, tree)
    return made, left, places


def _registered(app: Known, ownership: Ownership, tree: Tree, maker: Maker, registry: DebianRegistry | None, people: list[Person],
                tops: list[str]) -> list[Belonging]:  # fmt: skip
    if app.registry != "debian":
        reason = "the folder its launcher starts from" if app.registry == "files" else f"registered: {app.source}"
        claim = Claim(app.id, "registered", reason, [Proof("registered", app.receipt)])
        made, own_tops = [], set(app.tops)
        for top in outermost(t for t in app.tops if t in tree):
            low, high = bisect_left(tops, top + "/"), bisect_left(tops, top + "0")
            inner = outermost(t for t in tops[low:high] if t not in own_tops)
            made.append(maker.make(top, person_of(people, top), "program", claim, [], True, inner))
        named = Claim(app.id, "registered", "its launcher", [Proof("registered", app.receipt)])
        loose = [lf.path for lf in app.launchers if lf.path in tree and not any(within(lf.path, t) for t in app.tops)]
        return made + [maker.make(path, person_of(people, path), "program", named, [], True) for path in loose]
    assert registry is not None
    own = set(app.own_packages)
    conffiles = {c.path for p in app.own_packages for c in registry.packages[p].conffiles if c.path in tree}
    listed = {f: p for p in app.own_packages for f in ownership.files[p]}
    files = sorted(f for f in listed if ownership.owner[f] and set(ownership.owner[f]) <= own)
    folders = ownership.own_folders(own)
    made = []
    for b in maker.registered(sorted({*files, *conffiles}), folders, listed, conffiles):
        if tree.kind(b.path) != "folder":
            made.append(b)
            continue
        strange = strangers(tree, b.path, ownership.owner, ownership.folders)
        made.append(without_strangers(b, strange, tree))
        claim = Claim(app.id, "matched", "lies inside its program’s own folder", [Proof("matched", b.path)])
        for path in strange:
            kind = "cache" if base(path) == "__pycache__" else "preferences" if within(path, "/etc") else "support"
            made.append(maker.make(path, EVERYONE, kind, claim, [], True))
    return made


def _pointee(app: Known, files: list[str], ownership: Ownership, belongings: list[Belonging]) -> Pointee:
    folders = [b.path for b in belongings if b.identity and b.identity.type == "folder" and b.share == "sole" and not b.personal]
    programs = {*app.executables, *(f for f in files if "/bin/" in f or "/sbin/" in f or "/games/" in f)}
    commands = {base(p) for p in programs if p.startswith(("/usr/", "/bin/", "/sbin/"))}
    return Pointee(
        app.id, tuple(sorted(commands)), tuple(sorted(programs)), tuple(sorted(folders)),
        tuple(lf.id for lf in app.launchers), bus_names(files),
        tuple(sorted({base(f) for f in files if "/systemd/" in f})),
    )  # fmt: skip


def _not_own(references: list[Reference], belongings: list[Belonging], apps: tuple[Known, ...]) -> list[Reference]:
    """References that do not lie inside what belongs to it anyway."""
    tops = [b.path for b in belongings if b.ticked]
    return [r for r in references if not any(within(r.path, t) for t in tops)]


def _bytes_of(tree: Tree, paths: Iterable[str]) -> int:
    return returning_bytes(tree.sized(tree.where[p]) for p in paths if p in tree.where)


def _application(app: Known, pointee: Pointee, machine: Machine, registry: DebianRegistry | None, tree: Tree, volumes: list[Volume],
                 belongings: list[Belonging], references: list[Reference], files: dict[str, list[str]], ownership: Ownership,
                 processes: list[Process], now: datetime) -> Application:  # fmt: skip
    belongings = sorted(belongings, key=lambda b: (KINDS.index(b.kind), -b.bytes, b.path))
    sums: dict[tuple[str, str, str], int] = defaultdict(int)
    for b in belongings:
        if b.share == "sole":
            sums[b.volume, b.person, b.kind] += b.bytes
    by_kind = {k: sum(n for (_, _, kind), n in sums.items() if kind == k) for k in KINDS}
    back = _comes_back(app, tree, volumes, belongings, ownership, machine, registry)
    programs = set(pointee.programs)
    running = [Running(p.pid, p.started, p.user) for p in processes
               if any(x in programs or any(within(x, t) for t in app.tops) for x in p.programs)]  # fmt: skip
    signs = writes.signs(belongings, app.installed_first, now)
    read = access_times.sign(tree, list(app.executables), app.installed_last, volumes, now)
    starts = [Start(r.kind, r.path, r.person, r.in_effect) for r in references if r.family == "startup" or r.kind == "unit link"]
    starts += [
        Start("unit", u, EVERYONE, any(r.kind == "unit link" and base(u) in (base(r.path), base(r.key)) for r in references))
        for u in app.units
    ]
    package = app.package
    return Application(
        id=app.id, name=app.name, version=app.version, registry=app.registry, type=app.type, state=app.state, summary=app.summary,
        publisher=app.publisher, homepage=app.homepage, icon=app.launchers[0].icon if app.launchers else "",
        categories=[c for lf in app.launchers for c in lf.categories], packages=list(app.packages), own_packages=list(app.own_packages),
        also_here_as=[], other_versions=[], installed=Installed(app.installed_first, app.installed_last),
        requested_by="" if app.asked_for is None else "asked for" if app.asked_for else "pulled in", why_here=list(app.why_here),
        needed_by=list(app.needed_by), protected=app.protected, held=bool(package and package.want == "hold"),
        origin=Origin(app.source, app.reinstallable),
        launchers=[Launcher(lf.path, lf.id, lf.name, lf.visible) for lf in app.launchers], executables=list(app.executables),
        starts=starts, running=running, bytes=Kinds(**by_kind),
        bytes_by=[BytesBy(v, p, k, n) for (v, p, k), n in sorted(sums.items())],
        comes_back=sum(c.total for c in back), comes_back_by=back,
        last_use=judge([*signs, *([read] if read else [])], [access_times.KIND, writes.KIND], app.type == "service", now),
        belongings=belongings, references=references, pointed_at=pointee_names(pointee),
    )  # fmt: skip


def pointee_names(pointee: Pointee) -> dict[str, list[str]]:
    """What others point at, kept in the survey so that a clearance can look when the application is gone."""
    return {"commands": list(pointee.commands), "programs": list(pointee.programs), "folders": list(pointee.folders),
            "launchers": list(pointee.launchers), "buses": list(pointee.buses), "units": list(pointee.units)}  # fmt: skip


def _comes_back(app: Known, tree: Tree, volumes: list[Volume], belongings: list[Belonging], ownership: Ownership, machine: Machine,
                registry: DebianRegistry | None) -> list[ComesBack]:  # fmt: skip
    """What an order of this application alone returns: its packages now, its ticked belongings when emptied."""
    now: dict[str, int] = defaultdict(int)
    later: dict[str, int] = defaultdict(int)
    gone = set(app.packages) if app.registry == "debian" else set()
    conffiles = {c.path for p in gone for c in registry.packages[p].conffiles} if registry else set()
    paths = [f for p in gone for f in ownership.files[p] if set(ownership.owner[f]) <= gone and f not in conffiles]
    paths += [f for f, names in ownership.folders.items() if names <= gone]
    if registry:
        paths += [f for p in gone for f in info_files(machine, registry.packages[p])]
    now[volumes[0].id] += _bytes_of(tree, paths)
    for b in belongings:
        if b.ticked and (app.tops or b.kind != "program" or b.proof != "registered"):
            part = [tree.sized(i) for i in tree.slice(b.path) if not any(within(tree.paths[i], x) for x in b.except_)]
            later[b.volume] += returning_bytes(part)
    return [ComesBack(v.id, now[v.id], later[v.id]) for v in volumes if now[v.id] or later[v.id]]


def _versions(apps: list[Application]) -> list[Application]:
    """Two versions of one program, and one program registered twice: the same name but for its number."""
    groups: dict[str, list[Application]] = defaultdict(list)
    for a in apps:
        groups[_same_name(a)].append(a)
    found = []
    for a in apps:
        others = [o for o in groups[_same_name(a)] if o.id != a.id]
        here_as = [o.id for o in others if o.registry != a.registry]
        found.append(replace(a, other_versions=[o.id for o in others if o.registry == a.registry], also_here_as=here_as))
    return found


def _same_name(app: Application) -> str:
    return app.name.rstrip("0123456789. ").lower()


def _write_index(folder: str, tree: Tree, registry: DebianRegistry | None, graph: Graph, ownership: Ownership,
                 whose: dict[str, str], machine: Machine) -> str:  # fmt: skip
    package_paths: list[tuple[str, str]] = []
    for path, names in ownership.owner.items():
        package_paths += [(n, path) for n in names]
    for path, listing in ownership.folders.items():
        package_paths += [(n, path) for n in listing]
    packages = list(registry.packages.values()) if registry else []
    for p in packages:
        package_paths += [(p.name, f) for f in info_files(machine, p) if f in tree]
    roots = {graph.names[i] for i in graph.roots}
    rows = [(p.name, p.version, p.name not in (registry.automatic if registry else ()), p.status, p.name in roots) for p in packages]
    edges = [(graph.names[a], graph.names[b], kind, choice) for a, b, kind, choice in graph.edges]
    return write_index(folder, tree, whose, rows, edges, package_paths)
