"""Processes that run programs of the machine's root or hold its files open."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime

import psutil

from swept_shelf.core.documents.paths import ways_up, within
from swept_shelf.core.machine.machine import Machine


@dataclass(frozen=True, slots=True)
class Process:
    """`programs`: its executable and, for a script, the script, as paths inside the machine.

    `open_files`: regular files of homes and below /var, /etc, /srv and /opt that it has open now.
    `how` it was started, as far as can be known: terminal, launched (by a person from the desktop), login, schedule, service."""

    pid: int
    name: str
    user: str
    started: datetime
    programs: tuple[str, ...]
    could_look: bool
    how: str = ""
    open_files: tuple[str, ...] = ()


def running_of(programs: Iterable[str], processes: Iterable[Process]) -> list[Process]:
    """What runs one of these programs, or anything in one of these folders."""
    wanted = set(programs)
    return [p for p in processes if any(not wanted.isdisjoint(ways_up(x)) for x in p.programs)]


def runs_as(process: Process) -> int | None:
    """Whose rights it has, as a number; None where it has ended."""
    try:
        return os.stat(f"/proc/{process.pid}").st_uid
    except FileNotFoundError:
        return None


def all_processes() -> Iterator[psutil.Process]:
    """Every process of this computer, each asked anew: one that was seen before may run another program now, or be another one
    with the same number, and what is kept of it says neither."""
    psutil.process_iter.cache_clear()
    yield from psutil.process_iter()


def read_processes(machine: Machine) -> list[Process]:
    """Processes of this computer that run something inside the machine's root."""
    found = []
    for process in all_processes():
        try:
            with process.oneshot():
                programs, could_look = _programs(process)
                ran = tuple(dict.fromkeys(i for p in programs if (i := inside(machine, p))))
                if ran or (machine.live and not could_look):
                    started = datetime.fromtimestamp(process.create_time(), UTC)
                    how, files = (_how(process), _open_files(machine, process.pid)) if ran else ("", ())
                    found.append(
                        Process(
                            process.pid,
                            process.name(),
                            process.username(),
                            started,
                            ran,
                            could_look,
                            how,
                            files,
                        )
                    )
        except (psutil.NoSuchProcess, psutil.ZombieProcess):
            continue
        except psutil.AccessDenied:
            if machine.live:
                found.append(Process(process.pid, "", "", datetime.fromtimestamp(0, UTC), (), False))
    return found


_OPEN_PLACES = ("/home/", "/root/", "/var/", "/etc/", "/srv/", "/opt/")


def open_paths(pid: int) -> Iterator[str]:
    """What the descriptors of a process lead to, as the kernel names it. Raises OSError where that may not be looked at."""
    for name in os.listdir(f"/proc/{pid}/fd"):
        with contextlib.suppress(OSError):
            yield os.readlink(f"/proc/{pid}/fd/{name}")


def _open_files(machine: Machine, pid: int) -> tuple[str, ...]:
    """What a process has open, by its descriptors; () where that may not be looked at."""
    found = []
    try:
        for opened in open_paths(pid):
            path = inside(machine, opened)
            if path.startswith(_OPEN_PLACES) and not path.startswith("/var/lib/dpkg"):
                found.append(path)
    except OSError:
        pass
    return tuple(sorted(set(found)))


_SCHEDULERS = ("cron", "crond", "atd", "anacron")
_AT_LOGIN = 60.0  # seconds after its session began


def _how(process: psutil.Process) -> str:
    """How it was started: by its control group (cgroups(7), as systemd names them), else by what stands above it."""
    try:
        with open(f"/proc/{process.pid}/cgroup", encoding="utf-8", errors="replace") as table:
            group = table.read().rsplit(":", 1)[-1].strip()
    except OSError:
        group = ""
    last = group.rsplit("/", 1)[-1]
    if "@autostart" in last or "-autostart" in last:
        return "login"
    if last.startswith("app-"):
        return "launched"
    above = []
    with contextlib.suppress(psutil.Error):
        above = process.parents()
    if (
        any(p.name() in _SCHEDULERS for p in above if _alive(p))
        or last.removesuffix(".service") in _SCHEDULERS
    ):
        return "schedule"
    if _has_terminal(process.pid):
        return "terminal"
    if last.endswith(".service") and "/user@" not in group.replace(last, ""):
        return "service"
    leader = next((p for p in reversed(above) if _alive(p) and p.pid == os.getsid(process.pid)), None)
    if leader is not None and process.create_time() - leader.create_time() < _AT_LOGIN:
        return "login"
    return ""


def _has_terminal(pid: int) -> bool:
    """Whether it has a controlling terminal (proc_pid_stat(5), tty_nr), whatever that is called."""
    with contextlib.suppress(OSError, ValueError, IndexError), open(f"/proc/{pid}/stat", "rb") as table:
        return int(table.read().rpartition(b")")[2].split()[4]) != 0
    return False


def _alive(process: psutil.Process) -> bool:
    return bool(process.is_running())


def program_paths(machine: Machine, process: psutil.Process) -> list[str]:
    """The executable of a process and, for a script, the script, as paths inside the machine. Raises psutil.Error."""
    return [i for p in _programs(process)[0] if (i := inside(machine, p))]


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


def inside(machine: Machine, path: str) -> str:
    """A path of this computer, as the kernel names it of a process, inside the machine; "" where it lies outside."""
    path = path.removesuffix(" (deleted)")
    if machine.live:
        return path if path.startswith("/") else ""
    return path[len(machine.root) :] if within(path, machine.root) and path != machine.root else ""
