"""Files that are on the disk when the call returns (fsync(2) of the file and of its folder)."""

from __future__ import annotations

import contextlib
import json
import os
from typing import Any


def write_json(folder: int, name: str, value: Any) -> None:
    """Write `name` in the folder of descriptor `folder`: beside, synced, renamed. Raises OSError."""
    write_bytes(folder, name, json.dumps(value, ensure_ascii=True).encode())


def write_bytes(folder: int, name: str, data: bytes) -> None:
    part = f".{name}.part"
    fd = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder)
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


def read_json(folder: int, name: str) -> Any:
    """The value, or None where the file is not there or was cut off."""
    try:
        fd = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    except FileNotFoundError:
        return None
    with os.fdopen(fd, "rb") as handle:
        try:
            return json.loads(handle.read())
        except ValueError:
            return None


def remove_tree(folder: int, name: str) -> None:
    """Delete `name` and everything below it without following a link or entering another file system."""
    status = os.stat(name, dir_fd=folder, follow_symlinks=False)
    if (status.st_mode & 0o170000) != 0o040000:
        os.unlink(name, dir_fd=folder)
        return
    inner = os.open(name, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    try:
        if os.fstat(inner).st_dev != os.fstat(folder).st_dev:
            raise OSError(18, "another file system is mounted inside", name)
        if os.geteuid() != 0 and status.st_mode & 0o700 != 0o700:
            os.fchmod(inner, 0o700)
        for child in os.listdir(inner):
            remove_tree(inner, child)
    finally:
        os.close(inner)
    os.rmdir(name, dir_fd=folder)
