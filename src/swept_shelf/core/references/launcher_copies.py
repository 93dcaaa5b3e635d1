"""Launchers that people made or copied: in their own menu, on their desktop."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.autostart import entry_pointer
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees

FAMILY = "launchers"


def places(home: str | None) -> list[str]:
    return (
        [f"{home}/.local/share/applications", f"{home}/Desktop"]
        if home
        else ["/usr/local/share/applications"]
    )


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    where = "on the desktop" if "/Desktop/" in path else "in the menu"
    for id, number, line in entry_pointer(path, text, to):
        yield Hit(id, FAMILY, "launcher", path, number, "Exec", line, f"starts it {where}", True)
