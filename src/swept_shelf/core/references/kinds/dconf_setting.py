"""Settings in a dconf database that name it: found and said; the database's own tool changes them."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.gvdb import values_of
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_exec, one

_STRING = re.compile(r"[^\0-\x1f]{3,}")
_COMMAND = re.compile(r"(?:command|exec|terminal|browser|editor)$")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is no such database."""
    for key, data in values_of(text.encode("utf-8", "surrogateescape")):
        said = _STRING.findall(data.decode("utf-8", "replace"))
        targets: list[Target] = []
        for word in said:
            if word.endswith(".desktop"):
                targets += one(By.LAUNCHER, word.rpartition("/")[2])
            elif _COMMAND.search(key):
                targets += of_exec(word)
        for part in key.split("/"):
            if part.endswith(".desktop"):
                targets += one(By.LAUNCHER, part)
        if targets:
            shown = f"{key}: {', '.join(said)}"[:200]
            yield Entry(0, key, shown, tuple(targets), "a setting names it")


KIND = Kind(
    "dconf",
    "launchers",
    ("setting in dconf", "settings in dconf"),
    (Place("~config/dconf/user"), Place("/etc/dconf/db/*")),
    _parse,
    action="leave",
    strict=True,
)
