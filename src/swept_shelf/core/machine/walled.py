"""A command of a foreign root, run inside it: the one place where what a disk brought is started at all.

A chroot is no wall. The command gets mount, process, network and, where the kernel allows it, user namespaces of its own;
its root is the whole of what is mounted there (pivot_root(2), nothing of this computer is left), no device of the disk's
can be opened (nodev), and of its rights those alone are left that unpacking files and running package scripts take."""

from __future__ import annotations

import os
import signal
import stat
from collections.abc import Callable

from swept_shelf.core.machine import beneath, confine
from swept_shelf.core.machine.confine import NEW_MOUNTS, NEW_NETWORK, NEW_USERS
from swept_shelf.core.machine.kernel import (
    AT_FDCWD,
    EMPTY_PATH,
    MOVE_MOUNT,
    OPEN_TREE,
    PIVOT_ROOT,
    RECURSIVE,
    MountAttributes,
    error,
    libc,
    set_mount,
)

BROUGHT = "/run/swept-shelf"  # where the folder stands that is handed in
_NEW_PROCESSES, _NEW_IPC, _NEW_HOST = 0x20000000, 0x08000000, 0x04000000
_PRIVATE, _READ_ONLY, _NO_DEVICES, _DETACH, _BIND = 1 << 18, 0x1, 0x4, 2, 0x1000
_CLONE, _CLOSE, _FROM_EMPTY = 1, 0o2000000, 4
_DEATH_SIGNAL = 1
_ALL_IDS = "0 0 4294967295"
# CHOWN, DAC_OVERRIDE, DAC_READ_SEARCH, FOWNER, FSETID, KILL, SETGID, SETUID, SETFCAP
_RIGHTS = frozenset({0, 1, 2, 3, 4, 5, 6, 7, 31})
_DEVICES = ("null", "zero", "full", "random", "urandom", "tty")
# What starts services is put out of action: it answers that all went well.
_STARTERS = (
    "/usr/sbin/invoke-rc.d",
    "/usr/bin/deb-systemd-invoke",
    "/sbin/start-stop-daemon",
    "/usr/sbin/start-stop-daemon",
    "/usr/sbin/service",
)
_STILL = ("/bin/true", "/usr/bin/true")


def wall(root_fd: int, brought: str = "", person: tuple[int, int] | None = None) -> Callable[[], None]:
    """What a child does to itself, as root, before it becomes a command of the root behind `root_fd`; `brought`: a folder
    of this computer that it finds, read-only, at BROUGHT; `person`: user and group that it is inside. It raises OSError when a wall cannot be built."""

    def act() -> None:
        _enter()
        inner = os.fork()
        if inner:
            os.closerange(3, 1 << 16)
            _, status = os.waitpid(inner, 0)
            os._exit(os.waitstatus_to_exitcode(status) & 0xFF)
        libc.prctl(_DEATH_SIGNAL, signal.SIGKILL, 0, 0, 0)
        _build(root_fd, brought)
        confine.keep_rights(_RIGHTS)
        confine.limit()
        if person is not None:
            os.setgroups([])
            os.setgid(person[1])
            os.setuid(person[0])

    return act


def shows_processes(root_fd: int) -> bool:
    """Whether a command inside the root finds its own descriptors below /proc. Tried in a child, which starts nothing."""
    child = os.fork()
    if child == 0:
        try:
            wall(root_fd)()
            os._exit(0 if os.path.isdir("/proc/self/fd") else 1)
        except BaseException:
            os._exit(1)
    _, status = os.waitpid(child, 0)
    return status == 0


def missing_walls() -> str:
    """Which wall this kernel refuses, as a sentence; "" where all hold. Tried in a child."""
    child = os.fork()
    if child == 0:
        os._exit(0 if libc.unshare(NEW_USERS | NEW_MOUNTS | _NEW_PROCESSES | NEW_NETWORK) == 0 else 1)
    _, status = os.waitpid(child, 0)
    return (
        ""
        if status == 0
        else "this kernel gives no user namespace: package scripts of the root run with fewer walls"
    )


def _enter() -> None:
    """New namespaces. The whole range of ids is mapped onto itself by a helper that stays outside."""
    kinds = NEW_MOUNTS | NEW_NETWORK | _NEW_PROCESSES | _NEW_IPC | _NEW_HOST
    ready, go = os.pipe()
    me = os.getpid()
    helper = os.fork()
    if helper == 0:
        os.close(go)
        done = 1
        if os.read(ready, 1):
            for name in ("uid_map", "gid_map"):
                fd = os.open(f"/proc/{me}/{name}", os.O_WRONLY)
                os.write(fd, _ALL_IDS.encode())
                os.close(fd)
            done = 0
        os._exit(done)
    os.close(ready)
    with_users = libc.unshare(kinds | NEW_USERS) == 0
    if with_users:
        os.write(go, b"x")
    os.close(go)
    _, status = os.waitpid(helper, 0)
    if with_users and status:
        raise OSError(1, "the ids of the namespace could not be mapped")
    if not with_users and libc.unshare(kinds) != 0:
        raise error("namespaces")


def _build(root_fd: int, brought: str) -> None:
    if not set_mount(b"/", MountAttributes(0, 0, _PRIVATE, 0), recursive=True):
        raise error("/")
    devices = [
        (name, _clone(AT_FDCWD, f"/dev/{name}", 0)) for name in _DEVICES if os.path.exists(f"/dev/{name}")
    ]
    folder = _clone(AT_FDCWD, brought, 0) if brought else -1
    here = os.readlink(f"/proc/self/fd/{root_fd}")
    tree = _clone(AT_FDCWD, here, RECURSIVE)  # by its path: the descriptor belongs to the mounts outside
    if not set_mount(b"", MountAttributes(_NO_DEVICES, 0, 0, 0), recursive=True, at=tree, flags=EMPTY_PATH):
        raise error(here)
    _place(tree, here)
    os.chdir(here)
    now, meant = os.stat("."), os.fstat(root_fd)
    if (now.st_dev, now.st_ino) != (meant.st_dev, meant.st_ino):
        raise OSError(116, "another folder stands at the root’s place", here)
    if libc.syscall(PIVOT_ROOT, b".", b".") != 0 or libc.umount2(b".", _DETACH) != 0:
        raise error(here)
    os.chdir("/")
    for kind, place, options in (
        ("proc", "/proc", None),
        ("tmpfs", "/run", b"mode=0755,size=64m"),
        ("tmpfs", "/dev", b"mode=0755,size=64k"),
    ):
        if (
            _is_folder(place)
            and libc.mount(kind.encode(), place.encode(), kind.encode(), 0x2 | 0x8, options) != 0
            and kind == "tmpfs"
        ):
            raise error(place)
    for name, fd in devices:
        if _is_folder("/dev"):
            os.close(os.open(f"/dev/{name}", os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o666))
            _place(fd, f"/dev/{name}")
    if _is_folder("/run"):
        os.mkdir("/run/lock")
        if folder >= 0:
            os.mkdir(BROUGHT, 0o700)
            _place(folder, BROUGHT)
            if not set_mount(
                BROUGHT.encode(), MountAttributes(_READ_ONLY | _NO_DEVICES, 0, 0, 0), recursive=False
            ):
                raise error(BROUGHT)
    still = next((s for s in _STILL if _is_file(s)), "")
    for path in _STARTERS:
        if still and _is_file(path) and libc.mount(still.encode(), path.encode(), None, _BIND, None) != 0:
            raise error(path)


def _clone(at: int, path: str, flags: int) -> int:
    fd = libc.syscall(OPEN_TREE, at, os.fsencode(path), _CLONE | _CLOSE | flags)
    if fd < 0:
        raise error(path)
    return int(fd)


def _place(tree: int, path: str) -> None:
    if libc.syscall(MOVE_MOUNT, tree, b"", AT_FDCWD, os.fsencode(path), _FROM_EMPTY) != 0:
        raise error(path)


def _is_folder(path: str) -> bool:
    try:
        return stat.S_ISDIR(os.stat(path, follow_symlinks=False).st_mode)
    except OSError:
        return False


def _is_file(path: str) -> bool:
    """A plain file reached without any link: nothing is mounted over what a link leads to."""
    try:
        root = os.open("/", os.O_PATH | os.O_DIRECTORY)
        try:
            fd = beneath.open_strict(root, path, os.O_PATH | os.O_NOFOLLOW)
        finally:
            os.close(root)
        try:
            return stat.S_ISREG(os.fstat(fd).st_mode)
        finally:
            os.close(fd)
    except OSError:
        return False
