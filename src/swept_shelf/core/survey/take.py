"""Takes a survey: one walk, every registry, all claims together; written as survey.json and survey.index."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import datetime
from functools import cache, partial
from pathlib import Path

from swept_shelf import __version__
from swept_shelf.core.applications.assemble import assemble
from swept_shelf.core.applications.graph import Graph, build_graph
from swept_shelf.core.applications.protected import Protection
from swept_shelf.core.belongings import stores
from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.corrections import Rule
from swept_shelf.core.belongings.made_by_packages import taken_by_purges
from swept_shelf.core.belongings.ownership import Ownership
from swept_shelf.core.belongings.store_parts import parts_of
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.sizes import grouped
from swept_shelf.core.documents.survey import (
    SURVEY_FORMAT,
    SURVEY_VERSION,
    Application,
    Belonging,
    IndexFile,
    LeftBehind,
    NotRead,
    Obstacle,
    Reference,
    SharedStore,
    Survey,
    SystemPart,
    Volume,
)
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.core.documents.wire import json_parts, make_ready
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.partner import Partner
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.machine.volumes import devices_of, read_volumes
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.registries.debian.original import info_listing
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.launchers import read_launchers
from swept_shelf.core.registries.others import read_others
from swept_shelf.core.registries.unregistered import read as unregistered
from swept_shelf.core.survey import obstacles
from swept_shelf.core.survey.accounts import accounts_of
from swept_shelf.core.survey.accounts_in_use import accounts_in_use
from swept_shelf.core.survey.attribution import belongings_of, files_of
from swept_shelf.core.survey.entry import application, pointee_of, versions
from swept_shelf.core.survey.ground import Before, Ground
from swept_shelf.core.survey.owners import owners
from swept_shelf.core.survey.returning import Returning
from swept_shelf.core.survey.so_far import Teller
from swept_shelf.core.survey.use import look_for_use, uses_by
from swept_shelf.core.tree.elsewhere import Elsewhere, Inode, in_tree
from swept_shelf.core.tree.extents import SHARING
from swept_shelf.core.tree.index import IndexedPackage
from swept_shelf.core.tree.remember import TRUSTED
from swept_shelf.core.tree.walk import walk
from swept_shelf.core.tree.write_index import IndexWriter, inherited_owners

Progress = Callable[[str, int, int], None]
_LARGE = 50_000  # paths of a machine that more than one process works on
STEPS = ("volumes", "packages", "files and folders", "belongings", "references", "use", "writing")


def take_survey(
    machine: Machine,
    folder: str,
    processes: list[Process],
    progress: Progress = lambda *_: None,
    doubts: Iterable[NotRead] = (),
    volumes: list[Volume] | None = None,
    in_the_way: Iterable[Obstacle] = (),
    before: Before | None = None,
    ours: Iterable[tuple[datetime, datetime]] = (),
    rules: Iterable[Rule] = (),
    so_far: Callable[[SoFar], None] | None = None,
) -> Survey:
    """Look at the whole machine and write `folder`/survey.json and survey.index.

    `before`: what may be taken from an earlier survey where folders have not changed; `volumes`, `in_the_way`: as they
    were found before everything was mounted read-only to be looked at.
    `ours`: when this program worked on this machine before: times that fall there are no evidence.
    `rules`: corrections by technicians. `so_far`: told whenever more is known, see `Teller`.
    What cannot be read is listed in `not_read` and makes the survey incomplete; nothing is raised for it."""
    began = machine.now()
    not_read: list[NotRead] = list(doubts)
    progress(STEPS[0], 0, len(STEPS))
    volumes, people = volumes or read_volumes(machine), read_people(machine)
    progress(STEPS[1], 1, len(STEPS))
    with ThreadPoolExecutor(1) as beside:  # the walk waits for find(1) most of its time
        walking = beside.submit(
            walk,
            machine,
            told=lambda n: progress(f"{STEPS[2]}, {grouped(n)} so far", 2, len(STEPS)),
            before=before.folder if before else "",
        )
        registry = _registry(machine, not_read)
        graph = build_graph(registry) if registry else Graph([], {}, set(), [], [])
        launchers, broken = read_launchers(machine, [p.home for p in people])
        not_read += broken
        protection = Protection(machine, registry)
        not_read += [NotRead(path, reason) for path, reason in protection.problems]
        teller = Teller(folder, machine, began, volumes, people, so_far)
        if registry is not None and so_far is not None:
            teller.registered(assemble(registry, graph, launchers, [], protection).applications, registry)
        progress(STEPS[2], 2, len(STEPS))
        make_ready(Survey)
        tree = walking.result()
    not_read += tree.not_read
    large = len(tree.paths) > _LARGE  # now: what the walk printed is let go of
    tree.find_shared(devices_of(machine, [v for v in volumes if v.file_system in SHARING]))
    if registry is not None:
        registry = registry.with_texts_of(tree.texts_of)

    def trouble(path: str, reason: str) -> None:
        if (row := NotRead(path, reason)) not in not_read:
            not_read.append(row)

    ownership = Ownership(registry, tree)
    ground = Ground(
        machine,
        tree,
        people,
        volumes,
        registry,
        ownership,
        info_listing(machine) if registry else {},
        folder,
        before.folder if before else "",
    )
    reading = Reading(machine, tree, people)
    others = [r for r in read_others(reading) if r.tops and not ownership.lists(r.tops[0])]
    not_read += [t for t in reading.not_read if t not in not_read]
    claimed = {path for r in others for path in r.launchers}
    free = [lf for lf in launchers if lf.path not in claimed and lf.path not in ownership.owner]
    loose: list[Registered] = []
    with fence("/opt", trouble):
        loose = unregistered.read(reading, free, ownership.owner, ownership.folders)
    known = assemble(registry, graph, launchers, [*others, *loose], protection)
    by_package = {p: a.id for a in known.applications if a.registry == "debian" for p in a.own_packages}
    likely = partial(owners, people, ownership, by_package)
    owned = registry is not None or any(r.registry == "rpm" for r in others)
    index = Partner(
        partial(_write, _index_writer(folder, ground, graph, protection, likely), ground, owned), beside=large
    )
    index.ask(None)
    progress(STEPS[3], 3, len(STEPS))
    files = {a.id: files_of(a, ground) for a in known.applications}
    teller.sized(known.applications, files, ground)
    belongings, left, places, unread, common = belongings_of(
        ground, known.applications, files, processes, rules, known.system_packages
    )
    progress(STEPS[4], 4, len(STEPS))
    pointees = [pointee_of(a, files[a.id], belongings[a.id], tree) for a in known.applications]
    listed = listed_by(files)
    to = Pointees(pointees, listed)
    elsewhere = in_tree(tree)
    several = files_with_names(elsewhere, listed)
    found = find_references(machine, people, shipped(registry, ownership), to, elsewhere, several)
    look = look_for_use(ground, known, files, belongings, found.references, to, processes, began, ours)
    using = Partner(partial(uses_by, look), beside=large)
    using.ask(began)
    references = {
        a.id: _not_own([*found.references.get(a.id, ()), *found.mentions.get(a.id, ())], belongings[a.id])
        for a in known.applications
    }
    references = {id: accounts_in_use(refs, tree, machine, belongings[id]) for id, refs in references.items()}
    not_read += [n for rows in found.not_read.values() for n in rows if n not in not_read]
    returning = Returning(ground)
    drafts = versions(
        [
            application(a, p, ground, returning, belongings[a.id], references.get(a.id, []), processes)
            for a, p in zip(known.applications, pointees, strict=True)
        ]
    )
    teller.all_but_use(drafts, left)
    entries: list[Application | LeftBehind] = [*drafts, *left]
    taken = [b.path for entry in entries for b in entry.belongings if b.is_path]
    shared: list[SharedStore] = []
    with fence("shared stores", trouble):
        shared = stores.find_stores(tree, people, volumes, began, taken, reading.kept)
    maker = Maker(tree, volumes)
    with fence("what shared stores hold", trouble):
        shared = [replace(s, belongings=parts_of(s, tree, maker)) for s in shared]
    whose = inherited_owners(tree, owners(people, ownership, by_package, places, entries, shared, common))
    index.ask(whose)
    progress(STEPS[5], 5, len(STEPS))
    uses = using.answer()
    not_read += [n for n in uses.not_read if n not in not_read]
    machine.odd.update(uses.odd)
    made = [replace(a, last_use=uses.last[a.id]) for a in drafts]
    progress(STEPS[6], 6, len(STEPS))
    for path, reason in machine.odd.items():
        if not any(n.path == path for n in not_read):
            not_read.append(NotRead(path, reason))
    in_the_way = [*in_the_way, *(obstacles.of_packages(machine, registry) if registry else ())]
    index_file = cache(lambda: IndexFile("survey.index", index.answer()))
    survey = Survey(
        format=SURVEY_FORMAT,
        version=SURVEY_VERSION,
        id=str(uuid.uuid4()),
        surveyed_at=began,
        finished_at=machine.now(),
        complete=not not_read,
        tool=f"swept-shelf {__version__}",
        rights=rights(),
        index=IndexFile("survey.index", ""),
        machine=machine_facts(machine),
        volumes=volumes,
        people=people,
        evidence=replace(
            uses.evidence,
            folder_times_trusted=[TRUSTED] if tree.reused else [],
            trusted_since=before.since if before and tree.reused else None,
        ),
        system=SystemPart(
            list(known.system_packages),
            tree.returning(ownership.places_of(known.system_packages)),
            taken_by_purges(known.system_packages, machine, tree, ownership, [p.home for p in people]),
        ),
        in_the_way=in_the_way,
        accounts=accounts_of(machine, tree, volumes, whose, in_the_way, [n.path for n in not_read]),
        programs_not_read=unread,
        common=common,
        applications=made,
        left_behind=left,
        shared_stores=shared,
        not_read=not_read,
    )
    with open(Path(folder) / "survey.json", "wb") as out:
        out.writelines(json_parts(survey, {"index": index_file}))
    for partner in (using, index):
        partner.close()
    progress("done", len(STEPS), len(STEPS))
    return replace(survey, index=index_file())


def _registry(machine: Machine, not_read: list[NotRead]) -> DebianRegistry | None:
    if not debian.present(machine):
        return None
    registry: DebianRegistry | None = None
    with fence(debian.ADMIN, lambda path, reason: not_read.append(NotRead(path, reason)), memory=1 << 30):
        registry = debian.read(machine)
    if registry is None:
        return None
    not_read += [NotRead(path, reason) for path, reason in registry.problems]
    return registry


def listed_by(files: dict[str, list[str]]) -> dict[str, str]:
    """Whose each file is that an application's packages list; "" for one that several have."""
    found: dict[str, str] = {}
    for id, paths in files.items():
        for path in paths:
            found[path] = id if found.get(path, id) == id else ""
    return found


def files_with_names(elsewhere: Elsewhere, whose: Mapping[str, str]) -> dict[Inode, str]:
    """Application of each file that has several names, one of them in its own list."""
    found = {}
    for file, paths in elsewhere.names.items():
        if id := next((whose[p] for p in paths if whose.get(p)), ""):
            found[file] = id
    return found


def shipped(registry: DebianRegistry | None, ownership: Ownership) -> dict[str, str]:
    """What the registry owns, with the sum of each settings file as it came."""
    packages = registry.packages.values() if registry else ()
    return dict.fromkeys(ownership.owner, "") | {c.path: c.md5 for p in packages for c in p.conffiles}


def _not_own(references: list[Reference], belongings: list[Belonging]) -> list[Reference]:
    """References that do not lie inside what belongs to it anyway."""
    tops = [b.path for b in belongings if b.ticked]
    return [r for r in references if not any(within(r.path, t) for t in tops)]


def _write(index: IndexWriter, ground: Ground, owned: bool, whose: list[str] | None) -> str:
    """The index, and, first, what the next walk may take from this one where a registry `owned` it: what was not read must be named
    again."""
    if whose is None and owned and not any(within(n.path, TRUSTED) for n in ground.tree.not_read):
        ground.tree.keep(ground.folder)
    return index(whose)


def _index_writer(
    folder: str, ground: Ground, graph: Graph, protection: Protection, likely: Callable[[], dict[str, str]]
) -> IndexWriter:
    tree, registry, ownership = ground.tree, ground.registry, ground.ownership
    packages = list(registry.packages.values()) if registry else []
    automatic = registry.automatic if registry else frozenset[str]()

    def package_paths() -> Iterator[tuple[str, str]]:
        for listed in (ownership.owner, ownership.folders):
            for path, names in listed.items():
                yield from ((name, path) for name in names)
        for package in packages:
            yield from ((package.name, path) for path in ground.info_files(package.name) if path in tree)

    def rows() -> Iterator[IndexedPackage]:
        roots = {graph.names[i] for i in graph.roots}
        for p in packages:
            size = int(tree.blocks[ownership.places[p.name]].sum())
            asked_for, hindered = p.name not in automatic, protection.hindering(p.name)
            yield IndexedPackage(p.name, p.version, asked_for, p.status, p.name in roots, size, hindered)

    def edges() -> Iterator[tuple[str, str, str, int]]:
        return ((graph.names[a], graph.names[b], kind, choice) for a, b, kind, choice in graph.edges)

    return IndexWriter(folder, tree, rows, edges, package_paths, likely)
