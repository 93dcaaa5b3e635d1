"""The system calls that keep paths inside the root: openat2(2), renameat2(2), mount_setattr(2), by ctypes.

`in_root` follows links as a process chrooted into the root would; `strict` follows none at all and is what
every change goes through."""

from __future__ import annotations

import ctypes
import errno
import os

_libc = ctypes.CDLL(None, use_errno=True)
_OPENAT2, _MOUNT_SETATTR, _RENAMEAT2 = 437, 442, {"x86_64": 316, "aarch64": 276}.get(os.uname().machine, 276)
_NO_MAGICLINKS, _NO_SYMLINKS, _BENEATH, _IN_ROOT = 0x02, 0x04, 0x08, 0x10
NOREPLACE, EXCHANGE = 1, 2


class _OpenHow(ctypes.Structure):
    _fields_ = [("flags", ctypes.c_uint64), ("mode", ctypes.c_uint64), ("resolve", ctypes.c_uint64)]


class _MountAttr(ctypes.Structure):
    _fields_ = [(n, ctypes.c_uint64) for n in ("attr_set", "attr_clr", "propagation", "userns_fd")]


def _fail(path: str) -> OSError:
    code = ctypes.get_errno()
    return OSError(code, os.strerror(code), path)


def _openat2(root_fd: int, path: str, flags: int, resolve: int, mode: int = 0) -> int:
    how = _OpenHow(flags | os.O_CLOEXEC, mode, resolve)
    relative = os.fsencode(path.lstrip("/") or ".")
    while True:
        fd = _libc.syscall(_OPENAT2, root_fd, relative, ctypes.byref(how), ctypes.sizeof(how))
        if fd >= 0:
            return int(fd)
        if ctypes.get_errno() not in (errno.EINTR, errno.EAGAIN):
            raise _fail(path)


def open_in_root(root_fd: int, path: str, flags: int) -> int:
    """A descriptor of `path`, its links resolved inside the root. Raises OSError."""
    return _openat2(root_fd, path, flags, _IN_ROOT | _NO_MAGICLINKS)


def open_strict(root_fd: int, path: str, flags: int, mode: int = 0) -> int:
    """A descriptor of `path` if no link stands anywhere on the way (ELOOP otherwise). Raises OSError."""
    return _openat2(root_fd, path, flags, _BENEATH | _NO_SYMLINKS | _NO_MAGICLINKS, mode)


def rename(from_fd: int, from_name: str, to_fd: int, to_name: str, flags: int = NOREPLACE) -> None:
    """renameat2(2): by default never replaces; EXCHANGE swaps both. Raises OSError."""
    old, new = os.fsencode(from_name), os.fsencode(to_name)
    if _libc.syscall(_RENAMEAT2, from_fd, old, to_fd, new, flags) != 0:
        raise _fail(from_name)


def mount_id(fd: int) -> int:
    """The mount a descriptor lies on (proc_pid_fdinfo(5)); rename works only within one mount."""
    with open(f"/proc/self/fdinfo/{fd}") as info:
        return next(int(line.split()[1]) for line in info if line.startswith("mnt_id:"))


def look_without_trace(writable: str) -> str:
    """Put this process into a private mount namespace with every mount read-only but the folder `writable`.

    Returns "" when it holds, else why not. Must be called before any thread starts."""
    uid, gid = os.getuid(), os.getgid()
    new_user, new_mount, private, read_only = 0x10000000, 0x00020000, 1 << 18, 0x00000001
    if _libc.unshare(new_mount if uid == 0 else new_mount | new_user) != 0:
        return f"no private mount namespace: {os.strerror(ctypes.get_errno())}"
    if uid != 0:
        try:
            for name, text in (("setgroups", "deny"), ("uid_map", f"{uid} {uid} 1"), ("gid_map", f"{gid} {gid} 1")):
                with open(f"/proc/self/{name}", "w") as handle:
                    handle.write(text)
        except OSError as error:
            return f"no user namespace: {error.strerror}"
    folder = os.fsencode(writable)
    if not _set_mount(b"/", _MountAttr(0, 0, private, 0), recursive=True):
        return f"mounts could not be made private: {os.strerror(ctypes.get_errno())}"
    if _libc.mount(folder, folder, None, 0x1000, None) != 0:
        return f"no mount of our own folder: {os.strerror(ctypes.get_errno())}"
    if not _set_mount(b"/", _MountAttr(read_only, 0, 0, 0), recursive=True):
        return f"mounts could not be made read-only: {os.strerror(ctypes.get_errno())}"
    if not _set_mount(folder, _MountAttr(0, read_only, 0, 0), recursive=False):
        return f"our own folder could not be kept writable: {os.strerror(ctypes.get_errno())}"
    return ""


def _set_mount(path: bytes, attributes: _MountAttr, recursive: bool) -> bool:
    size = ctypes.sizeof(attributes)
    return bool(_libc.syscall(_MOUNT_SETATTR, -100, path, 0x8000 if recursive else 0, ctypes.byref(attributes), size) == 0)
