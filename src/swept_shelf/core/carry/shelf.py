"""The holding shelf: `.swept-shelf/RUN/NNNN/{manifest.json,item}` at the top of each volume.

Its manifests alone are enough to put everything back. It is made when first needed and disappears when empty;
the top folder's modification time is then as it was.

A shelf counts only if it and every folder of it are the carrier's own (mode 0700) and reached without a link; what stands
on it is obeyed only where its manifest carries the carrier's seal (records.py)."""

from __future__ import annotations

import contextlib
import os
import stat
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from swept_shelf.core.carry.records import (
    MANIFEST,
    read_record,
    record_and_seal,
    why_no_manifest,
    write_record,
)
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.paths import base, is_clean, join, parent
from swept_shelf.core.documents.survey import Person, Volume
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import mount_points

_PERSONAL = ".local/share/swept-shelf/shelf"
EMPTYING = "emptying-"
ORIGINALS = "originals"
TOP = "top.json"
_OWN_RECORDS = (TOP, f".{TOP}.part")
_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC
Note = Callable[[str, int], None]
_NOTHING: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Slot:
    """One thing on a shelf. `waiting`: its item is really there; `sealed`: its manifest is ours; `emptying`: the rest of
    an emptying that was cut off, of which nothing can be put back."""

    shelf: str
    run: str
    number: int
    manifest: dict[str, Any]
    waiting: bool
    sealed: bool = True
    emptying: bool = False

    @property
    def path(self) -> str:
        return join(self.shelf, self.run, self.name)

    @property
    def name(self) -> str:
        return f"{EMPTYING if self.emptying else ''}{self.number:04}"


# -- whose it is ----------------------------------------------------------------------------------------------


def is_ours(fd: int) -> bool:
    """A real folder of the carrier's own, closed to everybody else."""
    status = os.fstat(fd)
    return stat.S_ISDIR(status.st_mode) and status.st_uid == os.geteuid() and not status.st_mode & 0o077


@contextlib.contextmanager
def opened_shelf(machine: Machine, shelf: str, *names: str) -> Iterator[int]:
    """A folder of a shelf, as a descriptor: no link on the way, each one ours. Raises OSError, PermissionError for another's."""
    with machine.folder(shelf) as fd, contextlib.ExitStack() as kept:
        _must_be_ours(fd, shelf)
        for name in names:
            if not name or "/" in name or name.startswith("."):
                raise OSError(22, "is no name of a folder on a shelf", name)
            fd = os.open(name, _FOLDER, dir_fd=fd)
            kept.callback(os.close, fd)
            _must_be_ours(fd, join(shelf, *names))
        yield fd


def _must_be_ours(fd: int, path: str) -> None:
    if not is_ours(fd):
        raise PermissionError(1, "is not a holding shelf of this carrier’s own", path)


def shelf_for(machine: Machine, path: str, volumes: list[Volume]) -> str:
    """The shelf within which a rename from `path` works: at the top of its mount or volume, else the person's.

    Raises OSError when neither can be written, or another's folder stands in the place of both."""
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
            if (
                beneath.mount_id(fd) == here
                and os.access(f"/proc/self/fd/{fd}", os.W_OK)
                and _free_or_ours(machine, fallback)
            ):
                return fallback
    taken = machine.exists(shelf) and not _free_or_ours(machine, shelf)
    raise OSError(
        13,
        "a folder of another stands where the holding shelf should"
        if taken
        else "no holding shelf can be made on its volume",
        shelf,
    )


def _callers(machine: Machine) -> list[Person]:
    return [p for p in read_people(machine) if p.uid == os.geteuid()]


def _free_or_ours(machine: Machine, shelf: str) -> bool:
    try:
        with machine.folder(shelf) as fd:
            return is_ours(fd)
    except FileNotFoundError:
        return True
    except OSError:
        return False


def _can_write(machine: Machine, top: str, shelf: str) -> bool:
    try:
        with machine.folder(shelf if machine.exists(shelf) else top) as fd:
            return os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK) and (
                not machine.exists(shelf) or is_ours(fd)
            )
    except OSError:
        return False


# -- making and taking away -----------------------------------------------------------------------------------


def make_folder(
    machine: Machine, shelf: str, note: Note = lambda *_: None, noted: Mapping[str, int] = _NOTHING
) -> None:
    """Make a shelf (and what leads to it), remembering the time of the folder above it. Raises OSError.

    `note` hears that folder and its time before anything is made; `noted` is what it heard before a crash, for a
    shelf that the crash left without its own record."""
    above = parent(shelf)
    is_shelf = shelf.endswith(("/" + SHELF, "/swept-shelf/shelf"))
    if machine.exists(shelf):
        if is_shelf:
            with machine.folder(above) as top, opened_shelf(machine, shelf) as fd:
                if above in noted and read_record(machine, fd, TOP) is None:
                    write_record(
                        machine, fd, TOP, {"before": noted[above], "after": os.fstat(top).st_mtime_ns}
                    )
        return
    if not machine.exists(above):
        make_folder(machine, above)
    with machine.folder(above) as top:
        before = os.fstat(top).st_mtime_ns
        if is_shelf:
            note(above, before)
        os.mkdir(base(shelf), 0o700, dir_fd=top)
        os.fsync(top)
        if is_shelf:
            with opened_shelf(machine, shelf) as fd:
                write_record(machine, fd, TOP, {"before": before, "after": os.fstat(top).st_mtime_ns})


@contextlib.contextmanager
def new_slot(machine: Machine, shelf: str, run: str, number: int, manifest: dict[str, Any]) -> Iterator[int]:
    """A slot of a shelf that is there, with its manifest on the disk, as a descriptor. An empty one left by a crash is used again."""
    if wrong := why_no_manifest(manifest, run, number):
        raise Refused(f"a manifest {wrong}")
    name = f"{number:04}"
    with contextlib.suppress(FileExistsError), opened_shelf(machine, shelf) as fd:
        os.mkdir(run, 0o700, dir_fd=fd)
        os.fsync(fd)
    with opened_shelf(machine, shelf, run) as fd, contextlib.suppress(FileExistsError):
        os.mkdir(name, 0o700, dir_fd=fd)
        os.fsync(fd)
    with opened_shelf(machine, shelf, run, name) as slot:
        write_record(machine, slot, MANIFEST, manifest)
        yield slot


def drop_slot(machine: Machine, shelf: str, run: str, number: int) -> None:
    """Take away a slot whose item is gone; its manifest goes first. Raises OSError where that stays; what else a crash, or
    an error, leaves is swept."""
    name = f"{number:04}"
    with contextlib.suppress(FileNotFoundError), opened_shelf(machine, shelf, run) as fd:
        with opened_shelf(machine, shelf, run, name) as slot:
            names = os.listdir(slot)
            if "item" in names:
                raise OSError(39, "the slot still holds its item", join(shelf, run, name))
            if MANIFEST in names:
                os.unlink(MANIFEST, dir_fd=slot)
            with contextlib.suppress(OSError):
                for inner in names:
                    if inner != MANIFEST:
                        remove_tree(slot, inner)
        with contextlib.suppress(OSError):
            os.rmdir(name, dir_fd=fd)
        os.fsync(fd)


def drop_empty(
    machine: Machine, shelf: str, run: str, note: Note = lambda *_: None, noted: Mapping[str, int] = _NOTHING
) -> None:
    """Remove the run's folder when empty, then the shelf itself; the time of the folder above is restored.

    `note` is told that folder and its time before, so that a crash between the last two calls can be made good;
    `noted`: what was told when the shelf was made, for one that a crash left without its own record."""
    with contextlib.suppress(OSError), opened_shelf(machine, shelf) as fd:
        with contextlib.suppress(OSError), opened_shelf(machine, shelf, run) as inner:
            for name in os.listdir(inner):
                _drop_remains(inner, name)
        with contextlib.suppress(OSError):
            os.rmdir(run, dir_fd=fd)
        if [n for n in os.listdir(fd) if n not in _OWN_RECORDS]:
            return
        times = read_record(machine, fd, TOP)
        with machine.folder(parent(shelf)) as top:
            if times is None and parent(shelf) in noted:
                times = {"before": noted[parent(shelf)], "after": os.fstat(top).st_mtime_ns}
            ours = bool(times) and os.fstat(top).st_mtime_ns in (times.get("after"), times["before"])
            if ours:
                note(parent(shelf), times["before"])
            for name in _OWN_RECORDS:
                with contextlib.suppress(FileNotFoundError):
                    os.unlink(name, dir_fd=fd)
            os.rmdir(base(shelf), dir_fd=top)
            if ours:
                os.utime(top, ns=(os.fstat(top).st_atime_ns, times["before"]))
            os.fsync(top)


def _drop_remains(run: int, name: str) -> None:
    """What a crash left of a slot that was being dropped: neither item nor manifest. OSError where it is not that."""
    with contextlib.suppress(OSError):
        slot = os.open(name, _FOLDER, dir_fd=run)
        try:
            names = os.listdir(slot)
            if name.isdigit() and not {"item", MANIFEST} & set(names):
                for inner in names:
                    remove_tree(slot, inner)
        finally:
            os.close(slot)
        os.rmdir(name, dir_fd=run)


# -- what stands there ----------------------------------------------------------------------------------------


def _places(machine: Machine, volumes: list[Volume], tops: Iterable[str]) -> list[str]:
    """Where a shelf can be: at the top of every mount, in homes, beside the root's folders, and where journals noted one."""
    places = [join(v.mount, SHELF) for v in volumes] + [join(m, SHELF) for m in mount_points(machine)]
    for person in read_people(machine):
        places += [join(person.home, SHELF), join(person.home, *_PERSONAL.split("/"))]
    places += [join("/" + n, SHELF) for n in machine.names("/") if n not in ("proc", "sys", "dev")]
    places += [join(t, name) for t in tops if is_clean(t) for name in (SHELF, "shelf")]
    return [p for p in dict.fromkeys(places) if machine.exists(p)]


def find_shelves(machine: Machine, volumes: list[Volume], tops: Iterable[str] = ()) -> list[str]:
    """All shelves of this carrier, each once however many mounts show it; `tops`: folders above a shelf that a journal noted."""
    found: dict[tuple[int, int], str] = {}
    for place in _places(machine, volumes, tops):
        with contextlib.suppress(OSError), machine.folder(place) as fd:
            if is_ours(fd):
                status = os.fstat(fd)
                found.setdefault((status.st_dev, status.st_ino), place)
    return list(found.values())


def others_shelves(machine: Machine, volumes: list[Volume]) -> list[str]:
    """What is called like a shelf and is none of this carrier's: nothing on it is heeded."""
    return [p for p in _places(machine, volumes, ()) if not _is_shelf(machine, p)]


def _is_shelf(machine: Machine, path: str) -> bool:
    try:
        with machine.folder(path) as fd:
            return is_ours(fd)
    except OSError:
        return False


def slots_on_shelves(
    machine: Machine, volumes: list[Volume], run: str = "", tops: Iterable[str] = ()
) -> list[Slot]:
    """Everything that waits, by run and number, those of an emptying that was cut off among it; unsealed ones too."""
    found = []
    for shelf in find_shelves(machine, volumes, tops):
        for name in machine.names(shelf):
            if name in _OWN_RECORDS or (run and name != run):
                continue
            for number in machine.names(join(shelf, name)):
                with contextlib.suppress(OSError):
                    if slot := _slot(machine, shelf, name, number):
                        found.append(slot)
    return sorted(found, key=lambda s: (s.run, s.number))


def _slot(machine: Machine, shelf: str, run: str, name: str) -> Slot | None:
    digits = name.removeprefix(EMPTYING)
    if not (digits.isascii() and digits.isdigit() and len(digits) < 10):
        return None
    with opened_shelf(machine, shelf, run, name) as fd:
        manifest, ours = record_and_seal(machine, fd, MANIFEST)
        if why_no_manifest(manifest, run, int(digits)):
            return None
        kept = (
            "item" in os.listdir(fd) or manifest["do"] == "uninstall"
        )  # that is in its registry's store, or beside it
        return Slot(shelf, run, int(digits), manifest, kept, ours, name != digits)
