"""Additions to its units (drop-ins, systemd.unit(5)): known by the name of their folder."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.kinds.unit import FOLDERS


def _parse(path: str, text: str) -> Iterator[Entry]:
    unit = base(parent(path)).removesuffix(".d")
    first = next((line for line in text.split("\n") if "=" in line), text.split("\n", 1)[0])
    yield whole_file(1, unit, first, (Target(By.UNIT, unit),), f"adds to {unit}")


KIND = Kind(
    "unit drop-in",
    "startup",
    ("unit addition", "unit additions"),
    tuple(
        Place(f"{folder}/*.d/*.conf") for folder in ("~config/systemd/user", "~data/systemd/user", *FOLDERS)
    ),
    _parse,
    whole=True,
)
