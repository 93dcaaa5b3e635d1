"""What the helper hands over to the person it works for: written by that person's own rights, so that no path gives more."""

from __future__ import annotations

import contextlib
import os
import pwd
import signal
import stat
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from swept_shelf.core.documents.errors import Refused

STOP = "stop"  # the file by which a person asks for that
_ASKS_TO_STOP = 3
_CHUNK = 1 << 20
_SU = ("/usr/bin/su", "/bin/su", "/run/wrappers/bin/su")


@dataclass(frozen=True, slots=True)
class Caller:
    """Who asked: the numbers that a process of this person's has."""

    uid: int
    gid: int
    groups: tuple[int, ...]


def caller() -> Caller:
    """Whom polkit or sudo names, or who started su. Raises Refused where none of them started this process."""
    told = os.environ.get("PKEXEC_UID") or os.environ.get("SUDO_UID") or _by_su()
    if not (told.isascii() and told.isdigit() and len(told) < 11):
        raise Refused("is started by pkexec, sudo or su alone, for the person who asked")
    try:
        entry = pwd.getpwuid(int(told))
    except (KeyError, OverflowError):
        raise Refused(f"nobody here has the number {told}") from None
    return Caller(entry.pw_uid, entry.pw_gid, tuple(os.getgrouplist(entry.pw_name, entry.pw_gid)))


def _by_su() -> str:
    """The number of the person who started su(1), which started this: what the kernel says of that process (proc_pid_status(5));
    "" where it was not su."""
    parent = f"/proc/{os.getppid()}"
    try:
        if os.readlink(f"{parent}/exe") not in _SU:
            return ""
        with open(f"{parent}/status") as lines:
            return next(line.split()[1] for line in lines if line.startswith("Uid:"))
    except (OSError, StopIteration):
        return ""


def hand_over(whom: Caller, folder: str, files: Mapping[str, Path | bytes], seconds: int = 600) -> bool:
    """Write these files into the person's folder, each whole or not at all; whether that person asks there to stop.

    `seconds`: after which a folder that does not answer is given up.
    Raises Refused where that person may not."""
    with contextlib.ExitStack() as kept:
        opened: dict[str, int | bytes] = {}
        for name, source in files.items():
            if isinstance(source, bytes):
                opened[name] = source
            else:
                fd = os.open(source, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC)
                kept.callback(os.close, fd)
                opened[name] = fd
        reading, writing = os.pipe()
        child = os.fork()
        if child == 0:
            _as_person(whom, folder, opened, writing, seconds)
        os.close(writing)
        with os.fdopen(reading, "rb") as said:
            why = said.read(4096).decode(errors="replace")
        _, status = os.waitpid(child, 0)
    stop = os.waitstatus_to_exitcode(status) == _ASKS_TO_STOP
    if why or not (stop or status == 0):
        raise Refused(
            f"could not be written as the person who asked: {why or 'status ' + str(status)}", folder
        )
    return stop


def fetch(whom: Caller, path: str, to: int, seconds: int = 3600) -> None:
    """Copy a file that the person may read into an open one. Raises Refused where that person may not."""
    child = os.fork()
    if child == 0:
        try:
            _become(whom, seconds)
            fd = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
            if stat.S_ISREG(os.fstat(fd).st_mode):
                _send(fd, to)
                os._exit(0)
        finally:
            os._exit(1)
    if os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]):
        raise Refused("could not be read as the person who asked, or there is no room for it", path)


def _send(source: int, target: int) -> None:
    at = 0
    while count := os.sendfile(target, source, at, _CHUNK):
        at += count


def _become(whom: Caller, seconds: int) -> None:
    """From here on this process is the person's, and ends after so many seconds."""
    for number in (signal.SIGINT, signal.SIGHUP, signal.SIGPIPE, signal.SIGTERM, signal.SIGALRM):
        signal.signal(number, signal.SIG_DFL)
    signal.alarm(seconds)
    os.umask(0o077)
    os.setgroups(whom.groups)
    os.setresgid(whom.gid, whom.gid, whom.gid)
    os.setresuid(whom.uid, whom.uid, whom.uid)


def _as_person(whom: Caller, folder: str, opened: Mapping[str, int | bytes], tell: int, seconds: int) -> None:
    """In a process of its own, that never comes back."""
    try:
        _become(whom, seconds)
        with contextlib.suppress(FileExistsError):
            os.mkdir(folder, 0o700)
        place = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        for name, source in opened.items():
            _write(place, name, source)
        os._exit(_ASKS_TO_STOP if STOP in os.listdir(place) else 0)
    except OSError as error:
        os.write(tell, (error.strerror or str(error)).encode()[:4000])
    finally:
        os._exit(1)


def _write(place: int, name: str, source: int | bytes) -> None:
    part = f".{name}.part"
    with contextlib.suppress(FileNotFoundError):
        os.unlink(part, dir_fd=place)
    fd = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600, dir_fd=place)
    try:
        if isinstance(source, bytes):
            data = memoryview(source)
            while data:
                data = data[os.write(fd, data) :]
        else:
            _send(source, fd)
        os.fsync(fd)
    finally:
        os.close(fd)
    os.rename(part, name, src_dir_fd=place, dst_dir_fd=place)
