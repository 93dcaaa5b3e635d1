"""The system calls that keep paths inside the root: openat2(2), renameat2(2).

`in_root` follows links as a process chrooted into the root would; `strict` follows none at all and is what
every change goes through."""

from __future__ import annotations

import ctypes
import errno
import os
import re
import secrets

from swept_shelf.core.machine.kernel import OPENAT2, RENAMEAT2, error, libc

_NO_MAGICLINKS, _NO_SYMLINKS, _BENEATH, _IN_ROOT = 0x02, 0x04, 0x08, 0x10
NOREPLACE, EXCHANGE = 1, 2
_OVERLAY = 0x794C7630
_MOST_OF_NAME = 160  # of a name that a longer one is made of
_TRIES = 1000  # the kernel asks to try again while somebody renames on the way


class _OpenHow(ctypes.Structure):
    _fields_ = [("flags", ctypes.c_uint64), ("mode", ctypes.c_uint64), ("resolve", ctypes.c_uint64)]


def _openat2(root_fd: int, path: str, flags: int, resolve: int, mode: int = 0) -> int:
    how = _OpenHow(flags | os.O_CLOEXEC, mode, resolve)
    relative = os.fsencode(path.lstrip("/") or ".")
    if b"\0" in relative:
        raise OSError(errno.EINVAL, "a path holds no zero byte", path)
    for _ in range(_TRIES):
        fd = libc.syscall(OPENAT2, root_fd, relative, ctypes.byref(how), ctypes.sizeof(how))
        if fd >= 0:
            return int(fd)
        if ctypes.get_errno() not in (errno.EINTR, errno.EAGAIN):
            break
    raise error(path)


def open_in_root(root_fd: int, path: str, flags: int) -> int:
    """A descriptor of `path`, its links resolved inside the root. Raises OSError."""
    return _openat2(root_fd, path, flags, _IN_ROOT | _NO_MAGICLINKS)


def open_strict(root_fd: int, path: str, flags: int, mode: int = 0) -> int:
    """A descriptor of `path` if no link stands anywhere on the way (ELOOP otherwise). Raises OSError."""
    return _openat2(root_fd, path, flags, _BENEATH | _NO_SYMLINKS | _NO_MAGICLINKS, mode)


def opened_again(fd: int, flags: int) -> int:
    """A descriptor to read from, of what the O_PATH descriptor `fd` stands for and nothing else. Raises OSError."""
    return os.open(f"/proc/self/fd/{fd}", flags | os.O_CLOEXEC)


def beside_name(name: str) -> str:
    """A name that nobody can foresee, for a file that is written beside `name` and exchanged for it."""
    return f".{name[:_MOST_OF_NAME]}.{secrets.token_hex(12)}.swept-shelf"


def is_beside(other: str, name: str) -> bool:
    """Whether a name is one that `beside_name` gave for `name`."""
    return (
        re.fullmatch(rf"\.{re.escape(name[:_MOST_OF_NAME])}\.[0-9a-f]{{24}}\.swept-shelf", other) is not None
    )


def rename(from_fd: int, from_name: str, to_fd: int, to_name: str, flags: int = NOREPLACE) -> None:
    """renameat2(2): by default never replaces; EXCHANGE swaps both. Raises OSError."""
    old, new = os.fsencode(from_name), os.fsencode(to_name)
    if libc.syscall(RENAMEAT2, from_fd, old, to_fd, new, flags) != 0:
        raise error(from_name)


def mount_id(fd: int) -> int:
    """The mount a descriptor lies on (proc_pid_fdinfo(5)); rename works only within one mount."""
    with open(f"/proc/self/fdinfo/{fd}") as info:
        return next(int(line.split()[1]) for line in info if line.startswith("mnt_id:"))


def is_overlay(fd: int) -> bool:
    """Whether a descriptor lies on an overlay (statfs(2), OVERLAYFS_SUPER_MAGIC), where folders of lower layers stay where they are."""
    buffer = ctypes.create_string_buffer(256)
    if libc.fstatfs(fd, buffer) != 0:
        return False
    return ctypes.c_long.from_buffer(buffer).value == _OVERLAY
