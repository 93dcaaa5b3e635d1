"""Room that must be there before the first step: a full disk is the normal case (design, 5.12)."""

from __future__ import annotations

import os
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.operations import KeepOriginal, Plan, RemovePackages, Shelve
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes, volume_of

PER_SLOT = 32 << 10
DATABASE = 4 << 20


def check_room(machine: Machine, plan: Plan, originals: str) -> None:
    """Raises Refused, naming the volume, what it lacks and what to do, before anything changes."""
    volumes = read_volumes(machine)
    wanted: dict[str, int] = {}
    kept = sum(op.bytes for op in plan.operations if isinstance(op, KeepOriginal))
    for op in plan.operations:
        place = op.path if isinstance(op, Shelve) else "/"
        id = volume_of(volumes, place).id
        wanted[id] = wanted.get(id, 0) + PER_SLOT
        if isinstance(op, RemovePackages):
            wanted[id] += DATABASE
    first = volumes[0].id
    if kept and not originals:
        wanted[first] = wanted.get(first, 0) + kept
    for v in volumes:
        need = wanted.get(v.id, 0)
        free = min(v.free, _really_free(machine, v.mount))
        if need > free:
            help = (
                "; --originals FOLDER keeps the originals elsewhere"
                if kept and v.id == first and not originals
                else ""
            )
            raise Refused(
                f"has {human_bytes(free)} free and needs {human_bytes(need)} for the way back{help}", v.mount
            )
    if originals and kept:
        try:
            numbers = os.statvfs(Path(originals))
        except OSError as error:
            raise Refused(f"originals cannot be kept there: {error.strerror}", originals) from None
        if numbers.f_bavail * numbers.f_frsize < kept:
            raise Refused(f"has no room for {human_bytes(kept)} of originals", originals)


def _really_free(machine: Machine, mount: str) -> int:
    with machine.folder(mount) as fd:
        numbers = os.fstatvfs(fd)
    return (numbers.f_bfree if os.geteuid() == 0 else numbers.f_bavail) * numbers.f_frsize
