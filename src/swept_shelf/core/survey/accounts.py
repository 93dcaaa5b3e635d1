"""What a volume says is used, and what all parts together hold: the remainder is named as not accounted for."""

from __future__ import annotations

import numpy as np

from swept_shelf.core.documents.paths import join, within
from swept_shelf.core.documents.survey import Account, AccountPart, Obstacle, Volume
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.volumes import allocated_below, mounts_in_memory
from swept_shelf.core.survey.places import WHOSE, whose
from swept_shelf.core.tree.walk import Tree

_MEMORY = -1  # of no volume
_SWAP = ("/swapfile", "/swap.img", "/swap/swapfile")


def accounts_of(
    machine: Machine,
    tree: Tree,
    volumes: list[Volume],
    owner: list[str],
    obstacles: list[Obstacle],
    missing: list[str],
) -> list[Account]:
    """Per volume. `owner`: whose each position of the walk is; `missing`: places that could not be read."""
    kind = {name: WHOSE.index(whose(name)) for name in set(owner)}
    group = np.fromiter(map(kind.__getitem__, owner), np.int8, len(owner))
    home = np.zeros(len(owner), dtype=np.int32)
    mounts = [(v.mount, i) for i, v in enumerate(volumes)] + [
        (mount, _MEMORY) for mount in mounts_in_memory(machine)
    ]
    for mount, i in sorted(mounts, key=lambda m: len(m[0])):  # the deeper mount has the last word
        part = tree.slice(mount)
        home[part.start : part.stop] = i
    swap = [tree.where[p] for p in _SWAP if p in tree]
    found = []
    for i, volume in enumerate(volumes):
        mine = home == i
        rest = mine.copy()
        rest[[s for s in swap if mine[s]]] = False
        parts = [AccountPart(name, int(tree.once[rest & (group == g)].sum())) for g, name in enumerate(WHOSE)]
        parts.append(AccountPart("swap file", int(sum(tree.once[s] for s in swap if mine[s]))))
        parts.append(AccountPart("holding shelf", _shelf(machine, volume)))
        parts.append(
            AccountPart(
                "deleted, still kept open",
                sum(
                    o.bytes
                    for o in obstacles
                    if o.kind == "deleted but open" and _on(o.path, volume, volumes)
                ),
            )
        )
        if machine.description:
            told = next((v.base for v in machine.description.volumes if v.id == volume.id), 0)
            parts.append(AccountPart("said to be there, not made up", told))
        parts = [p for p in parts if p.bytes]
        unread = [m for m in missing if _on(m, volume, volumes)]
        found.append(
            Account(
                volume.id,
                volume.used,
                parts,
                volume.used - sum(p.bytes for p in parts),
                volume.reserved,
                unread[:20],
            )
        )
    return found


def _on(path: str, volume: Volume, volumes: list[Volume]) -> bool:
    return (
        max((v for v in volumes if within(path, v.mount)), key=lambda v: len(v.mount), default=volumes[0]).id
        == volume.id
    )


def _shelf(machine: Machine, volume: Volume) -> int:
    top = join(volume.mount, SHELF)
    return allocated_below(machine, top, []) if machine.exists(top) else 0
