"""Which packages the configured sources offer, by the lists that apt keeps of them."""

from __future__ import annotations

import os
import stat
from concurrent.futures import Future, ThreadPoolExecutor

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import HELPER, run
from swept_shelf.core.machine.machine import NOT_A_FILE, Machine
from swept_shelf.core.machine.unpacked import ENDINGS, unpacked_pieces
from swept_shelf.core.registries.debian.history import Problems

LISTS = "/var/lib/apt/lists"
_MOST_NAMES, _LONGEST, _MOST = 500_000, 300, 512 << 20
_NOTHING_ELSE = b'Dir::Etc::main "/dev/null"; Dir::Etc::parts "/dev/null"; Dir::State "/nonexistent"; Dir::Cache "/nonexistent";'


def start_reading(machine: Machine) -> Future[tuple[frozenset[str] | None, Problems]]:
    """Begin to read the lists beside other work; see `offered`."""
    pool = ThreadPoolExecutor(1)
    future = pool.submit(offered, machine)
    pool.shutdown(wait=False)
    return future


def offered(machine: Machine) -> tuple[frozenset[str] | None, Problems]:
    """Names that any list holds; None where there is no list to know it by. And what could not be read."""
    problems: Problems = []
    lists = [
        n for n in machine.names(LISTS) if "_Packages" in n and _is_plain(machine, f"{LISTS}/{n}", problems)
    ]
    plain = [n for n in lists if n.endswith("_Packages")]
    names: set[bytes] = set()
    read = 0
    if plain:
        with machine.handed(LISTS) as (folder, fd):
            taken = _Names()
            run(
                "grep",
                "-h",
                "-s",
                "-D",
                "skip",
                "^Package: ",
                "--",
                *(f"{folder}/{n}" for n in plain),
                fds=[fd],
                taking=taken.take,
            )
        names |= taken.names
        read += len(plain)
    for name in lists:
        if name.endswith("_Packages"):
            continue
        try:
            taken = _Names()
            if name.endswith(ENDINGS):
                for piece in unpacked_pieces(machine, f"{LISTS}/{name}", _MOST):
                    taken.take(piece)
            else:
                taken.take(_by_apt(machine, name))
        except CouldNotRead as error:
            problems.append((f"{LISTS}/{name}", error.reason))
            continue
        names |= taken.names
        read += 1
    return (frozenset(n.decode("ascii", "replace") for n in names if n) if read else None), problems


class _Names:
    """Names out of a list, or of what grep prints of one, piece by piece; of no more packages than any release has."""

    def __init__(self) -> None:
        self.names: set[bytes] = set()
        self._rest = b""

    def take(self, piece: bytes) -> None:
        *lines, self._rest = (self._rest[-_LONGEST:] + piece).split(b"\n")
        if len(self.names) < _MOST_NAMES:
            self.names.update(
                line[9:] for line in lines if line.startswith(b"Package: ") and len(line) < _LONGEST
            )


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
                "^Package: ",
                fds=[fd, own],
                fed_by=(HELPER, "cat-file", f"{folder}/{name}"),
                environment={"APT_CONFIG": f"/proc/self/fd/{own}"},
            )
    finally:
        os.close(own)
    if not done.out:
        raise CouldNotRead("apt could not unpack it", f"{LISTS}/{name}")
    return done.out
