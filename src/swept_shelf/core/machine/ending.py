"""Ending what runs: a service by its manager, anything else by a signal to the very process that was seen."""

from __future__ import annotations

import os
import re
import select
import signal

import psutil

from swept_shelf.core.machine.commands import CHANGE, available, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process

_SERVICE = re.compile(r"/system\.slice/(?:[^/]+/)*?([^/]+\.service)$")
_MANAGER = "/run/systemd/system"  # there where systemd manages this computer (sd_booted(3))


def end(machine: Machine, process: Process, seconds: float, hard: bool) -> str:
    """How it ended; "" where it did not. Raises PermissionError where it is not the caller’s to end."""
    unit = _unit_of(machine, process.pid)
    if unit:
        done = run("systemctl", "stop", "--", unit, as_=CHANGE, timeout=120)
        if done.status == 0:
            return f"{unit} stopped"
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


def _unit_of(machine: Machine, pid: int) -> str:
    """The system's service that it runs in; "" for none, and where nothing manages services."""
    if not (machine.live and os.path.isdir(_MANAGER) and available("systemctl")):
        return ""
    try:
        with open(f"/proc/{pid}/cgroup", encoding="utf-8", errors="replace") as table:
            for line in table:
                if match := _SERVICE.search(line.rstrip("\n")):
                    return match[1]
    except OSError:
        return ""
    return ""
