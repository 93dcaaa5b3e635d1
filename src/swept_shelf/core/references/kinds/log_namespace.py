"""Journals of its own (systemd-journald.service(8), namespaces): known by the name behind the @."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    holder = base(path) if base(path).startswith("journald@") else base(parent(path))
    name = holder.partition("@")[2].removesuffix(".d").removesuffix(".conf")
    yield whole_file(
        1,
        name,
        text.split("\n", 1)[0],
        (*one(By.NAME, name), *one(By.COMMAND, name)),
        "settings of a journal of its own",
    )


KIND = Kind(
    "journal of its own",
    "logs",
    ("settings of its journal", "settings of its journals"),
    (Place("/etc/systemd/journald@*.conf"), Place("/etc/systemd/journald@*.conf.d/*.conf")),
    _parse,
    whole=True,
)
