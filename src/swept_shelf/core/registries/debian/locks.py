"""Locks of the package tools: who holds one now, asked for and never taken."""

from __future__ import annotations

import fcntl
import os
import struct
from collections.abc import Iterator

import psutil

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

LOCKS = (
    "/var/lib/dpkg/lock-frontend",
    "/var/lib/dpkg/lock",
    "/var/lib/apt/lists/lock",
    "/var/cache/apt/archives/lock",
)
_ASKED = "hhqqi4x"  # struct flock (fcntl(2)) on 64 bits


def held_locks(machine: Machine, paths: tuple[str, ...] = LOCKS) -> Iterator[tuple[str, str]]:
    """(path, who holds it) of those of `paths` that another process of this computer has locked."""
    for path in paths:
        try:
            fd = machine.open(
                path, os.O_RDONLY | os.O_NOFOLLOW
            )  # to follow a link would move its access time
        except (OSError, CouldNotRead):
            continue
        try:
            kind, _, _, _, pid = struct.unpack(
                _ASKED,
                fcntl.fcntl(fd, fcntl.F_GETLK, struct.pack(_ASKED, fcntl.F_RDLCK, os.SEEK_SET, 0, 0, 0)),
            )
        except OSError:
            continue
        finally:
            os.close(fd)
        if kind != fcntl.F_UNLCK:
            try:
                who = f"{psutil.Process(pid).name()} (process {pid})"
            except (psutil.Error, ValueError):
                who = f"process {pid}"
            yield path, who
