"""What is asked of rpm for one surveyed application."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.rpm.package import called
from swept_shelf.core.registries.rpm.read import PLACES, packages_of, place_of


def scripts_of(machine: Machine, app: Application) -> list[str]:
    """What runs of its packages when they are erased. Raises CouldNotRead."""
    place = place_of(machine)
    known = packages_of(machine, place) if place in PLACES else {}
    return [p.scripts for r in app.own_packages if (p := called(known, r, "")) and p.scripts]


def uninstall_of(machine: Machine, app: Application, paths: list[str]) -> Uninstall | None:
    """Its own packages, as long as any of its places goes; None where none is there. Raises CouldNotRead."""
    place = place_of(machine)
    if place not in PLACES or not paths:
        return None
    known = packages_of(machine, place)
    named = {r: p for r in app.own_packages if (p := called(known, r, ""))}
    found = {r: p for r, p in named.items() if not p.several or r == p.full}
    if not found:
        return None
    versions = [p.version for p in found.values()]
    return Uninstall(app.id, app.registry, place, "", list(found), versions, paths, 0, "", "")
