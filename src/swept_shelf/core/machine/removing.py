"""Deleting a folder with all that is below it, whoever changes it meanwhile: by descriptors, and never over a mount."""

from __future__ import annotations

import errno
import os
import stat

from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.descend import folders_below

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


def remove_tree(folder: int, name: str) -> None:
    """Delete what stands at `name`, a folder with everything below it, however deep. Raises OSError.

    A folder inside a folder is first renamed up into the first one, under a number: nothing is ever deeper than that, and
    a place where something is mounted refuses to be renamed, so that nothing of it is touched."""
    status = os.stat(name, dir_fd=folder, follow_symlinks=False)
    if not stat.S_ISDIR(status.st_mode):
        os.unlink(name, dir_fd=folder)
        return
    if os.geteuid() != 0:
        os.chmod(name, 0o700, dir_fd=folder)
    top = os.open(name, _FOLDER, dir_fd=folder)
    try:
        if (beneath.mount_id(top), os.fstat(top).st_dev) != (
            beneath.mount_id(folder),
            os.fstat(folder).st_dev,
        ):
            raise OSError(18, "something is mounted there", name)
        number = 0
        while names := os.listdir(top):
            for inner in names:
                number = _take_away(top, inner, number)
    finally:
        os.close(top)
    os.rmdir(name, dir_fd=folder)


def _take_away(top: int, name: str, number: int) -> int:
    """Delete `name` in `top`; its own folders are left in `top` under numbers, from `number` on. Returns the next number."""
    if not stat.S_ISDIR(os.stat(name, dir_fd=top, follow_symlinks=False).st_mode):
        os.unlink(name, dir_fd=top)
        return number
    if os.geteuid() != 0:
        os.chmod(name, 0o700, dir_fd=top)
    fd = os.open(name, _FOLDER, dir_fd=top)
    try:
        if beneath.mount_id(fd) != beneath.mount_id(top):
            raise OSError(18, "something is mounted inside", name)
        for inner in os.listdir(fd):
            if not stat.S_ISDIR(os.stat(inner, dir_fd=fd, follow_symlinks=False).st_mode):
                os.unlink(inner, dir_fd=fd)
                continue
            if os.geteuid() != 0:
                os.chmod(
                    inner, 0o700, dir_fd=fd
                )  # a folder that may not be written to cannot be renamed away
            while True:
                number += 1
                try:
                    beneath.rename(fd, inner, top, f"{number}")
                except FileExistsError:
                    continue
                except OSError as error:
                    if error.errno != errno.EXDEV:
                        raise
                    _remove_where_it_is(fd, inner)
                break
    finally:
        os.close(fd)
    os.rmdir(name, dir_fd=top)
    return number


def _remove_where_it_is(folder: int, name: str) -> None:
    """The same where no folder can be renamed (an overlay): the files of each folder, then the folders, innermost first."""
    top = os.open(name, _FOLDER, dir_fd=folder)
    try:
        if beneath.mount_id(top) != beneath.mount_id(folder):
            raise OSError(errno.EBUSY, "something is mounted inside", name)
        inside = []
        for path, fd, names in folders_below(top):
            if beneath.mount_id(fd) != beneath.mount_id(top):
                raise OSError(errno.EBUSY, "something is mounted inside", path)
            inside.append(path)
            for entry in list(names):
                if not stat.S_ISDIR(os.stat(entry, dir_fd=fd, follow_symlinks=False).st_mode):
                    os.unlink(entry, dir_fd=fd)
                    names.remove(entry)
        for path in reversed(inside[1:]):
            above, _, last = path.rpartition("/")
            fd = beneath.open_strict(top, above, _FOLDER)
            try:
                os.rmdir(last, dir_fd=fd)
            finally:
                os.close(fd)
    finally:
        os.close(top)
    os.rmdir(name, dir_fd=folder)
