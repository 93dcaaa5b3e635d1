"""What processes of this computer hold of a machine: locks, files without a name, the machine itself.

Read before anything else: once everything is looked at through namespaces of our own, processes cannot be."""

from __future__ import annotations

import errno
import os
from collections import defaultdict
from collections.abc import Iterator

import psutil

from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Obstacle, Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import all_processes
from swept_shelf.core.machine.spawner import own_processes
from swept_shelf.core.machine.volumes import devices_of
from swept_shelf.core.registries.debian.locks import held_locks

_NAMED = 1_000_000


def of_processes(machine: Machine, volumes: list[Volume]) -> list[Obstacle]:
    """Locks, files without a name on these volumes, and, for another root, who works there. Reads no file's content."""
    locks = [
        Obstacle("locked", path, f"{who} holds the package tools’ lock") for path, who in held_locks(machine)
    ]
    found = [*locks, *_deleted(machine, volumes)]
    return found if machine.live else [*found, *_in_use(machine)]


def _deleted(machine: Machine, volumes: list[Volume]) -> Iterator[Obstacle]:
    """Files that have no name any more and that processes keep open, with their allocated bytes, by process."""
    devices = set(devices_of(machine, volumes))
    with machine.folder("/") as fd:
        devices.add(os.fstat(fd).st_dev)
    held: dict[tuple[int, str], dict[tuple[int, int], int]] = defaultdict(dict)
    for process, _, path, status in _open_files():
        if status.st_nlink == 0 and status.st_dev in devices and within(path, machine.root):
            held[process.pid, process.name()][status.st_dev, status.st_ino] = status.st_blocks * 512
    for (pid, name), files in sorted(held.items(), key=lambda h: -sum(h[1].values())):
        total = sum(files.values())
        if total >= _NAMED:
            yield Obstacle(
                "deleted but open",
                "/",
                f"{name} (process {pid}) keeps {plural(len(files), 'deleted file')} open: "
                f"{human_bytes(total)} come back when it ends",
                total,
            )


def _in_use(machine: Machine) -> Iterator[Obstacle]:
    """Processes of this computer that hold files of a foreign root open, or have it as their own root."""
    users: dict[tuple[int, str], str] = {}
    ours = own_processes()
    for process, _, path, _ in _open_files():
        if within(path, machine.root) and process.pid not in ours:
            users.setdefault((process.pid, process.name()), path[len(machine.root) :] or "/")
    for process in all_processes():
        try:
            root = os.readlink(f"/proc/{process.pid}/root")
            if root != "/" and within(root, machine.root):
                users.setdefault((process.pid, process.name()), "/")
        except (OSError, psutil.Error):
            continue
    for (pid, name), path in sorted(users.items()):
        yield Obstacle("in use", path, f"{name} (process {pid}) of this computer works there")


def _open_files() -> Iterator[tuple[psutil.Process, int, str, os.stat_result]]:
    """(process, descriptor, path, status) of every regular file that a process we may look at has open."""
    for process in all_processes():
        try:
            names = os.listdir(f"/proc/{process.pid}/fd")
        except OSError as error:
            if error.errno not in (errno.EACCES, errno.EPERM, errno.ENOENT, errno.ESRCH):
                raise
            continue
        for name in names:
            link = f"/proc/{process.pid}/fd/{name}"
            try:
                path, status = os.readlink(link), os.stat(link)
                if (
                    path.startswith("/")
                    and (status.st_mode & 0o170000) == 0o100000
                    and not path.startswith("/memfd:")
                ):
                    yield process, int(name), path.removesuffix(" (deleted)"), status
            except (OSError, psutil.Error):
                continue
