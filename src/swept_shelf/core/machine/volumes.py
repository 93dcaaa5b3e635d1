"""Volumes of the machine: capacity, used, free, in bytes."""

from __future__ import annotations

import contextlib
import os
import re
from collections.abc import Iterable

from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine

_PSEUDO = frozenset(
    {
        "proc",
        "sysfs",
        "devtmpfs",
        "devpts",
        "tmpfs",
        "cgroup",
        "cgroup2",
        "mqueue",
        "securityfs",
        "debugfs",
        "tracefs",
        "pstore",
        "bpf",
        "configfs",
        "fusectl",
        "hugetlbfs",
        "autofs",
        "binfmt_misc",
        "nsfs",
        "ramfs",
        "efivarfs",
        "rpc_pipefs",
        "squashfs",
        "overlay",
    }
)


def read_volumes(machine: Machine) -> list[Volume]:
    """The root's volume first. A made-up machine's used part follows the bytes that really stand in it."""
    if machine.description:
        mounts = [v.mount for v in machine.description.volumes]
        return [
            _volume(
                v.id,
                v.mount,
                "",
                v.file_system,
                "",
                False,
                v.capacity,
                v.base
                + allocated_below(
                    machine, v.mount, [m for m in mounts if m != v.mount and within(m, v.mount)]
                ),
            )
            for v in machine.description.volumes
        ]
    found: dict[str, Volume] = {}
    for mount, device, kind, options in _mounts(machine):
        try:
            fd = machine.open(mount, os.O_PATH | os.O_DIRECTORY)
        except OSError:
            continue
        try:
            numbers, status = os.fstatvfs(fd), os.fstat(fd)
        except OSError:
            continue
        finally:
            os.close(fd)
        id = machine.file_system(status.st_dev)
        if id in found or (mount != "/" and kind in _PSEUDO):
            continue
        unit = numbers.f_frsize
        reserved = (numbers.f_bfree - numbers.f_bavail) * unit
        found[id] = Volume(
            id,
            mount,
            device,
            kind,
            options,
            "ro" in options.split(","),
            numbers.f_blocks * unit,
            (numbers.f_blocks - numbers.f_bfree) * unit,
            numbers.f_bavail * unit,
            reserved,
            numbers.f_files,
        )
    return list(found.values())


def free_bytes(machine: Machine) -> dict[str, int]:
    return {v.id: v.free for v in read_volumes(machine)}


def devices_of(machine: Machine, volumes: list[Volume]) -> list[int]:
    """Device numbers of what is mounted there; those that cannot be reached are left out."""
    found = []
    for v in volumes:
        with contextlib.suppress(OSError), machine.folder(v.mount) as fd:
            found.append(os.fstat(fd).st_dev)
    return found


def volume_of(volumes: list[Volume], path: str) -> Volume:
    """The volume with the longest mount point above `path`."""
    return max((v for v in volumes if within(path, v.mount)), key=lambda v: len(v.mount), default=volumes[0])


def mount_points(machine: Machine) -> list[str]:
    """Where anything is mounted inside the machine, made-up volumes among it."""
    told = [v.mount for v in machine.description.volumes] if machine.description else []
    return sorted({*told, *(mount for mount, *_ in _mounts(machine))})


def mounts_in_memory(machine: Machine) -> list[str]:
    """Where a file system is mounted that is in memory alone: what lies there takes nothing of any volume."""
    return [mount for mount, _, kind, _ in _mounts(machine) if kind in ("tmpfs", "ramfs") and mount != "/"]


def is_in_memory(path: str, in_memory: Iterable[str], volumes: Iterable[Volume]) -> bool:
    """Whether the nearest mount above `path` is one of `in_memory`: a disk may be mounted below such a one."""
    depth = max((len(m) for m in in_memory if within(path, m)), default=0)
    return depth > 0 and depth > max((len(v.mount) for v in volumes if within(path, v.mount)), default=0)


def _volume(
    id: str, mount: str, device: str, kind: str, options: str, read_only: bool, capacity: int, used: int
) -> Volume:
    return Volume(id, mount, device, kind, options, read_only, capacity, used, max(0, capacity - used), 0, 0)


def _mounts(machine: Machine) -> list[tuple[str, str, str, str]]:
    """(mount inside the machine, device, file system, options), the root's own first (proc_pid_mountinfo(5))."""
    rows = []
    with open("/proc/self/mountinfo", encoding="utf-8", errors="surrogateescape") as table:
        for line in table:
            left, _, right = line.partition(" - ")
            parts, tail = left.split(), right.split()
            point = re.sub(r"\\([0-7]{3})", lambda m: chr(int(m[1], 8)), parts[4])
            rows.append((point, tail[1], tail[0], parts[5]))
    above = [r for r in rows if within(machine.root, r[0])]
    if not above:
        above = [("/", "", "", "")]
    top = max(enumerate(above), key=lambda r: (len(r[1][0]), r[0]))[1]
    inside = [
        (p if machine.live else p[len(machine.root) :], d, k, o)
        for p, d, k, o in rows
        if p != machine.root and within(p, machine.root)
    ]
    return [("/", *top[1:]), *sorted(inside)]


def allocated_below(machine: Machine, top: str, without: list[str]) -> int:
    """Allocated bytes of everything below `top`, hard links once, folders `without` left out."""
    seen: set[int] = set()
    total = 0
    try:
        with machine.folder(top) as fd:
            total += os.fstat(fd).st_blocks * 512
            for path, inner, names in folders_below(fd, unreadable_too=True):
                here = f"{top.rstrip('/')}/{path}" if path else top.rstrip("/")
                names[:] = [n for n in names if f"{here}/{n}" not in without]
                for name in names:
                    with contextlib.suppress(FileNotFoundError):
                        status = os.stat(name, dir_fd=inner, follow_symlinks=False)
                        if status.st_nlink == 1 or status.st_ino not in seen:
                            seen.add(status.st_ino)
                            total += status.st_blocks * 512
    except OSError:
        pass
    return total
