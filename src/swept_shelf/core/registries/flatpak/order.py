"""What is asked of flatpak for one surveyed application, or for a runtime that nothing uses."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.flatpak.deployed import deployed
from swept_shelf.core.registries.flatpak.read import PERSONAL, SYSTEM


def uninstall_of(machine: Machine, app: Application, paths: list[str]) -> Uninstall | None:
    """Of its parts those whose places are among `paths`; None where none is. Raises CouldNotRead for what cannot be read now."""
    whose = app.id.split(":")[1]
    kind = "runtime" if app.type == "runtime" else "app"
    place = app.receipt.partition(f"/{kind}/")[0]
    if not (place == SYSTEM if whose == "system" else place.endswith("/" + PERSONAL)):
        return None
    refs, commits = [], []
    for number, name in enumerate(app.own_packages):
        ref = f"{'runtime' if number else kind}/{name}"
        top = f"{place}/{ref}"
        stands = deployed(machine, place, ref)
        if stands is not None and any(within(top, p) or within(p, top) for p in paths):
            refs.append(ref)
            commits.append(stands.commit)
    person = "" if whose == "system" else whose
    return Uninstall(app.id, app.registry, place, person, refs, commits, paths, 0, "", "") if refs else None
