"""What belongs to each application, from all claims together, and what was left behind."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Container, Iterable, Iterator, Mapping
from dataclasses import replace
from typing import NamedTuple

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.belong import Maker, strangers, without_strangers
from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim, inner_claims
from swept_shelf.core.belongings.corrections import Rule
from swept_shelf.core.belongings.former import former_by_content, former_programs
from swept_shelf.core.belongings.left_behind import find_left_behind
from swept_shelf.core.belongings.objects import AccountsMade, Alternatives, objects_of, read_alternatives
from swept_shelf.core.belongings.personal import kept_inside, opened_documents
from swept_shelf.core.belongings.prefixes import beside_what_is_gone, written
from swept_shelf.core.belongings.resolve import resolve
from swept_shelf.core.belongings.told import denied
from swept_shelf.core.belongings.workshops import tops_of
from swept_shelf.core.documents.paths import base, compiled_from, outermost, parent, ways_up, within
from swept_shelf.core.documents.survey import Belonging, CommonPlace, LeftBehind, NotRead, Person, Proof
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.machine.read_once import ReadOnce
from swept_shelf.core.machine.volumes import mounts_in_memory
from swept_shelf.core.registries.ways import may_hold_peoples_own
from swept_shelf.core.survey.claiming import claim_everything
from swept_shelf.core.survey.ground import Ground
from swept_shelf.core.survey.in_common import places_in_common
from swept_shelf.core.tree.walk import Tree

_NAMED = 3  # applications that a reason names


class Attributed(NamedTuple):
    """Belongings per application, what was left behind, the places that were looked at, programs that were not searched
    for the names of places, and places that are nobody's alone."""

    belongings: dict[str, list[Belonging]]
    left_behind: list[LeftBehind]
    places: list[Place]
    programs_not_read: list[NotRead]
    common: list[CommonPlace]


def files_of(app: Known, ground: Ground) -> list[str]:
    """All files of its own part, or of its own folder."""
    tree = ground.tree
    if app.registry in ("files", "rpm"):
        inside = [tree.paths[i] for top in app.tops for i in tree.slice(top) if not tree.is_folder[i]]
        return sorted({*inside, *(lf.path for lf in app.launchers if lf.path in tree)})
    if app.registry != "debian":
        return sorted(
            {*(t for t in app.tops if tree.kind(t) == "file"), *(e for e in app.executables if e in tree)}
        )
    return sorted({f for p in app.own_packages for f in ground.ownership.files[p]})


def belongings_of(
    ground: Ground,
    apps: tuple[Known, ...],
    files: dict[str, list[str]],
    processes: Iterable[Process] = (),
    rules: Iterable[Rule] = (),
    system: Iterable[str] = (),
) -> Attributed:
    """From all claims of all applications together. `system`: packages that are no application's."""
    rules = list(rules)
    machine, tree, people = ground.machine, ground.tree, ground.people
    opened: frozenset[str] = frozenset()
    with fence("lists of documents that people opened", machine.note):
        opened = opened_documents(machine, tree, people)
    maker = Maker(tree, ground.volumes, opened, mounts_in_memory(machine), written(tree, apps))
    accounts = AccountsMade(machine, tree)
    claimed = claim_everything(ground, apps, files, processes, rules, accounts)
    claims, places, names = claimed.claims, claimed.places, claimed.names
    tops = sorted({t for a in apps for t in a.tops})
    project = {a.id: a.package.source or a.package.plain_name for a in apps if a.package}
    by_path = {p.path: p for p in places}
    made: dict[str, list[Belonging]] = {a.id: _registered(a, ground, maker, tops) for a in apps}
    called = {a.id: a.name for a in apps}
    in_order = sorted(path for path, mine in claims.items() if mine)
    verdicts = resolve(
        claims,
        project,
        {a.id: [o for o in a.needed_by if o in project and project[o] == project.get(a.id)] for a in apps},
    )
    for path in in_order:
        place = by_path.get(path)
        if place is None:
            outer = next(p for p in places if within(path, p.path))
            place = replace(outer, path=path, rest="")
        for id, belonging in maker.place(place, verdicts[path], inner_claims(in_order, path)):
            made[id].append(_with_whom(belonging, called))
            for other in belonging.shared_with:
                theirs = replace(belonging, shared_with=sorted({id, *belonging.shared_with} - {other}))
                made[other].append(_with_whom(theirs, called))
    for id, tops_denied in denied(
        rules, made, people
    ).items():  # also what only lies in a folder that several use
        made[id] = [
            b for b in made[id] if b.proof == By.REGISTERED or not any(within(b.path, t) for t in tops_denied)
        ]
    choices: Alternatives = {}
    once = ReadOnce(machine)
    with fence("choices of commands", machine.note):
        choices = read_alternatives(machine)
    for a in apps:
        with fence(f"what {a.id} has that is no file", machine.note):
            made[a.id] += objects_of(
                a, files[a.id], once, tree, people, ground.volumes, names, choices, accounts
            )
    above = {way for path, mine in claims.items() if mine for way in ways_up(path)}
    somebodys = {p.path for p in places if p.path in above}
    left: list[LeftBehind] = []
    with fence("what was left behind", machine.note):
        left = find_left_behind(
            ground.registry,
            places,
            somebodys,
            names,
            maker,
            tree,
            former_programs(machine, tree, people),
            former_by_content((p for p in places if p.path not in somebodys), machine, tree),
            tops_of(people),
        )
        left = _with_what_stands_beside(
            left,
            maker,
            tree,
            people,
            ground.ownership.lists,
            somebodys | {p for p, mine in claims.items() if mine},
        )
    common = places_in_common(
        ground, claimed, {*verdicts, *(b.path for e in left for b in e.belongings)}, system
    )
    return Attributed(made, left, places, [NotRead(p, r) for p, r in claimed.not_read], common)


def _with_what_stands_beside(
    left: list[LeftBehind],
    maker: Maker,
    tree: Tree,
    people: list[Person],
    is_listed: Callable[[str], bool],
    claimed: Container[str],
) -> list[LeftBehind]:
    """Programs that no registry knew, with what else of them stands in the common folders of a prefix: none of it is ticked."""
    taken = {b.path for e in left for b in e.belongings}
    programs = {e.name: e for e in left if e.was.registry == "files"}
    more: dict[str, list[Belonging]] = defaultdict(list)
    found = beside_what_is_gone(
        tree,
        {name: e.id for name, e in programs.items()},
        people,
        lambda path: not (is_listed(path) or path in claimed or taken & set(ways_up(path))),
    )
    by_id = {e.id: e for e in programs.values()}
    for place, id in found:
        why = f"called like {by_id[id].name}, which is not there any more"
        claim = Claim(id, By.SEEN, why, by_id[id].evidence, tick=False)
        taken.add(place.path)
        more[id].append(maker.make(place.path, place.person, place.kind, claim, [], False))
    return [replace(e, belongings=[*e.belongings, *more[e.id]]) if e.id in more else e for e in left]


def _with_whom(b: Belonging, called: Mapping[str, str]) -> Belonging:
    """A shared belonging says for whom it stays."""
    if b.share != Share.SHARED:
        return b
    names = [called.get(id, id) for id in b.shared_with]
    more = f" and {len(names) - _NAMED} more" if len(names) > _NAMED else ""
    return replace(b, reason=f"{b.reason}; stays for {', '.join(names[:_NAMED])}{more}")


def _registered(app: Known, ground: Ground, maker: Maker, tops: list[str]) -> list[Belonging]:
    tree, ownership, registry = ground.tree, ground.ownership, ground.registry
    if app.registry != "debian":
        return _other_program(app, ground, maker, tops)
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
        claim = Claim(app.id, By.MATCHED, "lies inside its program’s own folder", [Proof(By.MATCHED, b.path)])
        for path in strange:
            kind = (
                Kind.CACHE
                if base(path) == "__pycache__"
                else Kind.PREFERENCES
                if within(path, "/etc")
                else Kind.SUPPORT
            )
            made.append(maker.make(path, EVERYONE, kind, claim, [], True))
    for path in _byte_code(tree, {f for f in files if f.endswith(".py")}, set(folders)):
        if path not in ownership.owner:
            claim = Claim(app.id, By.MATCHED, "compiled from its module", [Proof(By.MATCHED, path)])
            made.append(maker.make(path, EVERYONE, Kind.CACHE, claim, [], True))
    return made


def _byte_code(tree: Tree, modules: set[str], own: set[str]) -> Iterator[str]:
    """What was compiled from these modules, where they stand in a folder with others': in one that is `own`, all goes."""
    for folder in sorted({parent(m) for m in modules}):
        if own.isdisjoint(ways_up(folder)):
            for path in tree.children(f"{folder}/__pycache__"):
                if compiled_from(path) in modules:
                    yield path


def _other_program(app: Known, ground: Ground, maker: Maker, tops: list[str]) -> list[Belonging]:
    """The folders and files that are the program, without those inside that are another's; and its launchers."""
    tree, made, own_tops = ground.tree, [], set(app.tops)
    proof = [Proof(By.REGISTERED, app.receipt)]
    for top in outermost(t for t in app.tops if t in tree):
        low, high = bisect_left(tops, top + "/"), bisect_left(tops, top + "0")
        inner = outermost(t for t in tops[low:high] if t not in own_tops)
        claim = Claim(app.id, By.REGISTERED, _why_its_program(app, tree, top), proof)
        whose = person_of(ground.people, top)
        people = (
            kept_inside(tree, top)
            if may_hold_peoples_own(app.registry) and tree.kind(top) == "folder"
            else []
        )
        people = [p for p in people if not any(within(p, x) or within(x, p) for x in inner)]
        made.append(maker.make(top, whose, Kind.PROGRAM, claim, [], True, [*inner, *people]))
        made += [
            maker.make(
                p,
                whose,
                Kind.STATE,
                claim,
                [],
                False,
                personal=True,
                reason="made with it by somebody: stays",
            )
            for p in people
        ]
    named = Claim(app.id, By.REGISTERED, "its launcher", proof)
    loose = [
        lf.path for lf in app.launchers if lf.path in tree and not any(within(lf.path, t) for t in app.tops)
    ]
    return made + [
        maker.make(path, person_of(ground.people, path), Kind.PROGRAM, named, [], True) for path in loose
    ]


def _why_its_program(app: Known, tree: Tree, top: str) -> str:
    if app.registry != "files":
        return f"registered: {app.source}"
    if tree.kind(top) == "link":
        return "leads to its program"
    if top != app.tops[0]:
        return "the picture its launcher shows"
    return "what its launcher starts" if app.launchers else "a program that no registry lists"
