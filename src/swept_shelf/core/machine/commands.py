"""The commands core may run, all of them, and the one way to run one (docs/security.md says what could steer each).

A command that reads what others wrote is `READ`: in namespaces of its own with every mount read-only and no network,
without rights but to read, with limits. One that changes a registry of this computer, or of a made-up root, is `CHANGE`."""

from __future__ import annotations

import contextlib
import fcntl
import os
import shutil
import subprocess
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import IO, Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine import confine, spawner
from swept_shelf.core.machine.spawner import SYSTEM_PATH, Child, Limits

HELPER = "/usr/lib/apt/apt-helper"
INSIDE = "/usr/bin/dpkg"  # of a foreign root, inside it
TABLE_TOOLS = ("update-alternatives", "dpkg-divert", "dpkg-statoverride")
MAKERS = ("update-mime-database", "gtk-update-icon-cache", "gtk4-update-icon-cache", "glib-compile-schemas")
FLATPAK_INSIDE, RPM_INSIDE = "/usr/bin/flatpak", "/usr/bin/rpm"
_OF_A_ROOT = (INSIDE, FLATPAK_INSIDE, RPM_INSIDE, *(f"/usr/bin/{name}" for name in TABLE_TOOLS))
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
        "flatpak",
        "rpm",
        "systemctl",
        "systemd-inhibit",
        "journalctl",
        *MAKERS,
        *TABLE_TOOLS,
        *_OF_A_ROOT,
    }
)
TIME_LIMIT = 300.0
_PIECE = 1 << 18  # bytes handed on at a time
_MEMORY, _FILES, _FILE_SIZE = 768 << 20, 1024, 1 << 30
_MOST_OUTPUT = 256 << 20
_ENVIRONMENT = {
    "LC_ALL": "C.UTF-8",
    "PATH": SYSTEM_PATH,
    "DEBIAN_FRONTEND": "noninteractive",
    "DPKG_COLORS": "never",
    "HOME": "/nonexistent",
}


@dataclass(frozen=True, slots=True)
class Ran:
    status: int
    out: bytes
    err: str


def bus_runs() -> bool:
    """Whether this computer has a message bus, over which some commands ask what a person may do."""
    return os.path.exists("/run/dbus/system_bus_socket")


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
    person: tuple[int, int] | None = None,
) -> Ran:
    """Run one of ALLOWED and wait; `fed_by`: another of them whose output it reads; `taking` gets what it prints piece by
    piece, and nothing of it is held; `writable`: the one folder it may write to; `walled`: what the child does to itself
    first (see walled.py); `person`: user and group that a command which changes something is run as. Raises CouldNotRead when it is missing, hangs longer than `timeout` s (TIME_LIMIT where none is
    given) or prints without end."""
    for command in (name, *fed_by[:1]):
        if command not in ALLOWED:
            raise AssertionError(f"{command} is not on the list of commands")
    if name in SHELLS and (arguments != ("-n",) or as_ != READ or walled):
        raise AssertionError("a shell is only asked for the syntax of a text")
    if name == "systemctl" and not _only_stops(arguments):
        raise AssertionError("services are only ever stopped")
    if name in _OF_A_ROOT and walled is None:
        raise AssertionError("a root's own tool runs behind its walls or not at all")
    seconds = TIME_LIMIT if timeout is None else timeout
    env = {**_ENVIRONMENT, **({"TMPDIR": writable} if writable else {}), **(environment or {})}
    asked = _Asked(tuple(fds), cwd, env, int(seconds), as_, writable, walled, person)
    with contextlib.ExitStack() as own:
        errors = own.enter_context(_file("errors"))
        try:
            given: IO[bytes] = own.enter_context(_file("input", text_in))
            if fed_by:
                given, into = (own.enter_context(end) for end in _pipe())
                nothing = own.enter_context(open(os.devnull, "r+b", buffering=0))
                source = asked.start(fed_by, nothing, into, nothing)
                own.callback(_end, source)
                into.close()
            # A service that a script starts may keep the output open: what changes writes to a file, and its own end counts.
            if as_ == CHANGE or walled:
                output = own.enter_context(_file("output"))
                process = asked.start([name, *arguments], given, output, errors)
                own.callback(_end, process)
                status = process.wait(seconds)
                out = os.pread(output.fileno(), _MOST_OUTPUT, 0)
            else:
                output, into = (own.enter_context(end) for end in _pipe())
                process = asked.start([name, *arguments], given, into, errors)
                own.callback(_end, process)
                into.close()
                given.close()
                out, status = _read(process, output, [name], seconds, taking)
        except FileNotFoundError as error:
            raise CouldNotRead(
                f"the command {base('/' + (error.filename or name))} is not on this computer"
            ) from None
        except subprocess.TimeoutExpired:
            raise CouldNotRead(
                f"the command {base('/' + name)} gave no answer in time ({seconds:.0f} s)"
            ) from None
        except subprocess.SubprocessError:
            raise CouldNotRead(
                f"the command {base('/' + name)} could not be started behind its walls"
            ) from None
        said = os.pread(errors.fileno(), 1 << 20, 0)
    return Ran(status, out, said.decode("utf-8", "replace"))


def _only_stops(arguments: tuple[str, ...]) -> bool:
    """Whether systemctl is told to stop units, or asked what starts one, of the system's manager or of one person's."""
    end = arguments.index("--") if "--" in arguments else 0
    words = [w for w in arguments[:end] if w != "--user" and not w.startswith("--machine=")]
    return words in (["stop"], ["show", "--property=TriggeredBy", "--value"])


@dataclass(frozen=True, slots=True)
class _Asked:
    """How a command is to be started: what it gets, and what it may."""

    fds: tuple[int, ...]
    cwd: str
    environment: dict[str, str]
    seconds: int
    as_: str
    writable: str
    walled: Callable[[], None] | None
    person: tuple[int, int] | None

    def start(self, words: Sequence[str], given: IO[bytes], output: IO[bytes], errors: IO[bytes]) -> Child:
        streams = given.fileno(), output.fileno(), errors.fileno()
        limits = Limits(self.seconds + 1, _MEMORY, _FILE_SIZE, _FILES)
        if self.as_ == READ and not self.walled and not self.writable:
            return spawner.start(words, streams, self.fds, self.cwd, self.environment, limits)

        def become() -> None:
            confine.take_a_view_to_read(self.writable, self.fds)
            limits.lay_on_this()

        return subprocess.Popen(
            list(words),
            stdin=streams[0],
            stdout=streams[1],
            stderr=streams[2],
            pass_fds=self.fds,
            cwd=self.cwd,
            env=self.environment,
            preexec_fn=self.walled or (become if self.as_ == READ else None),
            **_as_person(self.person),
        )


def _as_person(ids: tuple[int, int] | None) -> dict[str, Any]:
    """Nothing to become for whoever is that person already, or could not."""
    if ids is None or os.geteuid() != 0:
        return {}
    return {"user": ids[0], "group": ids[1], "extra_groups": []}


def _file(name: str, content: bytes = b"") -> IO[bytes]:
    """A file in memory, to be read from its beginning."""
    made = os.fdopen(os.memfd_create(name), "r+b", buffering=0)
    if content:
        os.pwrite(made.fileno(), content, 0)
    return made


def _pipe() -> tuple[IO[bytes], IO[bytes]]:
    """Its end to read from, and the one to write to."""
    read, write = os.pipe()
    with contextlib.suppress(OSError):  # a person may have made too many
        fcntl.fcntl(write, fcntl.F_SETPIPE_SZ, 1 << 20)
    return os.fdopen(read, "rb"), os.fdopen(write, "wb", buffering=0)  # read in whole pieces


def _end(process: Child) -> None:
    """However it came to this: no process is left."""
    process.kill()
    with contextlib.suppress(subprocess.SubprocessError):
        process.wait()


def _read(
    process: Child,
    output: IO[bytes],
    words: Sequence[str],
    limit: float,
    taking: Callable[[bytes], None] | None,
) -> tuple[bytes, int]:
    """Everything it prints, until it ends, where nobody is `taking` it; killed after `limit` s. Raises TimeoutExpired, CouldNotRead."""
    expired = threading.Event()

    def end() -> None:
        expired.set()
        process.kill()

    timer = threading.Timer(limit, end)
    timer.daemon = True
    timer.start()
    try:
        pieces: list[bytes] = []
        total = 0
        while piece := output.read(_PIECE):
            total += len(piece)
            if taking:
                taking(piece)
            elif total > _MOST_OUTPUT:
                raise CouldNotRead(f"the command {base('/' + words[0])} printed without end")
            else:
                pieces.append(piece)
        status = process.wait()
    finally:
        timer.cancel()
    if expired.is_set():
        raise subprocess.TimeoutExpired(list(words), limit)
    return b"".join(pieces) if len(pieces) != 1 else pieces[0], status


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
