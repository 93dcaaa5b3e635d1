"""Room that must be there before the first step: a full disk is the normal case."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.operations import KeepOriginal, Operation, Plan
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes

ELSEWHERE = "; originals of packages can be kept in a folder elsewhere"  # what helps where a volume is full


def check_room(machine: Machine, plan: Plan, originals: str) -> None:
    """Raises Refused, naming the volume, what it lacks and what to do, before anything changes."""
    if why := lacking(machine, plan.operations, originals):
        raise Refused(why)


def lacking(machine: Machine, operations: Iterable[Operation], originals: str) -> str:
    """Which volume lacks how much for the way back, and what to do; "" where there is room."""
    volumes = read_volumes(machine)
    wanted: dict[str, int] = {}
    kept = 0
    for op in operations:
        kept += op.bytes if isinstance(op, KeepOriginal) else 0
        for volume, size in module_of(op).room(op, machine, volumes).items():
            wanted[volume] = wanted.get(volume, 0) + size
    first = volumes[0].id
    if kept and not originals:
        wanted[first] = wanted.get(first, 0) + kept
    for v in volumes:
        need = wanted.get(v.id, 0)
        free = min(v.free, _really_free(machine, v.mount))
        if need > free:
            help = ELSEWHERE if kept and v.id == first and not originals else ""
            return f"{v.mount}: has {human_bytes(free)} free and needs {human_bytes(need)} for the way back{help}"
    if originals and kept:
        try:
            numbers = os.statvfs(Path(originals))
        except OSError as error:
            return f"{originals}: originals cannot be kept there: {error.strerror}"
        if numbers.f_bavail * numbers.f_frsize < kept:
            return f"{originals}: has no room for {human_bytes(kept)} of originals"
    return ""


def _really_free(machine: Machine, mount: str) -> int:
    with machine.folder(mount) as fd:
        numbers = os.fstatvfs(fd)
    return (numbers.f_bfree if os.geteuid() == 0 else numbers.f_bavail) * numbers.f_frsize
