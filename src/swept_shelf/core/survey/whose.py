"""Whose is this? One path, answered from a survey: the application, package, person or store, and by which proof."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from swept_shelf.core.documents.paths import parent, within
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, Belonging, LeftBehind, Person, Proof, Survey
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.survey.places import COMMON, NOBODY, SYSTEM, owner_name, whose
from swept_shelf.core.tree.index import Index


@dataclass(frozen=True, slots=True)
class PointsAt:
    """A line of the path that points at an application."""

    owner: str
    kind: str
    line: int
    detail: str


@dataclass(frozen=True, slots=True)
class Answer:
    """`path` as asked, `real` with links followed; `owner` as the index writes it; `reason` a sentence; `packages` those
    that list it; `belonging` the belonging it is or lies in; `points_at` what of applications it points at."""

    path: str
    real: str
    whose: str
    owner: str
    name: str
    reason: str
    proof: str
    evidence: list[Proof]
    packages: list[str]
    belonging: str
    bytes: int
    files: int
    points_at: list[PointsAt]


def whose_is(survey: Survey, index: Index, machine: Machine, asked: str) -> Answer:
    """Never raises for a path that is nobody's or not there: says so."""
    path = asked if asked == "/" else asked.rstrip("/")
    real = machine.resolve(path) or path
    folder = machine.resolve(parent(path))
    last = (
        path
        if folder is None
        else (folder.rstrip("/") + "/" + path.rsplit("/", 1)[1] if path != "/" else "/")
    )
    row = index.row(last) or index.row(real)
    here = row.path if row else real
    packages = sorted(index.listing(here))
    points = [
        PointsAt(a.id, r.kind, r.line, r.detail)
        for a in survey.applications
        for r in a.references
        if r.path == here and not r.mention
    ]
    if row is None:
        near = here
        while near != "/" and index.row(near) is None:
            near = parent(near)
        there = machine.exists(path)
        above = index.row(near)
        owner = above.owner if above and there else NOBODY
        reason = (
            f"new since the survey; {near} is {_whose_words(survey, owner)}"
            if there
            else "nothing stands there"
        )
        return Answer(
            path, real, whose(owner), owner, owner_name(survey, owner), reason, "", [], [], "", 0, 0, points
        )
    totals = index.totals(here) if row.identity.type == "folder" else {row.owner: (row.bytes, 1)}
    size, files = sum(b for b, _ in totals.values()), sum(f for _, f in totals.values())
    best = _belonging(survey, here)
    owner, reason, proof, evidence, inside = row.owner, "", "", [], ""
    if best is not None:
        entry, b = best
        owner = f"person:{b.person}" if b.personal else entry
        proof, evidence, inside = b.proof, b.evidence, b.path
        reason = b.reason if b.path == here else f"lies in {b.path}: {b.reason}"
    elif packages:
        proof, reason = By.REGISTERED, f"listed by {_some(packages)}"
    elif owner.startswith("store:"):
        store = next(s for s in survey.shared_stores if s.id == owner)
        reason = f"{store.name}; to clear it: {store.clear_by}"
    elif owner.startswith("person:"):
        reason = "lies in the home and no application claims it"
    elif owner == COMMON:
        place = next((c for c in survey.common if within(here, c.path)), None)
        reason, evidence = (
            (f"{place.reason}: nobody’s alone", place.evidence)
            if place
            else ("several programs use it: nobody’s alone", [])
        )
    elif owner == SYSTEM:
        reason = "no package lists it; it lies where the system works"
    else:
        reason = "no registry lists it and no application claims it"
    others = [o for o in totals if o != owner and totals[o][0]]
    if others:
        reason += f"; inside are {plural(len(others), 'other’s part', 'others’ parts')}, {human_bytes(sum(totals[o][0] for o in others))}"
    return Answer(
        path,
        here,
        whose(owner),
        owner,
        owner_name(survey, owner),
        reason,
        proof,
        evidence,
        packages,
        inside,
        size,
        files,
        points,
    )


def _belonging(survey: Survey, path: str) -> tuple[str, Belonging] | None:
    """The innermost belonging that the path is or lies in, and the entry it was found with."""
    found: tuple[str, Belonging] | None = None
    entries: list[Application | LeftBehind] = [*survey.applications, *survey.left_behind]
    for entry in entries:
        for b in entry.belongings:
            if (
                within(path, b.path)
                and not any(within(path, x) for x in b.except_)
                and (found is None or len(b.path) > len(found[1].path))
            ):
                found = entry.id, b
    return found


def place_above(survey: Survey, path: str, people: Iterable[Person]) -> tuple[str, str]:
    """The candidate place that a path lies in (a child of a standard folder, or a hidden one of a home), and the name of
    what it belongs to; ("", ...) where it lies in none."""
    owner = _belonging(survey, path)
    name = owner_name(survey, owner[0]) if owner else ""
    for person in people:
        if within(path, person.home) and path != person.home:
            parts = path[len(person.home) + 1 :].split("/")
            depth = 3 if parts[0] == ".local" else 2 if parts[0] in (".config", ".cache") else 1
            hidden = parts[0].startswith(".") and len(parts) >= depth
            return ("/".join([person.home, *parts[:depth]]) if hidden else ""), name
    parts = path.split("/")
    return ("/".join(parts[:4]) if path.startswith("/var/") and len(parts) > 3 else ""), name


def _whose_words(survey: Survey, owner: str) -> str:
    return owner_name(survey, owner) if owner.startswith("person:") else f"of {owner_name(survey, owner)}"


def _some(names: list[str]) -> str:
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more packages" if len(names) > 4 else "")
