"""Panels and favourites that list launchers in key files: one member of a list each."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import member_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target

_LISTS = re.compile(r"^(launchers|favorites?|favorite-apps|ordering|pinned|apps\\?.*)$", re.I)


def _target(word: str) -> tuple[Target, ...]:
    name = base("/" + word.removeprefix("applications:").removeprefix("preferred://").strip("'\"[] "))
    return (Target(By.LAUNCHER, name), Target(By.ADDRESS, word)) if name.endswith(".desktop") else ()


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if _LISTS.match(item.key) or item.key.endswith("desktop"):
                mark = ";" if ";" in item.value and "," not in item.value else ","
                yield from member_entries(
                    group, item, mark, _target, "a launcher in a panel or among favourites"
                )


KIND = Kind(
    "panel list",
    "launchers",
    ("launcher in a panel", "launchers in panels"),
    (
        Place("~config/*appletsrc"),
        Place("~config/*statsrc"),
        Place("~config/*panel*.conf"),
        Place("~config/*/*panel*.conf"),
        Place("~config/kickoffrc"),
        Place("~config/*favorites*"),
        Place("~config/*favourites*"),
    ),
    _parse,
)
