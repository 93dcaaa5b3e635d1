"""What is asked of rpm for one surveyed application."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.rpm.read import PLACES, packages_of, place_of


def uninstall_of(machine: Machine, app: Application, paths: list[str]) -> Uninstall | None:
    """Its own packages, as long as any of its places goes; None where none is there. Raises CouldNotRead."""
    place = place_of(machine)
    if place not in PLACES or not paths:
        return None
    known = packages_of(machine, place)
    refs = [p for p in app.own_packages if p in known]
    if not refs:
        return None
    return Uninstall(
        app.id, app.registry, place, "", refs, [known[r].version for r in refs], paths, 0, "", ""
    )
