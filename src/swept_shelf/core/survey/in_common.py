"""Places in homes that are nobody's alone, each with why."""

from __future__ import annotations

from collections.abc import Iterable

from swept_shelf.core.belongings.candidates import common_places
from swept_shelf.core.belongings.common import spellings
from swept_shelf.core.belongings.names import COMMANDS, names_in_common
from swept_shelf.core.documents.paths import base, ways_up, within
from swept_shelf.core.documents.survey import CommonPlace, Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.survey.claiming import Claimed
from swept_shelf.core.survey.ground import Ground


def places_in_common(
    ground: Ground, claimed: Claimed, taken: set[str], system: Iterable[str]
) -> list[CommonPlace]:
    """By the maintained list, by the names of the system's own packages (`system`) and programs, or because only those name them.

    `taken`: what is somebody's, with all that lies in it."""
    tree, people = ground.tree, ground.people
    found = [
        CommonPlace(
            p.path, p.person, tree.bytes_below(p.path), "desktops and toolkits keep it for every program"
        )
        for p in common_places(tree, people, claimed.folders)
    ]
    names = names_in_common(
        ground.registry,
        system,
        (p for p in ground.ownership.owner if p.startswith(COMMANDS) and p not in claimed.whose),
    )
    why = {
        path: (f"named in {base(proof.path)}, which is the system’s", proof)
        for path, proof in claimed.system_names.items()
    }
    for place in claimed.first:
        if called := next((names[n] for n in spellings(base(place.path)) if n in names), ""):
            why[place.path] = (f"called like {called}, which is the system’s", Proof(By.MATCHED, place.path))
    for path, (reason, proof) in sorted(why.items()):
        person = person_of(people, path)
        if (
            person != EVERYONE
            and not any(above in taken for above in ways_up(path))
            and not any(within(path, f.path) for f in found)
        ):
            found.append(CommonPlace(path, person, tree.bytes_below(path), reason, [proof]))
    return found
