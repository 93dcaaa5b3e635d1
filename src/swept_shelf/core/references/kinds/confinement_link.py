"""Links that set a profile aside, or only let it complain."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.kinds.confinement import by_name


def _parse(path: str, target: str) -> Iterator[Entry]:
    yield whole_file(0, target, f"-> {target}", by_name(path), "sets its profile aside")


KIND = Kind(
    "confinement set aside",
    "security",
    ("link that sets a profile aside", "links that set profiles aside"),
    (Place("/etc/apparmor.d/disable/*"), Place("/etc/apparmor.d/force-complain/*")),
    _parse,
    links=True,
)
