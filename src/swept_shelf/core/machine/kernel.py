"""The C library, by ctypes, for system calls that Python has no name for."""

from __future__ import annotations

import ctypes
import os

libc = ctypes.CDLL(None, use_errno=True)
_MACHINE = os.uname().machine
OPENAT2, MOUNT_SETATTR, OPEN_TREE, MOVE_MOUNT, PIVOT_ROOT, RENAMEAT2 = (
    437,
    442,
    428,
    429,
    {"x86_64": 155, "aarch64": 41}.get(_MACHINE, 41),
    {"x86_64": 316, "aarch64": 276}.get(_MACHINE, 276),
)
AT_FDCWD, RECURSIVE, EMPTY_PATH = -100, 0x8000, 0x1000


class MountAttributes(ctypes.Structure):
    """struct mount_attr of mount_setattr(2)."""

    _fields_ = [(n, ctypes.c_uint64) for n in ("attr_set", "attr_clr", "propagation", "userns_fd")]


def failure() -> str:
    """What the last call said."""
    return os.strerror(ctypes.get_errno())


def error(path: str) -> OSError:
    code = ctypes.get_errno()
    return OSError(code, os.strerror(code), path)


def set_mount(
    path: bytes, attributes: MountAttributes, recursive: bool, at: int = AT_FDCWD, flags: int = 0
) -> bool:
    size = ctypes.sizeof(attributes)
    return bool(
        libc.syscall(
            MOUNT_SETATTR, at, path, flags | (RECURSIVE if recursive else 0), ctypes.byref(attributes), size
        )
        == 0
    )
