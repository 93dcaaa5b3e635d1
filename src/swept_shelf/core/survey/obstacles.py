"""What would stand in the way, or holds space that no removal gives back: looked for before anything else."""

from __future__ import annotations

import errno
import fcntl
import os
import re
import struct
from collections import defaultdict
from collections.abc import Iterator

import psutil

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import join, within
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Obstacle, Volume
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import devices_of
from swept_shelf.core.registries.debian.package import DebianRegistry

_LOCKS = ("/var/lib/dpkg/lock-frontend", "/var/lib/dpkg/lock", "/var/lib/apt/lists/lock", "/var/cache/apt/archives/lock")
_SNAPSHOTS = (".snapshots", "timeshift/snapshots", ".zfs/snapshot", "@snapshots")
_BOOT_NEEDS = 100_000_000
_NAMED = 1_000_000


def of_processes(machine: Machine, volumes: list[Volume]) -> list[Obstacle]:
    """What other processes hold: locks, files without a name on these volumes, a foreign root. Reads nothing of the machine."""
    found = [*_locks(machine), *_deleted(machine, volumes)]
    return found if machine.live else [*found, *_in_use(machine)]


def of_volumes(machine: Machine, volumes: list[Volume]) -> list[Obstacle]:
    return [*_of_volumes(machine, volumes), *_snapshots(machine, volumes)]


def of_packages(machine: Machine, registry: DebianRegistry) -> Iterator[Obstacle]:
    """Packages that are not whole, by dpkg's own audit; and a dpkg that was cut off."""
    pending = [n for n in machine.names("/var/lib/dpkg/updates") if n.isdigit()]
    if pending:
        yield Obstacle("half configured", "/var/lib/dpkg/updates", "an earlier dpkg was cut off: “dpkg --configure -a” has to run first")
    with machine.handed("/var/lib/dpkg") as (folder, fd):
        try:
            done = run("dpkg", f"--admindir={folder}", "--audit", fds=[fd])
        except CouldNotRead as error:
            yield Obstacle("half configured", "/var/lib/dpkg/status", f"could not be audited: {error.reason}")
            return
    names = re.findall(r"^ (\S+)", done.out.decode("utf-8", "replace"), re.M)
    broken = {p.plain_name for p in registry.packages.values()
              if p.error == "reinstreq" or p.status in ("half-installed", "unpacked", "half-configured")}  # fmt: skip
    names = [n for n in dict.fromkeys(names) if n.split(":")[0] in broken] or sorted(broken)
    if names:
        few = ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
        yield Obstacle("half configured", "/var/lib/dpkg/status", f"{plural(len(names), 'package is', 'packages are')} not whole: {few}")


def _locks(machine: Machine) -> Iterator[Obstacle]:
    """Locks that another package tool holds now (asked for, never taken)."""
    for path in _LOCKS:
        try:
            fd = machine.open(path)
        except OSError:
            continue
        try:
            asked = struct.pack("hhqqi4x", fcntl.F_RDLCK, os.SEEK_SET, 0, 0, 0)
            kind, _, _, _, pid = struct.unpack("hhqqi4x", fcntl.fcntl(fd, fcntl.F_GETLK, asked))
        except OSError:
            continue
        finally:
            os.close(fd)
        if kind != fcntl.F_UNLCK:
            try:
                who = f"{psutil.Process(pid).name()} (process {pid})"
            except (psutil.Error, ValueError):
                who = f"process {pid}"
            yield Obstacle("locked", path, f"{who} holds the package tools’ lock")


def _of_volumes(machine: Machine, volumes: list[Volume]) -> Iterator[Obstacle]:
    for v in volumes:
        if v.read_only:
            yield Obstacle("read-only", v.mount, "is mounted read-only: nothing on it can be removed")
        elif v.free == 0:
            yield Obstacle("full", v.mount, "has not one byte free: originals have to be kept on another volume")
        elif v.mount == "/boot" and v.free < _BOOT_NEEDS:
            yield Obstacle("full", v.mount, f"has {human_bytes(v.free)} free: the next kernel may not fit")
        if v.inodes and not machine.description:
            try:
                with machine.folder(v.mount) as fd:
                    free = os.fstatvfs(fd).f_favail
            except OSError:
                continue
            if free < 100:
                yield Obstacle("no inodes", v.mount, f"has {plural(free, 'free inode')} of {v.inodes}: no new file can be made")


def _snapshots(machine: Machine, volumes: list[Volume]) -> Iterator[Obstacle]:
    for v in volumes:
        for place in _SNAPSHOTS:
            path = join(v.mount, *place.split("/"))
            names = [n for n in machine.names(path) if not n.startswith(".")]
            if names:
                yield Obstacle("snapshots", path, f"{plural(len(names), 'snapshot')} may hold what is removed: space comes back when they go")


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
            yield Obstacle("deleted but open", "/", f"{name} (process {pid}) keeps {plural(len(files), 'deleted file')} open: "
                           f"{human_bytes(total)} come back when it ends", total)  # fmt: skip


def _in_use(machine: Machine) -> Iterator[Obstacle]:
    """Processes of this computer that hold files of a foreign root open, or have it as their own root."""
    users: dict[tuple[int, str], str] = {}
    for process, _, path, _ in _open_files():
        if within(path, machine.root) and process.pid != os.getpid():
            users.setdefault((process.pid, process.name()), path[len(machine.root) :] or "/")
    for process in psutil.process_iter():
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
    for process in psutil.process_iter():
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
                if path.startswith("/") and (status.st_mode & 0o170000) == 0o100000 and not path.startswith("/memfd:"):
                    yield process, int(name), path.removesuffix(" (deleted)"), status
            except (OSError, psutil.Error):
                continue
