"""Starts the commands that read, from a small process that has given up all but reading, once, before any of them.

A command forked from a large process costs that process all its pages again, and each view of its own a set of mounts and
a network. So one process is forked, stands in such a view, and starts every command there (posix_spawn(3)). It holds
nothing of ours, is told what to start over a socket (the descriptors come along, unix(7)), and ends when that is closed."""

from __future__ import annotations

import array
import contextlib
import fcntl
import gc
import json
import os
import resource
import select
import shutil
import signal
import socket
import subprocess
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Protocol

from swept_shelf.core.machine import confine

_BEGUN, _FAILED = b"b", b"f"
LIMITER = "prlimit"
SYSTEM_PATH = "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin"
_MOST_FDS = 64
_OWN_FD = "/proc/self/fd/"


class Child(Protocol):
    """A command that runs; as a subprocess.Popen, of which it needs no more."""

    def kill(self) -> None: ...

    def wait(self, timeout: float | None = None) -> int: ...


@dataclass(frozen=True, slots=True)
class Limits:
    """Processor time in seconds, bytes of private memory and of a written file, number of open files."""

    seconds: int
    memory: int
    file_size: int
    files: int

    def lay_on_this(self) -> None:
        confine.limit(self.seconds, self.memory, self.file_size, self.files)

    def before(self, words: Sequence[str], path: str) -> list[str]:
        """The command, behind prlimit(1): it starts with its limits. Raises FileNotFoundError."""
        for name, where in ((words[0], path), (LIMITER, SYSTEM_PATH)):
            if (limiter := shutil.which(name, path=where)) is None:
                raise FileNotFoundError(2, os.strerror(2), name)
        asked = {
            "cpu": (resource.RLIMIT_CPU, self.seconds),
            "data": (resource.RLIMIT_DATA, self.memory),
            "fsize": (resource.RLIMIT_FSIZE, self.file_size),
            "nofile": (resource.RLIMIT_NOFILE, self.files),
            "core": (resource.RLIMIT_CORE, 0),
        }
        least = {name: confine.no_more_than(which, most) for name, (which, most) in asked.items()}
        return [str(limiter), *(f"--{name}={most}:{most}" for name, most in least.items()), "--", *words]


def start(
    words: Sequence[str],
    streams: tuple[int, int, int],
    fds: Sequence[int],
    cwd: str,
    environment: dict[str, str],
    limits: Limits,
) -> Child:
    """Start a command with these standard streams; `fds` keep their numbers, and lead through read-only mounts.

    Raises FileNotFoundError where there is no such command, subprocess.SubprocessError where it cannot be started so."""
    words = limits.before(words, environment["PATH"])
    if confine.reads_alone():
        return subprocess.Popen(
            words,
            stdin=streams[0],
            stdout=streams[1],
            stderr=streams[2],
            pass_fds=tuple(fds),
            cwd=cwd,
            env=environment,
        )
    asked = {"words": words, "fds": list(fds), "cwd": cwd, "environment": environment}
    with _lock:  # nobody may leave it for another one between
        return _spawner().start(asked, [*streams, *fds])


def own_processes() -> set[int]:
    """This process and the one that starts commands for it: never somebody's program."""
    return {os.getpid(), *([_known.pid] if _known is not None else [])}


class _Started:
    """A command that the spawner waits for: its status comes over a line of its own, and closing that line ends it."""

    def __init__(self, line: socket.socket, words: Sequence[str], spawner: int) -> None:
        self._line, self._words, self._spawner = line, words, spawner
        self._status: int | None = None

    def kill(self) -> None:
        with contextlib.suppress(OSError):
            self._line.shutdown(socket.SHUT_WR)
        if _has_died(self._spawner):  # nobody is left to hear that; what it had begun is in its session still
            with contextlib.suppress(OSError):
                os.killpg(self._spawner, signal.SIGKILL)

    def wait(self, timeout: float | None = None) -> int:
        """Raises TimeoutExpired; SubprocessError where the spawner itself was ended."""
        if self._status is None:
            self._line.settimeout(timeout)
            try:
                said = self._line.recv(16)
            except TimeoutError:
                raise subprocess.TimeoutExpired(self._words, timeout or 0) from None
            self._line.close()
            self._status = int(said or -signal.SIGKILL)
            if not said:
                raise subprocess.SubprocessError("the process that starts commands has ended")
        return self._status


class _Spawner:
    """`view`: the mounts as they were when it took its view of them."""

    def __init__(self) -> None:
        self.view = _mounts()
        ours, theirs = socket.socketpair()
        self._line = ours
        self.pid = os.fork()
        if self.pid == 0:
            try:
                _serve(_alone(theirs))
            finally:
                os._exit(0)
        theirs.close()

    def start(self, asked: dict[str, Any], fds: list[int]) -> _Started:
        ours, theirs = socket.socketpair()
        request = os.memfd_create("request")
        try:
            os.write(request, json.dumps(asked).encode())
            with theirs:
                socket.send_fds(self._line, [b"r"], [request, theirs.fileno(), *fds])
            answer = ours.recv(1)
        except OSError as error:
            ours.close()
            raise subprocess.SubprocessError(str(error)) from None
        finally:
            os.close(request)
        if answer == _BEGUN:
            return _Started(ours, asked["words"], self.pid)
        ours.close()
        raise subprocess.SubprocessError(f"{asked['words'][0]} could not be started")

    def leave(self) -> None:
        """Ask nothing more of it: it ends when what runs there has."""
        self._line.close()

    def serves(self) -> bool:
        """Whether it lives, and sees the mounts there are now."""
        return self.view == _mounts() and not _is_gone(self.pid)


_known: _Spawner | None = None
_left: list[int] = []
_lock = threading.Lock()


def _spawner() -> _Spawner:
    """The one of this process, made when it is first asked for, and anew when something was mounted since. Needs the lock."""
    global _known
    _left[:] = [pid for pid in _left if not _is_gone(pid)]
    if _known is not None and not _known.serves():
        _known.leave()
        _left.append(_known.pid)
        _known = None
    if _known is None:
        try:
            _known = _Spawner()
        except OSError as error:
            raise subprocess.SubprocessError(str(error)) from None
    return _known


def _forget() -> None:
    """In a forked process: the other's spawner is not ours, nor may a copy of its line keep it alive."""
    global _known, _lock
    if _known is not None:
        _known.leave()
    _known, _lock = None, threading.Lock()
    _left.clear()


os.register_at_fork(after_in_child=_forget)


def _has_died(pid: int) -> bool:
    """Whether our child has ended and was not waited for yet: its number is still its own."""
    try:
        return os.waitid(os.P_PID, pid, os.WEXITED | os.WNOHANG | os.WNOWAIT) is not None
    except ChildProcessError:
        return False


def _is_gone(pid: int) -> bool:
    try:
        return os.waitpid(pid, os.WNOHANG) != (0, 0)
    except ChildProcessError:
        return True


def _mounts() -> bytes:
    with open("/proc/self/mountinfo", "rb") as table:
        return table.read()


# -- in the spawner ---------------------------------------------------------------------------------------------


def _alone(line: socket.socket) -> socket.socket:
    """Let go of everything of the process this was forked from, and of every right but to read."""
    gc.disable()  # it would touch, and so copy, every page
    os.setsid()
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    for number in (signal.SIGINT, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)
    nothing = os.open(os.devnull, os.O_RDWR)
    for fd in (0, 1, 2):
        os.dup2(nothing, fd)
    for fd in map(int, os.listdir("/proc/self/fd")):
        if fd > 2 and fd != line.fileno():
            with contextlib.suppress(OSError):
                os.close(fd)
    confine.take_a_view_to_read()
    return line


def _serve(line: socket.socket) -> None:
    """Start what is asked for and tell how each command ended, until nobody asks any more and none is left."""
    poll = select.poll()
    poll.register(line, select.POLLIN)
    begun: dict[int, tuple[int, socket.socket]] = {}  # by the descriptor that tells its end (pidfd_open(2))
    owners: dict[int, int] = {}  # those of the lines
    asked = True
    while asked or begun:
        fd = poll.poll()[0][0]  # one at a time: what it closes may be opened again under the same number
        if fd == line.fileno():
            asked = _take(line, poll, begun, owners)
            if not asked:
                poll.unregister(line)
        elif fd in begun:
            pid, answers = begun.pop(fd)
            _, status = os.waitpid(pid, 0)
            with contextlib.suppress(OSError):
                os.write(answers.fileno(), str(os.waitstatus_to_exitcode(status)).encode())
            for each in (fd, answers.fileno()):
                with contextlib.suppress(KeyError):
                    poll.unregister(each)
            owners.pop(answers.fileno(), None)
            answers.close()
            os.close(fd)
        elif fd in owners:  # whoever asked wants it ended, or is gone
            poll.unregister(fd)
            os.kill(owners.pop(fd), signal.SIGKILL)  # not reaped yet, so still the one that was begun


def _take(
    line: socket.socket,
    poll: select.poll,
    begun: dict[int, tuple[int, socket.socket]],
    owners: dict[int, int],
) -> bool:
    """One command. False when nobody asks any more."""
    fds = array.array("i")
    room = socket.CMSG_LEN(_MOST_FDS * fds.itemsize)
    said, sent, _, _ = line.recvmsg(1, room, socket.MSG_CMSG_CLOEXEC)  # which socket.recv_fds leaves out
    if not said:
        return False
    for _, _, numbers_sent in sent:
        fds.frombytes(numbers_sent)
    request, answers = fds[0], socket.socket(fileno=fds[1])
    with open(request, "rb") as handle:
        handle.seek(0)
        asked = json.loads(handle.read())
    numbers = [0, 1, 2, *asked["fds"]]
    handed = [fcntl.fcntl(fd, fcntl.F_DUPFD_CLOEXEC, max(numbers) + 1) for fd in fds[2:]]
    for fd in fds[2:]:
        os.close(fd)
    try:
        pid = _spawn(asked, dict(zip(numbers, handed, strict=True)))
    except OSError:
        os.write(answers.fileno(), _FAILED)
        answers.close()
    else:
        ends = os.pidfd_open(pid)
        begun[ends], owners[answers.fileno()] = (pid, answers), pid
        poll.register(ends, select.POLLIN)
        poll.register(answers, select.POLLIN)
        os.write(answers.fileno(), _BEGUN)
    finally:
        for fd in handed:
            os.close(fd)
    return True


def _spawn(asked: dict[str, Any], handed: dict[int, int]) -> int:
    """`handed`: under which number each descriptor is to stand, and which it is here."""
    words, environment, cwd = asked["words"], asked["environment"], asked["cwd"]
    for number, fd in handed.items():
        if number > 2:
            confine.seen_anew([fd])
            os.set_inheritable(fd, False)
    if cwd.startswith(_OWN_FD):
        os.fchdir(handed[int(cwd.removeprefix(_OWN_FD))])
    else:
        os.chdir(cwd)
    pid = os.posix_spawn(
        words[0],
        words,
        environment,
        file_actions=[(os.POSIX_SPAWN_DUP2, fd, number) for number, fd in handed.items()],
        setsigdef=[signal.SIGPIPE, signal.SIGXFSZ, signal.SIGINT, signal.SIGHUP],
    )
    os.chdir("/")
    return pid
