"""What corrections by a technician do to the claims of a survey."""

from __future__ import annotations

from collections.abc import Iterable

from swept_shelf.core.belongings.candidates import Place, kind_at
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.corrections import NOT_ITS, Rule
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.people import person_of
from swept_shelf.core.tree.walk import Tree


def apply_rules(
    rules: Iterable[Rule],
    places: list[Place],
    claims: dict[str, list[Claim]],
    ids: Iterable[str],
    people: list[Person],
    tree: Tree,
) -> None:
    """Before anything is decided: claims that were denied go, those that were told come, with the strongest proof but the registry's."""
    known = list(ids)
    by_path = {p.path: p for p in places}
    for rule in rules:
        mine = [i for i in known if _meant(rule, i)]
        for path in (
            t for t in _tops(rule, people) if t in tree and not why_never(t, [p.home for p in people])
        ):
            if rule.kind == NOT_ITS:
                claims[path] = [c for c in claims.get(path, []) if c.id not in mine]
                continue
            for id in mine:
                if path not in by_path:
                    person = person_of(people, path)
                    by_path[path] = Place(path, person, kind_at(path, person), path)
                    places.append(by_path[path])
                reason = "a technician said so" + (f": {rule.note}" if rule.note else "")
                claims[path] = [c for c in claims.get(path, []) if c.id != id] + [
                    Claim(id, By.TOLD, reason, [Proof(By.TOLD, rule.source, 0, rule.place)])
                ]


def denied(rules: Iterable[Rule], ids: Iterable[str], people: Iterable[Person]) -> dict[str, list[str]]:
    """Per application the places that a technician said are not its."""
    found: dict[str, list[str]] = {}
    for rule in rules:
        if rule.kind == NOT_ITS:
            for id in ids:
                if _meant(rule, id):
                    found.setdefault(id, []).extend(_tops(rule, people))
    return found


def _meant(rule: Rule, id: str) -> bool:
    """Whether a rule is about this application: its id, or its id without an architecture or branch."""
    return id == rule.application or id.startswith((rule.application + ":", rule.application + "/"))


def _tops(rule: Rule, people: Iterable[Person]) -> list[str]:
    """The paths that a rule means: below every home, or the one it names."""
    return [f"{p.home}{rule.place[1:]}" for p in people] if rule.place.startswith("~") else [rule.place]
