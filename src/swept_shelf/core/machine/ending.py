"""Ending what runs: a service by its manager, anything else by a signal to the very process that was seen."""

from __future__ import annotations

import contextlib
import os
import re
import select
import signal
from dataclasses import dataclass

import psutil

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import CHANGE, available, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process

_SYSTEM = re.compile(r"\d*:[^:]*:/system\.slice/(?:[^/]+/)*?([^/]+\.service)(?:/|$)")
_PERSONS = re.compile(
    r"\d*:[^:]*:/user\.slice/user-(\d+)\.slice/user@\1\.service/(?:[^/]+/)*?([^/]+\.service)(?:/|$)"
)
_STARTERS = (".socket", ".path", ".timer")  # units that start another as soon as somebody asks
_MANAGER = "/run/systemd/system"  # there where systemd manages this computer (sd_booted(3))


@dataclass(frozen=True, slots=True)
class Service:
    """A unit, and the person whose manager runs it; None for the system's."""

    unit: str
    uid: int | None = None


def end(machine: Machine, process: Process, seconds: float, hard: bool) -> str:
    """How it ended; "" where it did not. Raises PermissionError where it is not the caller’s to end."""
    service = _service_of(machine, process.pid)
    with contextlib.suppress(CouldNotRead):  # a manager that does not answer: the process itself is asked
        if service and (said := _stopped(service)):
            return said
    try:
        fd = os.pidfd_open(process.pid)
    except ProcessLookupError:
        return "had ended"
    try:
        if not _is_still(process):
            return "had ended"
        signal.pidfd_send_signal(fd, signal.SIGTERM)
        if _ended(fd, seconds):
            return "ended"
        if not hard:
            return ""
        signal.pidfd_send_signal(fd, signal.SIGKILL)
        return "was ended" if _ended(fd, seconds) else ""
    except ProcessLookupError:
        return "had ended"
    finally:
        os.close(fd)


def is_mine(process: Process) -> bool:
    """Whether the caller may end it: a process of the caller's own, or one that is gone."""
    try:
        return os.geteuid() in (0, os.stat(f"/proc/{process.pid}").st_uid)
    except OSError:
        return True


def _ended(fd: int, seconds: float) -> bool:
    waiting = select.poll()
    waiting.register(fd, select.POLLIN)
    events: list[tuple[int, int]] = waiting.poll(seconds * 1000)
    return bool(events)


def _is_still(process: Process) -> bool:
    """Whether the number is still the process that was seen."""
    try:
        began: float = psutil.Process(process.pid).create_time()
        return abs(began - process.started.timestamp()) < 1
    except psutil.Error:
        return False


def _stopped(service: Service) -> str:
    """What its manager stopped: the service, and before it what would start it again. "" where it would not."""
    asked = () if service.uid is None else ("--user", *_whose_manager(service.uid))
    at = {} if service.uid is None else {"XDG_RUNTIME_DIR": f"/run/user/{service.uid}"}
    said = run(
        "systemctl",
        *(*asked, "show", "--property=TriggeredBy", "--value", "--", service.unit),
        as_=CHANGE,
        timeout=30,
        environment=at,
    )
    starters = [u for u in said.out.decode("utf-8", "replace").split() if u.endswith(_STARTERS)]
    units = (*starters, service.unit)
    done = run("systemctl", *(*asked, "stop", "--", *units), as_=CHANGE, timeout=120, environment=at)
    return f"{', '.join(units)} stopped" if done.status == 0 else ""


def _whose_manager(uid: int) -> tuple[str, ...]:
    return () if uid == os.geteuid() else (f"--machine={uid}@.host",)


def _service_of(machine: Machine, pid: int) -> Service | None:
    """The service that it runs in; None for no service, and where nothing manages services."""
    if not (machine.live and os.path.isdir(_MANAGER) and available("systemctl")):
        return None
    try:
        with open(f"/proc/{pid}/cgroup", encoding="utf-8", errors="replace") as table:
            return service_in(table.read(65536))
    except OSError:
        return None


def service_in(groups: str) -> Service | None:
    """The service of a process by its control groups (cgroups(7)). What stands at the top of a group's path the system gave;
    below its own manager a person calls groups as they like."""
    for line in groups.splitlines():
        if match := _SYSTEM.match(line):
            return Service(match[1])
        if (match := _PERSONS.match(line)) and not match[2].startswith("-"):
            return Service(match[2], int(match[1]))
    return None
