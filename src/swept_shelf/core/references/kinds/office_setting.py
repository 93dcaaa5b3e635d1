"""Settings of an office suite that lead to it: templates, extensions and tools by their addresses (registrymodifications.xcu)."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_words, one
from swept_shelf.core.references.well_formed import why_not_well_formed

_BEGINS, _ENDS = re.compile(r"<item\b"), "</item>"
_ADDRESS = re.compile(r"file://[^\s<;,\"]+")
_VALUE = re.compile(r"<value[^>]*>(/[^<]*)</value>")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    at, line, counted = 0, 1, 0
    while begins := _BEGINS.search(text, at):
        at = text.find(_ENDS, begins.end())
        if at < 0:
            return
        at += len(_ENDS)
        item, end = text[begins.start() : at], at + (text[at : at + 1] == "\n")
        start = text.rfind("\n", 0, begins.start()) + 1
        if text[start : begins.start()].strip():
            start = begins.start()
        found = [t for m in _ADDRESS.finditer(item) for t in one(By.ADDRESS, m[0])]
        found += [t for m in _VALUE.finditer(item) for t in of_words(m[1])]
        if found:
            line += text.count("\n", counted, begins.start())
            counted = begins.start()
            shown = " ".join(item.split())[:200]
            yield Entry(line, shown, shown, tuple(found), "a setting leads to it", start, end)


KIND = Kind(
    "office's setting",
    "other_programs",
    ("setting of an office suite", "settings of an office suite"),
    (Place("~config/*/4/user/registrymodifications.xcu"),),
    _parse,
    why_broken=why_not_well_formed,
)
