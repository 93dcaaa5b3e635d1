"""A second name for a file, in another folder: no room is needed, and the very same file comes back."""

from __future__ import annotations

import contextlib
import os
import shutil


def second_name(above: int, name: str, folder: int, number: str) -> None:
    """Give a file the name `number` in `folder` too; once more is as good as once. Where another volume holds it, or the kernel's rules
    forbid it for somebody else's: a copy. Raises OSError."""
    here = os.stat(name, dir_fd=above, follow_symlinks=False)
    with contextlib.suppress(FileNotFoundError):
        known = os.stat(number, dir_fd=folder, follow_symlinks=False)
        if (known.st_dev, known.st_ino) == (here.st_dev, here.st_ino):
            return
        os.unlink(number, dir_fd=folder)
    try:
        os.link(name, number, src_dir_fd=above, dst_dir_fd=folder, follow_symlinks=False)
    except OSError:
        copied(above, name, folder, number)


def copied(from_fd: int, name: str, to_fd: int, to_name: str) -> None:
    """Raises OSError."""
    source = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=from_fd)
    with os.fdopen(source, "rb") as read:
        made = os.open(to_name, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600, dir_fd=to_fd)
        with os.fdopen(made, "wb") as write:
            shutil.copyfileobj(read, write, 1 << 20)
            write.flush()
            os.fsync(write.fileno())
