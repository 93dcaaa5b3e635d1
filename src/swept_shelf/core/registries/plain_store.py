"""What a store of whole applications answers where it leaves nothing half done: its tool takes everything, or says what it left."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.machine.machine import Machine


def remains(machine: Machine, op: Uninstall) -> list[str]:
    """Paths that the tool left where it was cut off inside."""
    return []


def half_made(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> list[str]:
    """Paths that the tool left half made."""
    return []


@contextmanager
def folder_of(machine: Machine, op: Uninstall, path: str) -> Iterator[int]:
    """The folder a path of it stands in, as a descriptor."""
    with machine.folder(parent(path)) as fd:
        yield fd


def let_go(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], prune: bool) -> None:
    """All that is kept lies on the shelf."""


def before(machine: Machine, op: Uninstall) -> dict[str, Any]:
    return {"names": [], "config": ""}


def tidy(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> None:
    """Nothing of the tool's own stays."""
