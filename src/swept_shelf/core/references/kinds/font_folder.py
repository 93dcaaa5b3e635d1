"""Folders in which fonts are looked for (fonts.conf(5))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_words
from swept_shelf.core.references.well_formed import why_not_well_formed


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for element in document(text).walk():
        if element.name in ("dir", "include", "cachedir"):
            said = element.own.strip()
            yield element_entry(text, element, said, of_words(said), "fonts are looked for in its folder")


KIND = Kind(
    "folder of fonts",
    "files",
    ("folder of fonts", "folders of fonts"),
    (
        Place("~config/fontconfig/fonts.conf"),
        Place("~config/fontconfig/conf.d/*.conf"),
        Place("~/.fonts.conf"),
        Place("/etc/fonts/local.conf"),
        Place("/etc/fonts/conf.d/*.conf"),
    ),
    _parse,
    alone="entries",
    why_broken=why_not_well_formed,
    strict=True,
)
