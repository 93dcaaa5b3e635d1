"""Files that are on the disk when the call returns (fsync(2) of the file and of its folder)."""

from __future__ import annotations

import contextlib
import json
import os
import stat
from typing import Any

from swept_shelf.core.machine import beneath

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


def write_json(folder: int, name: str, value: Any) -> None:
    """Write `name` in the folder of descriptor `folder`: beside, synced, renamed. Raises OSError."""
    write_bytes(folder, name, json.dumps(value, ensure_ascii=True).encode())


def write_bytes(folder: int, name: str, data: bytes) -> None:
    part = f".{name}.part"
    with contextlib.suppress(FileNotFoundError):
        os.unlink(part, dir_fd=folder)  # what a crash left
    fd = os.open(
        part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder
    )
    try:
        view = memoryview(data)
        while view:
            view = view[os.write(fd, view) :]
        os.fsync(fd)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(part, dir_fd=folder)
        raise
    finally:
        os.close(fd)
    os.rename(part, name, src_dir_fd=folder, dst_dir_fd=folder)
    os.fsync(folder)


def read_json(folder: int, name: str, most: int) -> Any:
    """The value of a regular file of at most `most` bytes; None where it is not there, was cut off, or is no such file."""
    try:
        fd = os.open(name, os.O_PATH | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    except FileNotFoundError:
        return None
    try:
        status = os.fstat(fd)
        if not stat.S_ISREG(status.st_mode) or status.st_size > most:
            return None
        with os.fdopen(beneath.opened_again(fd, os.O_RDONLY), "rb") as handle:
            return json.loads(handle.read(most))
    except (ValueError, RecursionError):
        return None
    finally:
        os.close(fd)
