"""What a clearance or a trace found, as a survey of its own: small, and an order can be drawn from it at once."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from swept_shelf import __version__
from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.candidates import kind_at
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.personal import Personal
from swept_shelf.core.documents.paths import outermost, within
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import (
    SURVEY_FORMAT,
    SURVEY_VERSION,
    Application,
    Belonging,
    Evidence,
    IndexFile,
    Installed,
    Kinds,
    LastUse,
    Origin,
    Person,
    Proof,
    Reference,
    Survey,
    SystemPart,
    Volume,
)
from swept_shelf.core.documents.terms import GONE, By
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import person_of
from swept_shelf.core.machine.volumes import mount_points, read_volumes
from swept_shelf.core.survey.accounts_in_use import accounts_in_use
from swept_shelf.core.tree.part import part_of
from swept_shelf.core.tree.walk import Tree, walk
from swept_shelf.core.tree.write_index import write_index


@dataclass(slots=True)
class Remnant:
    """What is left of one application: `places` are its own, not a registry's."""

    id: str
    name: str
    pointed_at: dict[str, list[str]]
    references: list[Reference]
    places: list[str] = field(default_factory=list)


class Leftovers:
    """Which places that are left may be taken as a whole; all of one tree."""

    def __init__(self, machine: Machine, people: Iterable[Person], tree: Tree) -> None:
        self._homes, self._mounts = [p.home for p in people], mount_points(machine)
        self._tree, self._personal = tree, Personal(tree)

    def why_it_stays(self, path: str) -> str:
        """Why it may not be taken; "" where it may."""
        if why := why_never(path, self._homes, self._mounts):
            return why
        if path not in self._tree:
            return "cannot be walked as a whole"
        if parts := self._personal.parts(path):
            return f"holds somebody’s own work: {parts[0]}"
        return ""


def write_remnants(
    machine: Machine, people: list[Person], folder: Path, remnants: list[Remnant], left_of: str
) -> Survey | None:
    """Write survey.json and survey.index into `folder`, which is made; None, and nothing, where nothing can be taken out."""
    kept = [r for r in remnants if r.places or any(x.action != "leave" for x in r.references)]
    if not kept:
        return None
    folder.mkdir(mode=0o700, exist_ok=True)
    _ask_of_accounts(machine, kept)
    tree = part_of(machine, [p for r in kept for p in (*r.places, *(x.path for x in r.references))])
    volumes, now = read_volumes(machine), machine.now()
    digest = write_index(str(folder), tree)
    survey = Survey(
        SURVEY_FORMAT,
        SURVEY_VERSION,
        str(uuid.uuid4()),
        now,
        now,
        True,
        f"swept-shelf {__version__}",
        rights(),
        IndexFile("survey.index", digest),
        machine_facts(machine),
        volumes,
        people,
        Evidence("not asked for"),
        SystemPart([], 0),
        [_application(r, tree, people, volumes) for r in kept],
        [],
        [],
        tree.not_read,
        left_of=left_of,
    )
    (folder / "survey.json").write_bytes(to_json(survey))
    return survey


def _ask_of_accounts(machine: Machine, remnants: list[Remnant]) -> None:
    """An account goes only where nothing is owned by it any more: for that alone everything is walked."""
    if any(x.family == "accounts" and x.action == "ask" for r in remnants for x in r.references):
        everything = walk(machine)
        for r in remnants:
            r.references = accounts_in_use(r.references, everything, machine, [])


def _application(r: Remnant, tree: Tree, people: list[Person], volumes: list[Volume]) -> Application:
    return Application(
        id=r.id,
        name=r.name,
        version="",
        registry=GONE,
        type="",
        state="gone",
        summary="",
        publisher="",
        homepage="",
        icon="",
        categories=[],
        packages=[],
        own_packages=[],
        also_here_as=[],
        other_versions=[],
        installed=Installed(None, None),
        requested_by="",
        why_here=[],
        needed_by=[],
        protected=None,
        held=False,
        origin=Origin("", None),
        launchers=[],
        executables=[],
        starts=[],
        running=[],
        bytes=Kinds(),
        bytes_by=[],
        comes_back=0,
        comes_back_by=[],
        last_use=LastUse(None, None, None, "", "", False, [], [0] * 24, [], []),
        belongings=_belongings(r, tree, people, volumes),
        references=r.references,
        pointed_at=r.pointed_at,
    )


def _belongings(r: Remnant, tree: Tree, people: list[Person], volumes: list[Volume]) -> list[Belonging]:
    maker = Maker(tree, volumes)
    whole = {x.path for x in r.references if x.whole}
    found = []
    for path in outermost(p for p in r.places if p in tree and not any(within(p, w) for w in whole)):
        person = person_of(people, path)
        claim = Claim(r.id, By.DECLARED, "was its place, or is called like it", [Proof(By.DECLARED, path)])
        found.append(maker.make(path, person, kind_at(path, person), claim, [], False))
    return found
