"""Records of its crashes."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = re.sub(r"\.\d+\.(?:crash|upload|uploaded)$", "", base(path))
    program = re.search(r"^ExecutablePath: (.+)$", text[:4096], re.M)
    told = program[1] if program else name.replace("_", "/")
    yield whole_file(1, told, f"crash of {told}", one(By.COMMAND, told), "a record of its crash")


KIND = Kind(
    "crash record",
    "logs",
    ("record of a crash", "records of crashes"),
    (Place("/var/crash/*"),),
    _parse,
    whole=True,
    head=4096,
)
