"""The commands core may run, all of them, and the one way to run one (docs/security.md says what could steer each).

A command that reads what others wrote is `READ`: in namespaces of its own with every mount read-only and no network,
without rights but to read, with limits. One that changes a registry of this computer, or of a made-up root, is `CHANGE`."""

from __future__ import annotations

import os
import shutil
import subprocess
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine import confine

HELPER = "/usr/lib/apt/apt-helper"
INSIDE = "/usr/bin/dpkg"  # of a foreign root, inside it
READ, CHANGE = "read", "change"
SHELLS = ("sh", "bash", "zsh", "fish")  # only ever with -n: read, never run
ALLOWED = frozenset(
    {
        *SHELLS,
        HELPER,
        "find",
        "grep",
        "dpkg",
        "dpkg-query",
        "dpkg-deb",
        "rpm",
        "systemd-inhibit",
        "journalctl",
        INSIDE,
    }
)
TIME_LIMIT = 300.0
_PIECE = 4 << 20  # bytes handed on at a time
_MEMORY, _FILES, _FILE_SIZE = 768 << 20, 1024, 1 << 30
_MOST_OUTPUT = 256 << 20
_ENVIRONMENT = {
    "LC_ALL": "C.UTF-8",
    "PATH": "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin",
    "DEBIAN_FRONTEND": "noninteractive",
    "DPKG_COLORS": "never",
    "HOME": "/nonexistent",
}


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
    cwd: str = "/",
    timeout: float | None = None,
    environment: dict[str, str] | None = None,
    text_in: bytes = b"",
    fed_by: Sequence[str] = (),
    taking: Callable[[bytes], None] | None = None,
    as_: str = READ,
    writable: str = "",
    walled: Callable[[], None] | None = None,
) -> Ran:
    """Run one of ALLOWED and wait; `fed_by`: another of them whose output it reads; `taking` gets what it prints piece by
    piece, and nothing of it is held; `writable`: the one folder it may write to; `walled`: what the child does to itself
    first (see walled.py). Raises CouldNotRead when it is missing, hangs longer than `timeout` s (TIME_LIMIT where none is
    given) or prints without end."""
    for command in (name, *fed_by[:1]):
        if command not in ALLOWED:
            raise AssertionError(f"{command} is not on the list of commands")
    limit = TIME_LIMIT if timeout is None else timeout
    env = {**_ENVIRONMENT, **({"TMPDIR": writable} if writable else {}), **(environment or {})}
    before = walled or (_confined(tuple(fds), int(limit), writable) if as_ == READ else None)
    if name in SHELLS and (arguments != ("-n",) or as_ != READ or walled):
        raise AssertionError("a shell is only asked for the syntax of a text")
    if name == INSIDE and walled is None:
        raise AssertionError("a root's own dpkg runs behind its walls or not at all")
    source, errors = None, os.memfd_create("errors")
    # A service that a script starts may keep the output open: what changes writes to a file, and its own end counts.
    output = os.memfd_create("output") if as_ == CHANGE or walled else -1
    try:
        if fed_by:
            source = subprocess.Popen(
                list(fed_by),
                stdin=subprocess.DEVNULL,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                pass_fds=tuple(fds),
                cwd="/",
                env=env,
                preexec_fn=before,
            )
        given = source.stdout if source else subprocess.PIPE if text_in else subprocess.DEVNULL
        process = subprocess.Popen(
            [name, *arguments],
            stdin=given,
            stdout=subprocess.PIPE if output < 0 else output,
            stderr=errors,
            pass_fds=tuple(fds),
            cwd=cwd,
            env=env,
            preexec_fn=before,
        )
        try:
            out = _read(process, text_in, limit, taking) if output < 0 else _waited(process, output, limit)
        finally:
            _end(process)
        said = os.pread(errors, 1 << 20, 0)
    except FileNotFoundError as error:
        raise CouldNotRead(
            f"the command {base('/' + (error.filename or name))} is not on this computer"
        ) from None
    except subprocess.SubprocessError as error:
        if not isinstance(error, subprocess.TimeoutExpired):
            raise CouldNotRead(
                f"the command {base('/' + name)} could not be started behind its walls"
            ) from None
        raise CouldNotRead(f"the command {base('/' + name)} gave no answer in time ({limit:.0f} s)") from None
    finally:
        os.close(errors)
        if output >= 0:
            os.close(output)
        if source is not None:
            _end(source)
    return Ran(process.returncode, out, said.decode("utf-8", "replace"))


def _end(process: subprocess.Popen[bytes]) -> None:
    """However it came to this: no process is left, no pipe open."""
    if process.poll() is None:
        process.kill()
    for pipe in (process.stdin, process.stdout):
        if pipe:
            pipe.close()
    process.wait()


def _confined(fds: tuple[int, ...], seconds: int, writable: str) -> Callable[[], None]:
    """What a child does to itself before it becomes the command."""

    def act() -> None:
        if not confine.in_private_view() and not confine.look_without_trace(writable):
            confine.seen_anew(fds)
        confine.keep_rights(confine.READING)
        confine.speak_to_nobody()
        confine.limit(seconds + 1, _MEMORY, _FILE_SIZE, _FILES)

    return act


def _read(
    process: subprocess.Popen[bytes], text_in: bytes, limit: float, taking: Callable[[bytes], None] | None
) -> bytes:
    """Everything it prints, until it ends, where nobody is `taking` it; killed after `limit` s. Raises TimeoutExpired, CouldNotRead."""
    expired = threading.Event()

    def end() -> None:
        expired.set()
        process.kill()

    timer = threading.Timer(limit, end)
    timer.daemon = True
    timer.start()
    try:
        if text_in:  # a command that is told what to look for prints little
            out, _ = process.communicate(text_in)
        else:
            assert process.stdout is not None
            pieces: list[bytes] = []
            total = 0
            while piece := process.stdout.read(_PIECE):
                total += len(piece)
                if taking:
                    taking(piece)
                elif total > _MOST_OUTPUT:
                    raise CouldNotRead(f"the command {base('/' + str(process.args[0]))} printed without end")  # type: ignore[index]
                else:
                    pieces.append(piece)
            out = b"".join(pieces) if len(pieces) != 1 else pieces[0]
            process.wait()
    finally:
        timer.cancel()
    if expired.is_set():
        raise subprocess.TimeoutExpired(process.args, limit)
    return out


def _waited(process: subprocess.Popen[bytes], output: int, limit: float) -> bytes:
    """What it had printed when it ended. Raises TimeoutExpired."""
    process.wait(limit)
    return os.pread(output, _MOST_OUTPUT, 0)


def start(name: str, *arguments: str) -> subprocess.Popen[bytes]:
    """Start one of ALLOWED with an input that this process keeps open. Raises FileNotFoundError."""
    if name not in ALLOWED:
        raise AssertionError(f"{name} is not on the list of commands")
    return subprocess.Popen(
        [name, *arguments],
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        cwd="/",
        env=_ENVIRONMENT,
        start_new_session=True,
    )
