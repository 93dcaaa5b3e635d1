"""Menus that name launchers (freedesktop.org Desktop Menu Specification)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one
from swept_shelf.core.references.well_formed import why_not_well_formed


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for element in document(text).walk():
        if element.name == "Filename":
            name = element.own.strip()
            yield element_entry(text, element, name, one(By.LAUNCHER, name), "named in a menu")


KIND = Kind(
    "menu",
    "launchers",
    ("mention in a menu", "mentions in menus"),
    (Place("~config/menus/**/*.menu"), Place("/etc/xdg/menus/**/*.menu")),
    _parse,
    why_broken=why_not_well_formed,
    strict=True,
)
