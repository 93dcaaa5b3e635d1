"""Links in the folders of run levels, leading to a script of init."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, target: str) -> Iterator[Entry]:
    script = base("/" + target)
    targets = (*one(By.UNIT, f"{script}.service"), *one(By.COMMAND, script))
    yield whole_file(
        0,
        target,
        f"-> {target}",
        targets,
        "starts in a run level" if base(path)[:1] == "S" else "ends in a run level",
        base(path)[:1] == "S",
    )


KIND = Kind(
    "run level",
    "startup",
    ("link of a run level", "links of run levels"),
    (Place("/etc/rc[0-6S].d/[SK][0-9][0-9]*"),),
    _parse,
    links=True,
    starts="service",
)
