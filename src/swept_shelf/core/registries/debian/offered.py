"""Which packages the configured sources offer, by the lists that apt keeps of them."""

from __future__ import annotations

import re
from concurrent.futures import Future, ThreadPoolExecutor

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import HELPER, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.unpacked import ENDINGS, read_unpacked
from swept_shelf.core.registries.debian.history import Problems

LISTS = "/var/lib/apt/lists"


def start_reading(machine: Machine) -> Future[tuple[frozenset[str] | None, Problems]]:
    """Begin to read the lists beside other work; see `offered`."""
    pool = ThreadPoolExecutor(1)
    future = pool.submit(offered, machine)
    pool.shutdown(wait=False)
    return future


def offered(machine: Machine) -> tuple[frozenset[str] | None, Problems]:
    """Names that any list holds; None where there is no list to know it by. And what could not be read."""
    problems: Problems = []
    lists = [n for n in machine.names(LISTS) if "_Packages" in n]
    plain = [n for n in lists if n.endswith("_Packages")]
    names: set[bytes] = set()
    read = 0
    if plain:
        with machine.handed(LISTS) as (folder, fd):
            done = run("grep", "-h", "-s", "^Package: ", "--", *(f"{folder}/{n}" for n in plain), fds=[fd])
        names.update(line[9:] for line in done.out.split(b"\n"))
        read += len(plain)
    for name in lists:
        if name.endswith("_Packages"):
            continue
        try:
            text = read_unpacked(machine, f"{LISTS}/{name}").encode() if name.endswith(ENDINGS) else _by_apt(machine, name)
        except CouldNotRead as error:
            problems.append((f"{LISTS}/{name}", error.reason))
            continue
        names.update(re.findall(rb"^Package: (\S+)$", text, re.M))
        read += 1
    return (frozenset(n.decode("ascii", "replace") for n in names if n) if read else None), problems


def _by_apt(machine: Machine, name: str) -> bytes:
    """The lines of a list in a format that apt itself unpacks (lz4, zstd). Raises CouldNotRead."""
    with machine.handed(LISTS) as (folder, fd):
        done = run("grep", "^Package: ", fds=[fd], fed_by=(HELPER, "cat-file", f"{folder}/{name}"))
    if not done.out:
        raise CouldNotRead("apt could not unpack it", f"{LISTS}/{name}")
    return done.out
