"""Looks for every reference: links first, then what each kind of file says, then what names a file that goes with it."""

from __future__ import annotations

from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor

from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.near import Near
from swept_shelf.core.references.everywhere import look_everywhere
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.looker import Looker
from swept_shelf.core.references.mentions import MENTION, search_settings
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.tree.elsewhere import Elsewhere, Inode, on_disk

FAMILIES = tuple(dict.fromkeys(k.family for k in KINDS.values()))
FAMILIES_IN_HOMES = tuple(
    dict.fromkeys(k.family for k in KINDS.values() if any(p.pattern.startswith("~") for p in k.places))
)
_ALTOGETHER, _MEMORY = 300.0, 512 << 20  # for all files together


def find_references(
    machine: Machine,
    people: list[Person],
    shipped: Mapping[str, str],
    to: Pointees,
    elsewhere: Elsewhere | None = None,
    files: Mapping[Inode, str] | None = None,
) -> Found:
    """Every reference to any of `to`. `shipped`: what registries own, with the MD5 sum of a settings file as it was shipped: only
    a settings file that was changed since is looked at, the rest is the registry's own. `elsewhere`: links and names anywhere;
    `files`: application of each file that has, or had, several names."""
    found = Found()

    def left(path: str, reason: str) -> None:
        """Not all was looked at: then no family is clear."""
        for family in FAMILIES:
            found.could_not(family, path, reason)

    with (
        fence("/", left, seconds=_ALTOGETHER, memory=_MEMORY),
        Near(machine) as near,
        ThreadPoolExecutor(1) as searching,
    ):
        # find(1) works beside the search for mentions
        links = None if elsewhere else searching.submit(on_disk, machine, files or {})
        mentions = search_settings(near, people, shipped, to)
        elsewhere = elsewhere or (links.result() if links else Elsewhere())
        looker = Looker(machine, near, people, shipped, to, found, elsewhere.links)
        looker.name(mentions.naming())
        look_everywhere(looker, people, found, mentions.searched)
        looker.other_names(elsewhere, files or {})
        found.mentions, found.searched = mentions.mentions(found.references), mentions.searched
        for path, reason in mentions.not_read:
            found.could_not(MENTION, path, reason)
    order = {name: number for number, name in enumerate(KINDS)}
    for references in found.references.values():
        references.sort(key=lambda r: (order[r.kind], r.path, r.line))
    return found
