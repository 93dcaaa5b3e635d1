"""Which packages the configured sources offer, by the lists that apt keeps of them, and which of those they require."""

from __future__ import annotations

import os
import stat
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import HELPER, run
from swept_shelf.core.machine.machine import NOT_A_FILE, Machine
from swept_shelf.core.machine.unpacked import ENDINGS, unpacked_pieces
from swept_shelf.core.registries.debian.history import Problems

LISTS = "/var/lib/apt/lists"
_MOST_NAMES, _LONGEST, _MOST = 500_000, 300, 512 << 20
_WANTED = r"^Package: \|^Version: \|^Priority: required$"
_NOTHING_ELSE = b'Dir::Etc::main "/dev/null"; Dir::Etc::parts "/dev/null"; Dir::State "/nonexistent"; Dir::Cache "/nonexistent";'


@dataclass(frozen=True, slots=True)
class Offered:
    """`versions`: name and version of each entry, a space between; `required`: those that a list gives that priority. `known`:
    whether there is any list."""

    versions: frozenset[bytes]
    required: frozenset[bytes]
    known: bool

    @property
    def names(self) -> frozenset[str] | None:
        """None where there is no list to know it by."""
        names = {entry.partition(b" ")[0] for entry in self.versions}
        return frozenset(n.decode("ascii", "replace") for n in names) if self.known else None

    def is_required(self, name: str, version: str, said: bool) -> bool:
        """As apt has it of an installed package: a list's word goes before what the package `said` itself, where it has this version."""
        entry = f"{name} {version}".encode("utf-8", "surrogateescape")
        return entry in self.required if entry in self.versions else said


def start_reading(machine: Machine) -> Future[tuple[Offered, Problems]]:
    """Begin to read the lists beside other work; see `offered`."""
    pool = ThreadPoolExecutor(1)
    future = pool.submit(offered, machine)
    pool.shutdown(wait=False)
    return future


def offered(machine: Machine) -> tuple[Offered, Problems]:
    """What the lists hold. And what could not be read."""
    problems: Problems = []
    lists = [
        n for n in machine.names(LISTS) if "_Packages" in n and _is_plain(machine, f"{LISTS}/{n}", problems)
    ]
    plain = [n for n in lists if n.endswith("_Packages")]
    entries = _Entries()
    read = 0
    if plain:
        with machine.handed(LISTS) as (folder, fd):
            run(
                "grep",
                "-h",
                "-s",
                "-D",
                "skip",
                _WANTED,
                "--",
                *(f"{folder}/{n}" for n in plain),
                fds=[fd],
                taking=entries.take,
            )
        entries.end()
        read += len(plain)
    for name in lists:
        if name.endswith("_Packages"):
            continue
        try:
            if name.endswith(ENDINGS):
                for piece in unpacked_pieces(machine, f"{LISTS}/{name}", _MOST):
                    entries.take(piece)
            else:
                entries.take(_by_apt(machine, name))
        except CouldNotRead as error:
            problems.append((f"{LISTS}/{name}", error.reason))
            continue
        finally:
            entries.end()
        read += 1
    return Offered(frozenset(entries.versions), frozenset(entries.required), read > 0), problems


class _Entries:
    """Packages out of a list, or of what grep prints of one, piece by piece; of no more than any release has."""

    def __init__(self) -> None:
        self.versions: set[bytes] = set()
        self.required: set[bytes] = set()
        self._rest = self._name = self._version = b""
        self._is_required = False

    def take(self, piece: bytes) -> None:
        *lines, self._rest = (self._rest[-_LONGEST:] + piece).split(b"\n")
        for line in lines:
            if line.startswith(b"Package: "):
                self._note()
                self._name = line[9:] if len(line) < _LONGEST else b""
            elif line.startswith(b"Version: ") and not self._version:
                self._version = line[9:] if len(line) < _LONGEST else b""
            elif line == b"Priority: required":
                self._is_required = True

    def end(self) -> None:
        """The list has ended."""
        self.take(b"\n")
        self._note()
        self._rest = b""

    def _note(self) -> None:
        entry = self._name + b" " + self._version
        if self._name and len(self.versions) < _MOST_NAMES:
            self.versions.add(entry)
            if self._is_required:
                self.required.add(entry)
        self._name = self._version = b""
        self._is_required = False


def _is_plain(machine: Machine, path: str, problems: Problems) -> bool:
    """Whether it is a file of its own: a command would follow a link out of the root, and wait at a pipe."""
    status = machine.lstat(path)
    if status is not None and stat.S_ISREG(status.st_mode):
        return True
    problems.append((path, NOT_A_FILE))
    return False


def _by_apt(machine: Machine, name: str) -> bytes:
    """The lines of a list in a format that apt itself unpacks (lz4, zstd). Raises CouldNotRead."""
    own = os.memfd_create("apt.conf")
    try:
        os.write(own, _NOTHING_ELSE)
        with machine.handed(LISTS) as (folder, fd):
            done = run(
                "grep",
                _WANTED,
                fds=[fd, own],
                fed_by=(HELPER, "cat-file", f"{folder}/{name}"),
                environment={"APT_CONFIG": f"/proc/self/fd/{own}"},
            )
    finally:
        os.close(own)
    if not done.out:
        raise CouldNotRead("apt could not unpack it", f"{LISTS}/{name}")
    return done.out
