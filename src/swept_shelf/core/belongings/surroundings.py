"""Claims by a person's environment: a place that a name is set to, which one application's programs ask for."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.literals import Literals
from swept_shelf.core.documents.paths import base, within
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import By, Kind
from swept_shelf.core.machine.base_folders import USUAL, named_places
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.walk import Tree

_EVERYBODYS = frozenset(
    {
        *USUAL,
        "PATH",
        "HOME",
        "PWD",
        "SHELL",
        "TMPDIR",
        "EDITOR",
        "VISUAL",
        "PAGER",
        "BROWSER",
        "MAIL",
        "LD_LIBRARY_PATH",
        "LD_PRELOAD",
        "MANPATH",
        "PYTHONPATH",
        "DISPLAY",
        "XAUTHORITY",
        "SSH_AUTH_SOCK",
        "BASH_ENV",
        "ENV",
        "HISTFILE",
    }
)


def places_set(machine: Machine, tree: Tree, people: Iterable[Person]) -> dict[str, Place]:
    """`PERSON/NAME` to the place that this person's environment sets that name to, where it is there and not protected."""
    everyone = list(people)
    homes = [p.home for p in everyone]
    found: dict[str, Place] = {}
    for person in everyone:
        for name, path in named_places(machine, person).items():
            mine = within(path, person.home) and path in tree and not why_never(path, homes)
            if mine and name not in _EVERYBODYS and len(name) > 4:
                found[f"{person.name}/{name}"] = Place(path, person.name, Kind.SUPPORT, path)
    return found


def names_set(set_places: Mapping[str, Place]) -> set[str]:
    return {base(key) for key in set_places}


def claim_by_surroundings(
    set_places: Mapping[str, Place],
    claims: dict[str, list[Claim]],
    literals: Literals,
    whose: Mapping[str, str],
) -> list[Place]:
    """Add to `claims`; returns the places that got one. A person chose where it lies: it is ticked only where it is hidden."""
    found = []
    for key, place in set_places.items():
        name = base(key)
        holders = {whose.get(path, ""): path for path in literals.holders.get(name, ())}
        if len(holders) != 1 or "" in holders:
            continue
        ((id, path),) = holders.items()
        reason = f"{place.person}’s environment names it as its {name}"
        hidden = "/." in place.path
        claims.setdefault(place.path, []).append(
            Claim(id, By.DECLARED, reason, [Proof(By.DECLARED, path, 0, name)], tick=hidden)
        )
        found.append(place)
    return found
