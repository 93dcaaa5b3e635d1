"""A file of the machine in a new version: written beside it and put in its place."""

from __future__ import annotations

import contextlib
import os
import stat

from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.beneath import beside_name


def replace_text(folder: int, name: str, content: bytes) -> None:
    """Write beside, sync, exchange; mode and owner kept."""
    before = os.stat(name, dir_fd=folder, follow_symlinks=False)
    put_file(folder, name, content, before.st_mode & 0o7777, (before.st_uid, before.st_gid))


def sweep_beside(folder: int, name: str) -> None:
    """Away with what an earlier try, cut off before the exchange, left beside: ours, with no other name. Not for files that an
    operation edits: what stands beside such a one may be what it held."""
    for other in os.listdir(folder):
        if beneath.is_beside(other, name):
            with contextlib.suppress(OSError):
                status = os.stat(other, dir_fd=folder, follow_symlinks=False)
                if stat.S_ISREG(status.st_mode) and (status.st_uid, status.st_nlink) == (os.geteuid(), 1):
                    os.unlink(other, dir_fd=folder)


def put_file(folder: int, name: str, content: bytes, mode: int, owner: tuple[int, int] | None = None) -> None:
    """A file with this content, whatever stood there; of `owner` where that may be given. Raises OSError."""
    beside = beside_name(name)
    fd = os.open(
        beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder
    )
    try:
        with os.fdopen(fd, "wb") as handle:
            handle.write(content)
            os.fchmod(fd, mode)
            if owner is not None and os.geteuid() == 0:
                os.fchown(fd, *owner)
            handle.flush()
            os.fsync(fd)
        beneath.rename(folder, beside, folder, name, flags=0)
        os.fsync(folder)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(beside, dir_fd=folder)
        raise
