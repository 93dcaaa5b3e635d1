"""What processes of this computer hold of the machine's files: run, mapped, open, also without a name any more; and where they
listen. Read before anything else: from inside a user namespace others' processes cannot be looked at."""

from __future__ import annotations

import os
import re
import socket
from collections.abc import Iterator
from dataclasses import dataclass, field

import psutil

from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import all_processes, inside, program_paths
from swept_shelf.core.machine.spawner import own_processes

RUNS, MAPPED, OPEN, LISTENS = "runs", "mapped", "open", "listens"
_DELETED = " (deleted)"
_MAP = re.compile(r"^\S+ \S+ \S+ \S+ (\d+) +(/.*)$", re.M)


@dataclass(frozen=True, slots=True)
class Held:
    """`path` inside the machine; of what `listens` the program, with `at` where. `deleted`: it has no name any more, and
    `bytes` come back when the process ends."""

    pid: int
    program: str
    user: str
    how: str
    path: str
    deleted: bool = False
    bytes: int = 0
    at: str = ""


@dataclass(slots=True)
class AllHeld:
    """`hidden`: processes that may not be looked at."""

    rows: list[Held] = field(default_factory=list)
    hidden: int = 0


def read_held(machine: Machine) -> AllHeld:
    """Of every process but our own."""
    found = AllHeld()
    ours = own_processes()
    listening = _listening()
    for process in all_processes():
        if process.pid in ours:
            continue
        try:
            with process.oneshot():
                name, user = process.name(), process.username()
                programs = program_paths(machine, process)
            found.rows += list(
                _of(machine, process.pid, name, user, programs, listening.get(process.pid, []))
            )
        except (PermissionError, psutil.AccessDenied):
            found.hidden += machine.live
        except (OSError, psutil.Error):
            continue  # it ended
    return found


def _of(
    machine: Machine, pid: int, name: str, user: str, programs: list[str], listening: list[str]
) -> Iterator[Held]:
    program, nameless = _path(machine, os.readlink(f"/proc/{pid}/exe"))
    for path in programs:  # the executable and, for a script, the script
        gone = nameless and path == program
        yield Held(pid, name, user, RUNS, path, gone, _bytes(f"/proc/{pid}/exe") if gone else 0)
        yield from (Held(pid, name, user, LISTENS, path, at=at) for at in listening)
    with open(f"/proc/{pid}/maps", encoding="utf-8", errors="surrogateescape") as table:
        maps = {m[2] for m in _MAP.finditer(table.read()) if m[1] != "0"}
    for mapped in maps:
        path, gone = _path(machine, mapped.replace("\\012", "\n"))
        if path and path not in programs:
            yield Held(pid, name, user, MAPPED, path, gone)
    for number in os.listdir(f"/proc/{pid}/fd"):
        link = f"/proc/{pid}/fd/{number}"
        try:
            path, gone = _path(machine, os.readlink(link))
            if path:
                yield Held(pid, name, user, OPEN, path, gone, _bytes(link) if gone else 0)
        except OSError:
            continue  # closed meanwhile


def _path(machine: Machine, link: str) -> tuple[str, bool]:
    """The path inside the machine, "" for none, and whether it has no name any more."""
    return inside(machine, link), link.endswith(_DELETED)


def _bytes(link: str) -> int:
    """Allocated bytes of a file that has no other name; 0 where it has one, or ended."""
    try:
        status = os.stat(link)
    except OSError:
        return 0
    return 0 if status.st_nlink else status.st_blocks * 512


def _listening() -> dict[int, list[str]]:
    """Addresses at which each process listens; what may not be known is left out."""
    found: dict[int, list[str]] = {}
    try:
        connections = psutil.net_connections("inet")
    except (OSError, psutil.Error):
        return found
    for c in connections:
        if (
            c.pid
            and c.laddr
            and (c.status == psutil.CONN_LISTEN or (c.type == socket.SOCK_DGRAM and not c.raddr))
        ):
            kind = "tcp" if c.type == socket.SOCK_STREAM else "udp"
            found.setdefault(c.pid, []).append(f"{kind} {c.laddr.ip}:{c.laddr.port}")
    return found
