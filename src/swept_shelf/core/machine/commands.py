"""The commands core may run, all of them, and the one way to run one."""

from __future__ import annotations

import os
import shutil
import subprocess
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base

HELPER = "/usr/lib/apt/apt-helper"
ALLOWED = frozenset(
    {HELPER, "find", "grep", "dpkg", "dpkg-query", "dpkg-deb", "apt-config", "apt-mark", "rpm", "unshare", "systemd-inhibit", "journalctl"}
)
TIME_LIMIT = 300.0
_PIECE = 4 << 20  # bytes handed on at a time
_ENVIRONMENT = {"LC_ALL": "C.UTF-8", "PATH": "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin",
                "DEBIAN_FRONTEND": "noninteractive", "DPKG_COLORS": "never", "HOME": "/nonexistent"}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Ran:
    status: int
    out: bytes
    err: str


def available(name: str) -> bool:
    return shutil.which(name, path=_ENVIRONMENT["PATH"]) is not None


def run(
    name: str,
    *arguments: str,
    fds: Sequence[int] = (),
    cwd: str | None = None,
    timeout: float | None = None,
    environment: dict[str, str] | None = None,
    text_in: bytes = b"",
    fed_by: Sequence[str] = (),
    taking: Callable[[bytes], None] | None = None,
) -> Ran:
    """Run one of ALLOWED and wait; `fed_by`: another of them whose output it reads; `taking` gets what it prints piece by
    piece, and nothing of it is held. Raises CouldNotRead when it is missing or hangs longer than `timeout` s (TIME_LIMIT
    where none is given)."""
    if name not in ALLOWED:
        raise AssertionError(f"{name} is not on the list of commands")
    if fed_by and fed_by[0] not in ALLOWED:
        raise AssertionError(f"{fed_by[0]} is not on the list of commands")
    limit = TIME_LIMIT if timeout is None else timeout
    env = {**_ENVIRONMENT, **(environment or {})}
    source, errors = None, os.memfd_create("errors")
    try:
        if fed_by:
            source = subprocess.Popen(list(fed_by), stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
                                      pass_fds=tuple(fds), env=env)  # fmt: skip
        given = source.stdout if source else subprocess.PIPE if text_in else subprocess.DEVNULL
        # With one pipe alone the output is read in one go; what is said of errors waits in memory meanwhile.
        with subprocess.Popen(
            [name, *arguments], stdin=given, stdout=subprocess.PIPE, stderr=errors, pass_fds=tuple(fds), cwd=cwd, env=env
        ) as process:
            out = _read(process, text_in, limit, taking)
        said = os.pread(errors, os.fstat(errors).st_size, 0)
    except FileNotFoundError as error:
        raise CouldNotRead(f"the command {base('/' + (error.filename or name))} is not on this computer") from None
    except subprocess.TimeoutExpired:
        raise CouldNotRead(f"the command {base('/' + name)} gave no answer in time ({limit:.0f} s)") from None
    finally:
        os.close(errors)
        if source is not None:
            if source.stdout:
                source.stdout.close()
            source.kill()
            source.wait()
    return Ran(process.returncode, out, said.decode("utf-8", "replace"))


def _read(process: subprocess.Popen[bytes], text_in: bytes, limit: float, taking: Callable[[bytes], None] | None) -> bytes:
    """Everything it prints, until it ends, where nobody is `taking` it; killed after `limit` s. Raises TimeoutExpired."""
    expired = threading.Event()

    def end() -> None:
        expired.set()
        process.kill()

    timer = threading.Timer(limit, end)
    timer.daemon = True
    timer.start()
    try:
        while taking and process.stdout and (piece := process.stdout.read(_PIECE)):
            taking(piece)
        out, _ = process.communicate(text_in or None)
    finally:
        timer.cancel()
    if expired.is_set():
        raise subprocess.TimeoutExpired(process.args, limit)
    return out


def start(name: str, *arguments: str) -> subprocess.Popen[bytes]:
    """Start one of ALLOWED with an input that this process keeps open. Raises FileNotFoundError."""
    if name not in ALLOWED:
        raise AssertionError(f"{name} is not on the list of commands")
    return subprocess.Popen([name, *arguments], stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                            env=_ENVIRONMENT, start_new_session=True)  # fmt: skip
