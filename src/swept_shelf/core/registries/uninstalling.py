"""What is asked of a registry of whole applications for one of them."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.flatpak import order as flatpak
from swept_shelf.core.registries.rpm import order as rpm
from swept_shelf.core.registries.snap import order as snap

_SCRIPTS = {"rpm": rpm.scripts_of}
_ORDERS = {"flatpak": flatpak.uninstall_of, "rpm": rpm.uninstall_of, "snap": snap.uninstall_of}


def scripts_of(machine: Machine, app: Application) -> list[str]:
    """What of it runs when it is uninstalled, and may take more away than its registry does. Raises CouldNotRead."""
    read = _SCRIPTS.get(app.registry)
    return read(machine, app) if read else []


def uninstall_of(machine: Machine, app: Application, paths: list[str]) -> Uninstall | None:
    """Of its parts those whose places are among `paths`; None where none is there. Raises CouldNotRead for what cannot be read."""
    return _ORDERS[app.registry](machine, app, paths)
