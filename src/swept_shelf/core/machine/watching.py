"""What running programs write: files they have open for writing now (/proc), and what changes in folders meanwhile (inotify)."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import psutil

from swept_shelf.core.documents.paths import within
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import all_processes, program_paths

_PAUSE = 0.02  # seconds between two looks
_NOT_FILES = ("/dev", "/proc", "/sys", "/run", "/memfd:", "/tmp/.X11-unix")
_WRITES = os.O_WRONLY | os.O_RDWR


@dataclass(slots=True)
class Watched:
    """`by_it`: files that its processes had open for writing; `meanwhile`: what else changed below the folders, by
    whomever; `processes`: how many were seen."""

    by_it: set[str] = field(default_factory=set)
    meanwhile: set[str] = field(default_factory=set)
    processes: set[int] = field(default_factory=set)


def watch(
    machine: Machine,
    programs: Iterable[str],
    folders: Iterable[str],
    seconds: float,
    ended: Callable[[], bool] = lambda: False,
) -> Watched:
    """Watch for `seconds`, or until `ended` says so: processes of these programs of this computer and whatever they start."""
    from watchdog.events import FileSystemEvent, FileSystemEventHandler
    from watchdog.observers import Observer

    found, lock, wanted = Watched(), threading.Lock(), set(programs)

    class Hear(FileSystemEventHandler):
        def on_any_event(self, event: FileSystemEvent) -> None:
            if event.event_type in ("created", "modified", "moved", "closed") and not event.is_directory:
                with lock:
                    found.meanwhile.add(os.fsdecode(event.dest_path or event.src_path))

    observer = Observer()
    for folder in folders:
        if os.path.isdir(folder):
            observer.schedule(Hear(), folder, recursive=True)
    observer.start()
    try:
        until = time.monotonic() + seconds
        while time.monotonic() < until and not ended():
            for process in _its_processes(machine, wanted):
                found.processes.add(process.pid)
                found.by_it |= _written(process.pid)
            time.sleep(_PAUSE)
    finally:
        observer.stop()
        observer.join()
    with lock:
        found.meanwhile -= found.by_it
    return found


def _its_processes(machine: Machine, programs: set[str]) -> list[psutil.Process]:
    found: dict[int, psutil.Process] = {}
    for process in all_processes():
        try:
            if programs.intersection(program_paths(machine, process)):
                found[process.pid] = process
                found |= {child.pid: child for child in process.children(recursive=True)}
        except psutil.Error:
            continue
    return list(found.values())


def _written(pid: int) -> set[str]:
    """Regular files that a process has open for writing; nothing where that may not be looked at."""
    found = set()
    try:
        for name in os.listdir(f"/proc/{pid}/fd"):
            try:
                path = os.readlink(f"/proc/{pid}/fd/{name}")
                with open(f"/proc/{pid}/fdinfo/{name}", encoding="ascii") as handle:
                    flags = int(next(line for line in handle if line.startswith("flags:")).split()[1], 8)
            except (OSError, StopIteration, ValueError):
                continue
            gone = path.endswith(" (deleted)")
            if (
                flags & _WRITES
                and path.startswith("/")
                and not gone
                and not any(within(path, n) for n in _NOT_FILES)
            ):
                found.add(path)
    except OSError:
        pass
    return found
