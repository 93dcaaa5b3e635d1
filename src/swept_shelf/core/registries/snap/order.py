"""What is asked of the snap service for one surveyed snap."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.snap import service
from swept_shelf.core.registries.snap.read import IMAGES, PLACE


def uninstall_of(machine: Machine, app: Application, paths: list[str]) -> Uninstall | None:
    """None where the snap is gone, or its image is not among `paths`. Raises CouldNotRead where its service does not answer."""
    ref = app.own_packages[0] if app.own_packages else ""
    name = ref.partition("/")[0]
    revision = app.receipt.rpartition("_")[2].removesuffix(".snap")
    if not any(p.startswith(f"{IMAGES}/") for p in paths):
        return None
    if service.answers(machine) and all(r.get("name") != name for r in service.rows(machine)):
        return None
    return Uninstall(app.id, app.registry, PLACE, "", [ref], [revision], paths, 0, "", "")
