"""Claims by literals: a place whose very name stands inside one application's programs, and inside nobody else's.

What a library of the system names too is a toolkit's, and common. A name that several applications hold is shared by
them. A place known by its literal alone is ticked only when something in it is called like the application too."""

from __future__ import annotations

from collections.abc import Mapping

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import is_distinctive, normal, stem
from swept_shelf.core.belongings.literals import Literals
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.tree.walk import Tree

_SYSTEM = ""
_SEVERAL = 3  # more applications than these that hold a name make it a word of everybody's


def literal_of(path: str) -> str:
    """The name of a place as a program would hold it."""
    return base(path).lstrip(".")


def claim_by_literals(places: list[Place], claims: dict[str, list[Claim]], literals: Literals, whose: Mapping[str, str],
                      sources: dict[str, dict[str, str]], tree: Tree) -> None:  # fmt: skip
    """Add to `claims`. `whose`: application of each program file that is one application's alone; `sources`: the names of
    each application."""
    for place in places:
        name = literal_of(place.path)
        holders: dict[str, str] = {}
        for path in literals.holders.get(name, ()):
            holders.setdefault(whose.get(path, _SYSTEM), path)
        if _SYSTEM in holders or not 0 < len(holders) <= _SEVERAL or not is_distinctive(name):
            continue
        mine = claims.setdefault(place.path, [])
        if any(c.proof in ("registered", "declared", "matched") for c in mine):
            for c in mine:
                if c.id in holders:
                    c.evidence.append(Proof("declared", holders[c.id], 0, name))
            continue
        for id, path in sorted(holders.items()):
            supported = len(holders) == 1 and _called_like(place.path, sources.get(id, {}), tree)
            mine.append(Claim(id, "declared", "its name stands inside its program", [Proof("declared", path, 0, name)], supported))


def _called_like(path: str, names: dict[str, str], tree: Tree) -> bool:
    """Whether anything directly in the folder is called like the application."""
    return any(normal(stem(base(child))) in names or normal(base(child)) in names for child in tree.children(path))
