"""Exchanging a file for another that is written beside it: owner, mode and attributes as they were, the old one onto the shelf."""

from __future__ import annotations

import hashlib
import os
import stat

from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import MOST, Machine


def digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def content_of(folder: int, name: str) -> bytes:
    """What a regular file holds that is edited, within limits. Raises OSError, Changed for another kind of file."""
    fd = os.open(name, os.O_PATH | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    try:
        if not stat.S_ISREG(os.fstat(fd).st_mode) or os.fstat(fd).st_size > MOST:
            raise Changed("is no file that could be edited any more", name)
        with os.fdopen(beneath.opened_again(fd, os.O_RDONLY), "rb") as handle:
            data = handle.read(MOST + 1)
        if len(data) > MOST:
            raise Changed("is larger than any file that is edited", name)
        return data
    finally:
        os.close(fd)


def exchange(
    machine: Machine,
    path: str,
    identity: Identity,
    slot: int,
    old: bytes,
    new: bytes,
    part: str,
    item: str = "item",
) -> None:
    """Write the new file beside, as `part`, exchange the two, move the old one to the shelf as `item`. Raises Changed, OSError.

    Owner and mode come from the very file whose content is `old`, and must be those that were surveyed: its person may put
    another one in its place at any moment."""
    name = base(path)
    with machine.folder(parent(path)) as folder:
        kept = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
        try:
            before = os.fstat(kept)
            now = machine.identity(before)
            surveyed = all(
                getattr(identity, n) in (None, getattr(now, n)) for n in ("type", "uid", "gid", "mode")
            )
            if not surveyed or before.st_size != len(old) or os.pread(kept, len(old) + 1, 0) != old:
                raise Changed("was exchanged for another file at the last moment; it was left", path)
            ours = write_alike(folder, kept, part, new)
        finally:
            os.close(kept)
        beneath.rename(folder, part, folder, name, beneath.EXCHANGE)
        swapped, written = (os.stat(n, dir_fd=folder, follow_symlinks=False) for n in (part, name))
        if (swapped.st_ino, swapped.st_mtime_ns, written.st_ino) != (before.st_ino, before.st_mtime_ns, ours):
            beneath.rename(folder, part, folder, name, beneath.EXCHANGE)
            if os.stat(part, dir_fd=folder, follow_symlinks=False).st_ino == ours:
                os.unlink(part, dir_fd=folder)
            raise Changed("was written to at the last moment; it was left", path)
        os.fsync(folder)
        beneath.rename(folder, part, slot, item)
        arrived = os.stat(item, dir_fd=slot, follow_symlinks=False)
        if (arrived.st_ino, arrived.st_mtime_ns) != (
            before.st_ino,
            before.st_mtime_ns,
        ):  # a number alone may be given anew
            beneath.rename(slot, item, folder, part)
            raise Changed("was swapped for another file at the last moment", path)
        os.fsync(slot)
        os.fsync(folder)


def write_alike(folder: int, old: int, part: str, new: bytes) -> int:
    """A new file with the owner, mode and extended attributes (ACLs among them) of the open one `old`; never with the bits
    that give a program its owner's rights. Returns its inode."""
    fd = os.open(
        part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder
    )
    try:
        status = os.fstat(old)
        view = memoryview(new)
        while view:
            view = view[os.write(fd, view) :]
        if os.geteuid() == 0:
            os.fchown(fd, status.st_uid, status.st_gid)
        os.fchmod(fd, status.st_mode & 0o777)
        for attribute in os.listxattr(old):
            os.setxattr(fd, attribute, os.getxattr(old, attribute))
        os.fsync(fd)
        return os.fstat(fd).st_ino
    except OSError:
        os.unlink(part, dir_fd=folder)
        raise
    finally:
        os.close(fd)
