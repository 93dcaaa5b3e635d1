"""What a process of ours may still do, and how much: namespaces(7), capabilities(7), prctl(2), setrlimit(2), by ctypes.

A process that reads what others wrote keeps no right but to read: whatever gets hold of it can change nothing, reach
nobody, gain no rights by starting another program, and eats no more than its share."""

from __future__ import annotations

import contextlib
import ctypes
import os
import resource
import signal
from collections.abc import Iterable

from swept_shelf.core.machine.kernel import MountAttributes, failure, libc, set_mount

NEW_MOUNTS, NEW_USERS, NEW_NETWORK = 0x00020000, 0x10000000, 0x40000000
_PRIVATE, _READ_ONLY, _BIND = 1 << 18, 0x1, 0x1000
_NO_NEW_PRIVS, _BOUNDING_DROP, _DEATH_SIGNAL, _AMBIENT, _AMBIENT_CLEAR = 38, 24, 1, 47, 4
_CAPABILITIES_VERSION = 0x20080522
READING = frozenset(
    {2, 3}
)  # CAP_DAC_READ_SEARCH; CAP_FOWNER, without which O_NOATIME is refused on another's file

_SET_SECCOMP, _ALLOW, _REFUSE = 22, 0x7FFF0000, 0x00050000 | 13  # EACCES
# Per machine: how the kernel calls it (AUDIT_ARCH), and the numbers of connect, sendto, sendmsg, sendmmsg, ptrace, process_vm_writev.
_REFUSED = {
    "x86_64": (0xC000003E, (42, 44, 46, 307, 101, 311)),
    "aarch64": (0xC00000B7, (203, 206, 211, 269, 117, 271)),
}

_inside = _silent = False


def reads_alone() -> bool:
    """Whether this process, and so whatever it starts, can do no more than read: a view of its own, nobody to speak to."""
    return _inside and _silent


def take_a_view_to_read(writable: str = "", fds: Iterable[int] = ()) -> None:
    """All of it, for a process that is to start commands or to become one: `fds` that it was given lead through its mounts."""
    if not _inside and not look_without_trace(writable):
        seen_anew(fds)
    keep_rights(READING)
    speak_to_nobody()


def look_without_trace(writable: str = "") -> str:
    """Put this process into namespaces of its own: every mount read-only but the folder `writable`, and no network.

    Returns "" when it holds, else why not. Must be called before any thread starts."""
    global _inside
    uid, gid = os.getuid(), os.getgid()
    if libc.unshare(NEW_MOUNTS if uid == 0 else NEW_MOUNTS | NEW_USERS) != 0:
        return f"no private mount namespace: {failure()}"
    if uid != 0:
        try:
            for name, text in (
                ("setgroups", "deny"),
                ("uid_map", f"{uid} {uid} 1"),
                ("gid_map", f"{gid} {gid} 1"),
            ):
                with open(f"/proc/self/{name}", "w") as handle:
                    handle.write(text)
        except OSError as error:
            return f"no user namespace: {error.strerror}"
    libc.unshare(NEW_NETWORK)  # where the kernel has none there is nothing to take
    if not set_mount(b"/", MountAttributes(0, 0, _PRIVATE, 0), recursive=True):
        return f"mounts could not be made private: {failure()}"
    folder = os.fsencode(writable)
    if folder and libc.mount(folder, folder, None, _BIND, None) != 0:
        return f"no mount of our own folder: {failure()}"
    if not set_mount(b"/", MountAttributes(_READ_ONLY, 0, 0, 0), recursive=True):
        return f"mounts could not be made read-only: {failure()}"
    if folder and not set_mount(folder, MountAttributes(0, _READ_ONLY, 0, 0), recursive=False):
        return f"our own folder could not be kept writable: {failure()}"
    _inside = True
    return ""


def seen_anew(fds: Iterable[int]) -> None:
    """Make descriptors that were opened before `look_without_trace` lead through the read-only mounts."""
    for fd in fds:
        with contextlib.suppress(OSError):
            path, before = os.readlink(f"/proc/self/fd/{fd}"), os.fstat(fd)
            now = os.open(path, os.O_PATH | os.O_NOFOLLOW | os.O_CLOEXEC)
            if (os.fstat(now).st_dev, os.fstat(now).st_ino) == (before.st_dev, before.st_ino):
                os.dup2(now, fd, inheritable=True)
            os.close(now)


class _Step(ctypes.Structure):
    """struct sock_filter of the classic packet filter."""

    _fields_ = [
        ("code", ctypes.c_uint16),
        ("jt", ctypes.c_uint8),
        ("jf", ctypes.c_uint8),
        ("k", ctypes.c_uint32),
    ]


class _Program(ctypes.Structure):
    _fields_ = [("len", ctypes.c_uint16), ("filter", ctypes.c_void_p)]


class _CapabilityHeader(ctypes.Structure):
    _fields_ = [("version", ctypes.c_uint32), ("pid", ctypes.c_int)]


class _Capabilities(ctypes.Structure):
    _fields_ = [(n, ctypes.c_uint32) for n in ("effective", "permitted", "inheritable")]


def keep_rights(kept: frozenset[int]) -> None:
    """Give up every capability but `kept`, for this process and whatever it starts; none can be gained any more."""
    libc.prctl(_NO_NEW_PRIVS, 1, 0, 0, 0)
    libc.prctl(_AMBIENT, _AMBIENT_CLEAR, 0, 0, 0)
    for number in range(64):
        if number not in kept:
            libc.prctl(_BOUNDING_DROP, number, 0, 0, 0)  # refused to whoever has none to give up
    header, now = _CapabilityHeader(_CAPABILITIES_VERSION, 0), (_Capabilities * 2)()
    if libc.capget(ctypes.byref(header), ctypes.byref(now)) != 0:
        return
    wanted = [sum(1 << (n - 32 * i) for n in kept if 0 <= n - 32 * i < 32) for i in (0, 1)]
    for part, mask in zip(now, wanted, strict=True):
        part.permitted &= mask
        part.effective = part.permitted
        part.inheritable = 0
    libc.capset(ctypes.byref(header), ctypes.byref(now))


def speak_to_nobody() -> None:
    """From now on this process, and whatever it starts, reaches no socket: connect, sendto and the like are refused (seccomp(2)).

    A socket in the file system is not a network's: the message bus of this computer would take root's word for root's.
    Needs `keep_rights` before; where the kernel has no such filter, or the machine is another, nothing changes."""
    global _silent
    machine = os.uname().machine
    if machine not in _REFUSED:
        return
    audit, numbers = _REFUSED[machine]
    steps = [
        (0x20, 0, 0, 4),
        (0x15, 1, 0, audit),
        (0x06, 0, 0, _ALLOW),
        (0x20, 0, 0, 0),
    ]  # another machine's calls: there is no filter for them
    steps += [(0x35, len(numbers) + 1, 0, 0x40000000)]  # x86's third set of calls
    steps += [(0x15, len(numbers) - n, 0, number) for n, number in enumerate(numbers)]
    steps += [(0x06, 0, 0, _ALLOW), (0x06, 0, 0, _REFUSE)]
    rules = (_Step * len(steps))(*(_Step(*s) for s in steps))
    program = _Program(len(steps), ctypes.addressof(rules))
    if libc.prctl(_SET_SECCOMP, 2, ctypes.byref(program), 0, 0) == 0:
        _silent = True


def no_more_than(which: int, most: int) -> int:
    """`most`, or the limit that this process is under already where that is lower."""
    hard = resource.getrlimit(which)[1]
    return most if hard == resource.RLIM_INFINITY else min(most, hard)


def limit(seconds: int = 0, memory: int = 0, file_size: int = 0, files: int = 0) -> None:
    """Limits of processor time, private memory, size of a written file and number of open files; 0 leaves one as it is.

    No core file is ever written."""
    asked = (
        (resource.RLIMIT_CPU, seconds),
        (resource.RLIMIT_DATA, memory),
        (resource.RLIMIT_FSIZE, file_size),
        (resource.RLIMIT_NOFILE, files),
    )
    for which, most in asked:
        if most:
            resource.setrlimit(which, (no_more_than(which, most),) * 2)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def end_with(parent: int) -> None:
    """Have the kernel end this process when the process `parent`, which started it, is gone."""
    libc.prctl(_DEATH_SIGNAL, signal.SIGKILL, 0, 0, 0)
    if os.getppid() != parent:
        os.kill(os.getpid(), signal.SIGKILL)
