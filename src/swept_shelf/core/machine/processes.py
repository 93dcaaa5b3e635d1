"""Processes that run programs of the machine's root or hold its files open."""

from __future__ import annotations

import os
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime

import psutil

from swept_shelf.core.documents.paths import within
from swept_shelf.core.machine.machine import Machine


@dataclass(frozen=True, slots=True)
class Process:
    """`programs`: its executable and, for a script, the script, as paths inside the machine."""

    pid: int
    name: str
    user: str
    started: datetime
    programs: tuple[str, ...]
    could_look: bool


def read_processes(machine: Machine) -> list[Process]:
    """Processes of this computer that run something inside the machine's root."""
    found = []
    for process in psutil.process_iter():
        try:
            with process.oneshot():
                programs, could_look = _programs(process)
                inside = tuple(dict.fromkeys(i for p in programs if (i := _inside(machine, p))))
                if inside or (machine.live and not could_look):
                    started = datetime.fromtimestamp(process.create_time(), UTC)
                    found.append(Process(process.pid, process.name(), process.username(), started, inside, could_look))
        except (psutil.NoSuchProcess, psutil.ZombieProcess):
            continue
        except psutil.AccessDenied:
            if machine.live:
                found.append(Process(process.pid, "", "", datetime.fromtimestamp(0, UTC), (), False))
    return found


def holders(machine: Machine, paths: Iterable[str]) -> tuple[list[tuple[int, str, str]], int]:
    """(pid, program, path) for every open file below `paths`, and how many processes could not be looked at."""
    tops = list(paths)
    found, hidden = [], 0
    for process in psutil.process_iter():
        if process.pid == os.getpid():
            continue
        try:
            for name in os.listdir(f"/proc/{process.pid}/fd"):
                try:
                    path = _inside(machine, os.readlink(f"/proc/{process.pid}/fd/{name}"))
                except OSError:
                    continue
                if path and any(within(path, top) for top in tops):
                    found.append((process.pid, process.name(), path))
        except PermissionError:
            hidden += 1
        except (OSError, psutil.Error):
            continue
    return found, hidden


def _programs(process: psutil.Process) -> tuple[list[str], bool]:
    try:
        exe = process.exe()
    except psutil.AccessDenied:
        return [], False
    line, programs = process.cmdline(), [exe]
    if len(line) > 1 and line[1].startswith("/"):
        programs.append(line[1])
    elif len(line) > 1 and not line[1].startswith("-") and "/" in line[1]:
        try:
            programs.append(os.path.normpath(os.path.join(process.cwd(), line[1])))
        except psutil.AccessDenied:
            pass
    return [p for p in programs if p], True


def _inside(machine: Machine, path: str) -> str:
    path = path.removesuffix(" (deleted)")
    if machine.live:
        return path if path.startswith("/") else ""
    return path[len(machine.root) :] if within(path, machine.root) and path != machine.root else ""
