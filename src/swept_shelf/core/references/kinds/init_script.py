"""Scripts of init and their links in the folders of run levels."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_words, one

_DAEMON = re.compile(r"^\s*(?:DAEMON|PROGRAM|EXEC|COMMAND|PROG|BIN)=(.*)$", re.M)


def _parse(path: str, text: str) -> Iterator[Entry]:
    for match in _DAEMON.finditer(text):
        line = text.count("\n", 0, match.start()) + 1
        value = match[1].strip("\"' ")
        yield whole_file(
            line,
            match[0].strip(),
            match[0].strip(),
            of_words(value) or one(By.COMMAND, value),
            "a script of init starts it",
        )
    name = base(path)
    targets = (*one(By.UNIT, f"{name}.service"), *one(By.PATH, path))
    yield whole_file(1, name, text.split("\n", 1)[0], targets, "a script of init of its name")


KIND = Kind(
    "init script",
    "startup",
    ("script of init", "scripts of init"),
    (Place("/etc/init.d/*", runs=True), Place("/etc/init/*.conf")),
    _parse,
    whole=True,
    starts="service",
)
