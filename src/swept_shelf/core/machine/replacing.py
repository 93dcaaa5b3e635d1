"""A file of the machine in a new version: written beside it and put in its place."""

from __future__ import annotations

import contextlib
import os

from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.beneath import beside_name


def replace_text(folder: int, name: str, content: bytes) -> None:
    """Write beside, sync, exchange; mode and owner kept."""
    before = os.stat(name, dir_fd=folder, follow_symlinks=False)
    put_file(folder, name, content, before.st_mode & 0o7777, (before.st_uid, before.st_gid))


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
