"""Other systems whose disks are mounted here: what a technician may want to look at beside this computer."""

from __future__ import annotations

import stat
from dataclasses import dataclass

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.paths import within
from swept_shelf.core.machine.facts import machine_facts
from swept_shelf.core.machine.machine import Machine, open_machine
from swept_shelf.core.machine.volumes import mount_points

_PARTS = ("/etc", "/usr")  # what no system is without
_OF_THE_SYSTEM = ("/proc", "/sys", "/dev", "/run/credentials")


@dataclass(frozen=True, slots=True)
class System:
    """`os` as the system calls itself, "" where it does not say."""

    root: str
    name: str
    os: str


def mounted_systems() -> list[System]:
    """This computer first. What may not be looked into is left out: it cannot be surveyed either."""
    found = []
    for mount in mount_points(open_machine("/")):
        if any(within(mount, top) for top in _OF_THE_SYSTEM):
            continue
        try:
            machine = open_machine(mount)
            if all(_is_folder(machine, part) for part in _PARTS):
                facts = machine_facts(machine)
                found.append(System(mount, facts.name, facts.os))
        except (SweptShelfError, OSError):
            continue
    return found


def _is_folder(machine: Machine, path: str) -> bool:
    status = machine.lstat(path)
    return status is not None and stat.S_ISDIR(status.st_mode)
