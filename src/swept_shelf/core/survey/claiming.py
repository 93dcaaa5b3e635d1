"""Every application's claims to every candidate place: level by level, proof by proof."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.candidates import (
    Place,
    below,
    candidates,
    common_places,
    files_of_stores,
    parts_of_common,
)
from swept_shelf.core.belongings.claims import INSIDE, Claim, claim_places, inherit
from swept_shelf.core.belongings.common import normal, stem
from swept_shelf.core.belongings.corrections import Rule
from swept_shelf.core.belongings.left_behind import gone_packages
from swept_shelf.core.belongings.literals import Literals, find_literals, program_files
from swept_shelf.core.belongings.made_by_packages import (
    links_to_own_files,
    owned_by_its_user,
    places_made,
    registered_names,
    settings_kept,
)
from swept_shelf.core.belongings.named_inside import (
    claim_by_database_ids,
    claim_by_literals,
    database_ids,
    literals_of,
)
from swept_shelf.core.belongings.names import Declared, declared_places, distinct, own_names, without_toolkits
from swept_shelf.core.belongings.objects import AccountsMade
from swept_shelf.core.belongings.prefixes import installed_beside, libraries, may_need
from swept_shelf.core.belongings.read_before import ReadBefore
from swept_shelf.core.belongings.seen import claim_by_sight
from swept_shelf.core.belongings.surroundings import claim_by_surroundings, names_set, places_set
from swept_shelf.core.belongings.told import apply_rules
from swept_shelf.core.belongings.workshops import Workshops, tops_of
from swept_shelf.core.documents.paths import base, parent, ways_up, within
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import PARTS, By
from swept_shelf.core.machine.base_folders import base_folders
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.survey.ground import Ground
from swept_shelf.core.tree.walk import Tree

_SECONDS = 180.0
_PROGRAMS = (
    "/usr/bin/",
    "/usr/lib",
    "/usr/sbin/",
    "/usr/games/",
    "/lib",
)  # of packages that no application has for itself


@dataclass(frozen=True, slots=True)
class Claimed:
    """`places`: candidates, those of deeper levels only where somebody claims them; `first`: those directly in the standard
    folders; `names`: distinctive name to application; `system_names`: places that only the system's programs name, with the one
    that does; `whose`: application of each program file; `folders`: per home where its standard folders are; `not_read`:
    programs that were not searched."""

    places: list[Place]
    first: list[Place]
    claims: dict[str, list[Claim]]
    names: dict[str, str]
    system_names: dict[str, Proof]
    whose: dict[str, str]
    folders: dict[str, dict[str, str]]
    not_read: list[tuple[str, str]]


def _may_say(tree: Tree, people: Iterable[Person], told: Declared) -> bool:
    """What stands in a person's file counts for homes, and elsewhere for what is that person's throughout."""
    whose = next((p for p in people if within(told.source, p.home) and p.uid != 0), None)
    return (
        whose is None
        or not told.place.startswith("/")
        or within(told.place, whose.home)
        or tree.all_owned_by(told.place, whose.uid)
    )


def _by_literals_alone(claims: list[Claim]) -> bool:
    return all(
        c.proof == By.DECLARED and c.reason == INSIDE and all(e.proof == By.DECLARED for e in c.evidence)
        for c in claims
    )


def _in_use_by(
    library: str,
    literals: Literals,
    libraries_here: Mapping[str, str],
    whose: Mapping[str, str],
    claims: Mapping[str, list[Claim]],
) -> set[str]:
    """Applications whose programs and plug-ins hold the name of a library, the library itself apart; "" for anything else."""

    def user(path: str) -> str:
        around = next((claims[up] for up in ways_up(path) if claims.get(up)), [])
        return whose.get(path) or (around[0].id if len(around) == 1 else "")

    written = {library, *(base(f) for f, called in libraries_here.items() if called == library)}
    holders = {f for name in written for f in literals.holders.get(name, ())}
    return {user(f) for f in holders if libraries_here.get(f) != library}


def _makers_parts(claims: dict[str, list[Claim]]) -> None:
    """A folder that programs only name, with parts called like several applications, is their maker's: each has its part."""
    inside: dict[str, list[str]] = {}
    for path, mine in claims.items():
        if mine and claims.get(parent(path)) and _by_literals_alone(claims[parent(path)]):
            inside.setdefault(parent(path), []).append(path)
    for top in sorted(
        inside, key=lambda t: -t.count("/")
    ):  # the inner of two first: an outer one may take it whole
        parts = inside[top]
        whose = {c.id for p in parts for c in claims[p] if not c.part}
        naming = {c.id for c in claims[top]}
        if whose == naming and len(whose) == 1:
            for path in parts:
                claims.pop(path)
        elif len(whose) > 1 or (whose and whose < naming):
            claims[top] = [replace(c, tick=False) for c in claims[top] if c.id not in whose]


def _made_by_packages(
    ground: Ground,
    apps: tuple[Known, ...],
    files: dict[str, list[str]],
    whose: dict[str, str],
    sources: dict[str, dict[str, str]],
    first: list[Place],
    places: list[Place],
    claims: dict[str, list[Claim]],
    accounts: AccountsMade,
) -> list[Place]:
    """Add to `claims` what packages made outside their lists; returns the places that were none before."""
    machine, tree, ownership = ground.machine, ground.tree, ground.ownership
    homes = [p.home for p in ground.people]
    made: list[tuple[Place, Claim]] = []
    settings = settings_kept(machine)
    for app in apps:
        if app.registry == "debian":
            with fence(f"places that {app.id} made", machine.note):
                packages = {normal(p.split(":")[0]) for p in app.own_packages}
                names = {*sources[app.id], *packages} | (
                    {normal(app.package.source)} if app.package else set()
                )
                settings_files = (
                    {c.path for p in app.own_packages for c in ground.registry.packages[p].conffiles}
                    if ground.registry
                    else set()
                )
                made += places_made(app, machine, tree, ownership, names, homes, settings, settings_files)
                users = [b.path for b in accounts.by(app, files[app.id]) if b.object == "user"]
                made += owned_by_its_user(app, users, machine, tree, first)
    made += links_to_own_files(tree, ownership, whose)
    known, new = {p.path for p in places}, []
    for place, claim in made:
        if place.path not in known and any(
            way in known and claims.get(way) for way in ways_up(parent(place.path))
        ):
            continue  # it goes with what it lies in
        mine = next((c for c in claims.setdefault(place.path, []) if c.id == claim.id), None)
        if mine is None:
            claims[place.path].append(claim)
        else:
            mine.evidence += [e for e in claim.evidence if e not in mine.evidence]
            if claim.tick and mine.proof in (By.DECLARED, By.SEEN, By.MATCHED):
                mine.proof, mine.reason, mine.tick, mine.part = By.DECLARED, claim.reason, True, False
        if place.path not in known:
            known.add(place.path)
            new.append(place)
    return new


def claim_everything(
    ground: Ground,
    apps: tuple[Known, ...],
    files: dict[str, list[str]],
    processes: Iterable[Process],
    rules: Iterable[Rule],
    accounts: AccountsMade,
) -> Claimed:
    """All claims, with the technicians' rules applied. `files`: each application's own."""
    machine, tree, people, ownership = ground.machine, ground.tree, ground.people, ground.ownership
    sources = {a.id: own_names(a, files[a.id]) if a.type not in PARTS else {} for a in apps}
    without_toolkits((a for a in apps if a.type not in PARTS), sources)
    names = distinct(sources)
    read = ReadBefore(ground.before)
    declared: dict[str, list[Declared]] = {a.id: [] for a in apps}
    for a in apps:
        with fence(f"places that {a.id} names", machine.note):
            declared[a.id] += (
                d for d in declared_places(machine, tree, files[a.id], read) if _may_say(tree, people, d)
            )
    if ground.folder:
        read.keep(ground.folder)
    folders = {p.home: base_folders(machine, p) for p in people}
    given = [(a.id, d) for a in apps for d in a.data]
    taken = {
        *(t for a in apps for t in a.tops),
        *(d.path for _, d in given),
        *(lf.path for a in apps for lf in a.launchers),
    }

    def free(found: Iterable[Place]) -> list[Place]:
        return [p for p in found if not any(above in taken for above in ways_up(p.path))]

    first = free(candidates(tree, people, ownership.owner, ownership.folders, folders))
    second = free(below(tree, first, ownership.owner, ownership.folders))
    third = free(below(tree, second, ownership.owner, ownership.folders, only_folders=True))
    ids: dict[str, dict[str, str]] = {}
    with fence("ids of databases", machine.note):
        ids = database_ids(first, machine, tree)
    surroundings = places_set(machine, tree, people)
    libraries_here = libraries(tree, people)
    wanted = (
        {n for p in (*first, *second, *third) for n in literals_of(p, names, tree)}
        | {n for numbers in ids.values() for n in numbers}
        | names_set(surroundings)
        | set(libraries_here.values())
    )
    whose = {path: a.id for a in apps for path in files[a.id]}
    registered = {a.id: registered_names(a, ownership) for a in apps}
    others = (p for p in ownership.owner if p.startswith(_PROGRAMS))
    programs = program_files(tree, {*whose, *may_need(tree, libraries_here), *others})
    literals = find_literals(machine, tree, programs, wanted, ground.before, ground.folder)
    claims: dict[str, list[Claim]] = {}
    system_names: dict[str, Proof] = {}
    gone = (
        {normal(name) for name in gone_packages(ground.registry)} - set(names)
        if ground.registry
        else set[str]()
    )
    workshops = Workshops(tree, tops_of(people))
    levels, level, above = [], first, frozenset[str]()
    for deeper in (second, third, []):
        here = claim_places(level, tree, people, names, sources, declared, gone)
        system_names |= claim_by_literals(
            level, here, literals, whose, sources, tree, registered, workshops, above
        )
        claims |= {path: mine for path, mine in here.items() if mine}
        levels.append(level)
        above = frozenset(p.path for p in level)
        open_tops = {
            p.path
            for p in level
            if len({c.id for c in claims.get(p.path, ())}) != 1 or _by_literals_alone(claims[p.path])
        }  # called like nobody, several's, or a maker's
        level = [p for p in deeper if parent(p.path) in open_tops and not claims.get(p.path)]
    _makers_parts(claims)
    common = list(common_places(tree, people, folders))
    nobodys = [p for p in first if p.person != EVERYONE and not claims.get(p.path)]
    parts = free(parts_of_common(common, tree))
    parts += free(f for p in (*common, *nobodys) for f in files_of_stores(p, tree))
    for path, mine in claim_places(parts, tree, people, names, sources, {}, gone).items():
        called = normal(stem(base(path)))
        if exact := [c for c in mine if c.exact or (tree.kind(path) == "file" and called in sources[c.id])]:
            claims[path] = exact
    levels.append([p for p in parts if p.path in claims])
    claim_by_database_ids(ids, claims, literals, whose)
    launcher = {lf.id: a.id for a in apps for lf in a.launchers}
    for level in levels:
        with fence("what files say of who wrote them", machine.note, seconds=_SECONDS):
            claim_by_sight(
                level, claims, machine, tree, processes, whose, launcher, names, workshops, system_names, gone
            )
    places = [*first, *(p for level in levels[1:] for p in level if claims.get(p.path))]
    places += [p for p in claim_by_surroundings(surroundings, claims, literals, whose) if p not in places]
    with fence("what stands beside programs of no registry", machine.note):
        beside = installed_beside(
            tree,
            apps,
            sources,
            people,
            is_free=lambda path: (
                not (
                    path in ownership.owner
                    or path in ownership.folders
                    or claims.get(path)
                    or taken & set(ways_up(path))
                )
            ),
            also_among_packages=bool(ownership.owner),
            is_alone=lambda library, id: _in_use_by(library, literals, libraries_here, whose, claims) == {id},
        )
        for place, mine in beside:
            places.append(place)
            claims[place.path] = mine
    with fence("places that packages made", machine.note):
        places += _made_by_packages(ground, apps, files, whose, sources, first, places, claims, accounts)
    inherit(claims)
    apply_rules(rules, places, claims, (a.id for a in apps), people, tree)
    for id, d in given:
        places.append(Place(d.path, d.person, d.kind, d.path))
        claims.setdefault(d.path, []).append(
            Claim(id, By.REGISTERED, d.reason, [Proof(By.REGISTERED, d.path)])
        )
    return Claimed(places, first, claims, names, system_names, whose, folders, literals.not_read)
