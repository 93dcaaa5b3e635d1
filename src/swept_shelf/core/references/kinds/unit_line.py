"""Lines of other units that start it or wait for it (systemd.unit(5), systemd.exec(5)): the line goes, the unit stays."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import item_entry, member_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.kinds.unit import FOLDERS, TYPES, is_beside, watches
from swept_shelf.core.references.targets import of_exec, of_words, one

_UNITS = frozenset(
    {
        "Wants", "Requires", "Requisite", "BindsTo", "PartOf", "Upholds", "Conflicts", "Before", "After", "OnFailure", "OnSuccess",
        "PropagatesReloadTo", "ReloadPropagatedFrom", "PropagatesStopTo", "StopPropagatedFrom", "JoinsNamespaceOf", "Also",
    }
)  # fmt: skip
_FILES = re.compile(
    r"^(?:(?:Condition|Assert)(?:Path|File|Directory)\w*|EnvironmentFile|WorkingDirectory|RequiresMountsFor|"
    r"(?:ReadWrite|ReadOnly|Inaccessible|Exec|NoExec)Paths|Bind(?:ReadOnly)?Paths|LoadCredential)$"
)
_ALL = ("~config/systemd/user", "~data/systemd/user", *FOLDERS)


def _parse(path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text, comments="#;"):
        for item in group.items:
            if item.key in _UNITS:
                detail = "a unit waits for it or wants it"
                yield from member_entries(group, item, " ", lambda name: one(By.UNIT, name), detail)
            elif is_beside(group, item) and item.key == "Sockets":
                yield from member_entries(
                    group, item, " ", lambda name: one(By.UNIT, name), "a unit is handed its socket"
                )
            elif is_beside(group, item) and item.key == "BusName":
                named = item_entry(group, item, one(By.BUS, item.value), "a unit for another takes its name")
                yield replace(named, ask=True)
            elif is_beside(group, item):
                yield item_entry(
                    group, item, of_exec(item.value), "a unit that is there for another starts it too"
                )
            elif watches(group, item) and sum(watches(group, i) for i in group.items) > 1:
                yield item_entry(group, item, one(By.PATH, item.value), "a unit watches it")
            elif item.key in ("SupplementaryGroups", "Group"):
                yield from member_entries(
                    group, item, " ", lambda name: one(By.ACCOUNT, name), "a unit runs with its group"
                )
            elif path.endswith(".conf") and item.key.startswith("Exec"):
                yield item_entry(group, item, of_exec(item.value), "an addition to a unit starts it")
            elif _FILES.match(item.key):
                yield from member_entries(group, item, " ", _path, "a unit needs its files")


def _path(word: str) -> tuple[Target, ...]:
    return of_words(word.lstrip("!|+-"))


KIND = Kind(
    "line of a unit",
    "startup",
    ("line of another unit", "lines of other units"),
    (
        *(Place(f"{folder}/*.{type}", rank) for rank, folder in enumerate(_ALL) for type in TYPES),
        *(Place(f"{folder}/*.d/*.conf") for folder in _ALL),
    ),
    _parse,
    alone="lines",
    masks=True,
    starts="service",
)
