"""The holding shelf: `.swept-shelf/RUN/NNNN/{manifest.json,item}` at the top of each volume.

Its manifests alone are enough to put everything back. It is made when first needed and disappears when empty;
the top folder's modification time is then as it was."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from swept_shelf.core.carry import durable
from swept_shelf.core.documents.paths import join, parent
from swept_shelf.core.documents.survey import Person, Volume
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.people import read_people

_PERSONAL = ".local/share/swept-shelf/shelf"
EMPTYING = "emptying-"
TOP = "top.json"
_OWN_RECORDS = (TOP, f".{TOP}.part")
Note = Callable[[str, int], None]
_NOTHING: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Slot:
    """One thing on a shelf. `waiting`: its item is really there."""

    shelf: str
    run: str
    number: int
    manifest: dict[str, Any]
    waiting: bool

    @property
    def path(self) -> str:
        return join(self.shelf, self.run, f"{self.number:04}")


def shelf_for(machine: Machine, path: str, volumes: list[Volume]) -> str:
    """The shelf within which a rename from `path` works: at the top of its mount or volume, else the person's.

    Raises OSError when neither can be written."""
    with machine.folder(parent(path)) as fd:
        here, device = beneath.mount_id(fd), os.fstat(fd).st_dev
    mounts = {v.mount for v in volumes}
    top = parent(path)
    while top != "/" and top not in mounts:
        with machine.folder(parent(top)) as fd:
            if beneath.mount_id(fd) != here or os.fstat(fd).st_dev != device:
                break
        top = parent(top)
    shelf = join(top, SHELF)
    if _can_write(machine, top, shelf):
        return shelf
    for person in _callers(machine):
        fallback = join(person.home, *_PERSONAL.split("/"))
        with contextlib.suppress(OSError), machine.folder(person.home) as fd:
            if beneath.mount_id(fd) == here and os.access(f"/proc/self/fd/{fd}", os.W_OK):
                return fallback
    raise OSError(13, "no holding shelf can be made on its volume", shelf)


def _callers(machine: Machine) -> list[Person]:
    return [p for p in read_people(machine) if p.uid == os.geteuid()]


def _can_write(machine: Machine, top: str, shelf: str) -> bool:
    try:
        with machine.folder(shelf if machine.exists(shelf) else top) as fd:
            return os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK)
    except OSError:
        return False


def make_folder(machine: Machine, shelf: str, note: Note = lambda *_: None, noted: Mapping[str, int] = _NOTHING) -> None:
    """Make a shelf (and what leads to it), remembering the time of the folder above it. Raises OSError.

    `note` hears that folder and its time before anything is made; `noted` is what it heard before a crash, for a
    shelf that the crash left without its own record."""
    above = parent(shelf)
    is_shelf = shelf.endswith(("/" + SHELF, "/swept-shelf/shelf"))
    if machine.exists(shelf):
        if is_shelf and above in noted:
            with machine.folder(above) as top, machine.folder(shelf) as fd:
                if durable.read_json(fd, TOP) is None:
                    durable.write_json(fd, TOP, {"before": noted[above], "after": os.fstat(top).st_mtime_ns})
        return
    if not machine.exists(above):
        make_folder(machine, above)
    with machine.folder(above) as top:
        before = os.fstat(top).st_mtime_ns
        if is_shelf:
            note(above, before)
        os.mkdir(shelf.rsplit("/", 1)[1], 0o700, dir_fd=top)
        os.fsync(top)
        if is_shelf:
            with machine.folder(shelf) as fd:
                durable.write_json(fd, TOP, {"before": before, "after": os.fstat(top).st_mtime_ns})


@contextlib.contextmanager
def new_slot(machine: Machine, shelf: str, run: str, number: int, manifest: dict[str, Any]) -> Iterator[int]:
    """A slot of a shelf that is there, with its manifest on the disk, as a descriptor. An empty one left by a crash is used again."""
    folder = join(shelf, run)
    name = f"{number:04}"
    with contextlib.suppress(FileExistsError), machine.folder(shelf) as fd:
        os.mkdir(run, 0o700, dir_fd=fd)
        os.fsync(fd)
    with machine.folder(folder) as fd, contextlib.suppress(FileExistsError):
        os.mkdir(name, 0o700, dir_fd=fd)
        os.fsync(fd)
    with machine.folder(join(folder, name)) as slot:
        durable.write_json(slot, "manifest.json", manifest)
        yield slot


def drop_slot(machine: Machine, shelf: str, run: str, number: int) -> None:
    """Take away a slot whose item is gone; its manifest goes first, what a crash leaves is swept."""
    name = f"{number:04}"
    folder = join(shelf, run)
    with contextlib.suppress(FileNotFoundError), machine.folder(folder) as fd:
        with machine.folder(join(folder, name)) as slot:
            names = os.listdir(slot)
            if "item" in names:
                raise OSError(39, "the slot still holds its item", join(folder, name))
            for inner in sorted(names, key=lambda n: n != "manifest.json"):
                os.unlink(inner, dir_fd=slot)
        os.rmdir(name, dir_fd=fd)
        os.fsync(fd)


def drop_empty(machine: Machine, shelf: str, run: str, note: Note = lambda *_: None, noted: Mapping[str, int] = _NOTHING) -> None:
    """Remove the run's folder when empty, then the shelf itself; the time of the folder above is restored.

    `note` is told that folder and its time before, so that a crash between the last two calls can be made good;
    `noted`: what was told when the shelf was made, for one that a crash left without its own record."""
    with contextlib.suppress(OSError), machine.folder(shelf) as fd:
        with contextlib.suppress(OSError), machine.folder(join(shelf, run)) as inner:
            for name in os.listdir(inner):
                _drop_remains(inner, name)
        with contextlib.suppress(OSError):
            os.rmdir(run, dir_fd=fd)
        if [n for n in os.listdir(fd) if n not in _OWN_RECORDS]:
            return
        times = durable.read_json(fd, TOP)
        with machine.folder(parent(shelf)) as top:
            if times is None and parent(shelf) in noted:
                times = {"before": noted[parent(shelf)], "after": os.fstat(top).st_mtime_ns}
            ours = bool(times) and os.fstat(top).st_mtime_ns in (times.get("after"), times["before"])
            if ours:
                note(parent(shelf), times["before"])
            for name in _OWN_RECORDS:
                with contextlib.suppress(FileNotFoundError):
                    os.unlink(name, dir_fd=fd)
            os.rmdir(shelf.rsplit("/", 1)[1], dir_fd=top)
            if ours:
                os.utime(top, ns=(os.fstat(top).st_atime_ns, times["before"]))
            os.fsync(top)


def _drop_remains(run: int, name: str) -> None:
    """What a crash left of a slot that was being dropped: neither item nor manifest. OSError where it is not that."""
    with contextlib.suppress(OSError):
        slot = os.open(name, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=run)
        try:
            names = os.listdir(slot)
            if name.isdigit() and not {"item", "manifest.json"} & set(names):
                for inner in names:
                    os.unlink(inner, dir_fd=slot)
        finally:
            os.close(slot)
        os.rmdir(name, dir_fd=run)


def find_shelves(machine: Machine, volumes: list[Volume]) -> list[str]:
    """All shelves of the machine: at volume tops, at mounts, and in homes."""
    places = [join(v.mount, SHELF) for v in volumes]
    for person in read_people(machine):
        places += [join(person.home, SHELF), join(person.home, *_PERSONAL.split("/"))]
    places += [join("/" + n, SHELF) for n in machine.names("/") if n not in ("proc", "sys", "dev")]
    return [p for p in dict.fromkeys(places) if machine.exists(p)]


def slots_on_shelves(machine: Machine, volumes: list[Volume], run: str = "") -> list[Slot]:
    """Everything that waits, by run and number; what a half-finished emptying left is not offered."""
    found = []
    for shelf in find_shelves(machine, volumes):
        for name in machine.names(shelf):
            if name in _OWN_RECORDS or (run and name != run):
                continue
            for number in machine.names(join(shelf, name)):
                if not number.isdigit():
                    continue
                try:
                    with machine.folder(join(shelf, name, number)) as slot:
                        manifest = durable.read_json(slot, "manifest.json")
                        waiting = "item" in os.listdir(slot)
                except OSError:
                    continue
                if manifest is not None:
                    found.append(Slot(shelf, name, int(number), manifest, waiting))
    return sorted(found, key=lambda s: (s.run, s.number))
