"""Links that enable, rename or mask a unit of it (systemctl(1))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.kinds.unit import FOLDERS, TYPES

_BESIDE = ("wants", "requires", "upholds")


def _parse(path: str, target: str) -> Iterator[Entry]:
    above = base(parent(path))
    enabled = above.rpartition(".")[2] in _BESIDE
    detail = f"starts with {above.rpartition('.')[0]}" if enabled else "another name of its unit"
    if target == "/dev/null":
        detail, enabled = "masks its unit", False
    yield whole_file(
        0,
        target,
        f"-> {target}",
        (Target(By.UNIT, base("/" + target)), Target(By.UNIT, base(path))),
        detail,
        enabled or target != "/dev/null",
    )


KIND = Kind(
    "unit link",
    "startup",
    ("enabled unit", "enabled units"),
    tuple(
        Place(f"{folder}/{beside}*.{type}")
        for folder in ("~config/systemd/user", "~data/systemd/user", *FOLDERS)
        for beside in ("", *(f"*.{b}/" for b in _BESIDE))
        for type in TYPES
    ),
    _parse,
    links=True,
    starts="service",
)
