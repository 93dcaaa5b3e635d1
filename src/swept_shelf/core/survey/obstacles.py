"""What would stand in the way of the work: volumes, snapshots, packages that are not whole."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import join
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Obstacle, Volume
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.registries.debian.read import database

_SNAPSHOTS = (".snapshots", "timeshift/snapshots", ".zfs/snapshot", "@snapshots")
_BOOT_NEEDS = 100_000_000


def of_volumes(machine: Machine, volumes: list[Volume]) -> list[Obstacle]:
    return [*_of_volumes(machine, volumes), *_snapshots(machine, volumes)]


def of_packages(machine: Machine, registry: DebianRegistry) -> Iterator[Obstacle]:
    """Packages that are not whole, by dpkg's own audit; and a dpkg that was cut off."""
    pending = [n for n in machine.names("/var/lib/dpkg/updates") if n.isdigit()]
    if pending:
        yield Obstacle(
            "half configured",
            "/var/lib/dpkg/updates",
            "an earlier dpkg was cut off: “dpkg --configure -a” has to run first",
        )
    with database(machine) as (folder, fd):
        try:
            done = run("dpkg", f"--admindir={folder}", "--audit", fds=[fd])
        except CouldNotRead as error:
            yield Obstacle("half configured", "/var/lib/dpkg/status", f"could not be audited: {error.reason}")
            return
    names = re.findall(r"^ (\S+)", done.out.decode("utf-8", "replace"), re.M)
    broken = {
        p.plain_name
        for p in registry.packages.values()
        if p.error == "reinstreq" or p.status in ("half-installed", "unpacked", "half-configured")
    }
    names = [n for n in dict.fromkeys(names) if n.split(":")[0] in broken] or sorted(broken)
    if names:
        few = ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
        yield Obstacle(
            "half configured",
            "/var/lib/dpkg/status",
            f"{plural(len(names), 'package is', 'packages are')} not whole: {few}",
        )


def _of_volumes(machine: Machine, volumes: list[Volume]) -> Iterator[Obstacle]:
    for v in volumes:
        if v.read_only:
            yield Obstacle("read-only", v.mount, "is mounted read-only: nothing on it can be removed")
        elif v.free == 0:
            yield Obstacle(
                "full", v.mount, "has not one byte free: originals have to be kept on another volume"
            )
        elif v.mount == "/boot" and v.free < _BOOT_NEEDS:
            yield Obstacle("full", v.mount, f"has {human_bytes(v.free)} free: the next kernel may not fit")
        if v.inodes and not machine.description:
            try:
                with machine.folder(v.mount) as fd:
                    free = os.fstatvfs(fd).f_favail
            except OSError:
                continue
            if free < 100:
                yield Obstacle(
                    "no inodes",
                    v.mount,
                    f"has {plural(free, 'free inode')} of {v.inodes}: no new file can be made",
                )


def _snapshots(machine: Machine, volumes: list[Volume]) -> Iterator[Obstacle]:
    for v in volumes:
        for place in _SNAPSHOTS:
            path = join(v.mount, *place.split("/"))
            names = [n for n in machine.names(path) if not n.startswith(".")]
            if names:
                yield Obstacle(
                    "snapshots",
                    path,
                    f"{plural(len(names), 'snapshot')} may hold what is removed: space comes back when they go",
                )
