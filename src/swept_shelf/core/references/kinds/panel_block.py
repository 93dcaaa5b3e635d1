"""Panels whose settings are blocks in braces: a button that starts something."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec, one

_BUTTON = re.compile(r"^[ \t]*Button\s*\{[^{}]*\}[ \t]*\n?", re.M)
_SAYS = re.compile(r"^\s*(id|action|Exec)\s*=\s*(.+?)\s*$", re.M)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for block in _BUTTON.finditer(text):
        for said in _SAYS.finditer(text, block.start(), block.end()):
            targets = one(By.LAUNCHER, base("/" + said[2])) if said[1] == "id" else of_exec(said[2])
            line = text.count("\n", 0, said.start(1)) + 1
            yield Entry(line, said[0].strip(), said[0].strip(), targets, "a button in a panel", *block.span())


KIND = Kind(
    "panel button",
    "launchers",
    ("button in a panel", "buttons in panels"),
    (Place("~config/*/*/panels/*"), Place("~config/*/panels/*")),
    _parse,
)
