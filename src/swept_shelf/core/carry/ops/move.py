"""Data onto another volume: copied, compared, and only then does a link stand in its place, the original on the holding shelf.

What is written from then on is written there: coming back means that what stands there by then comes back, not what was kept."""

from __future__ import annotations

import contextlib
import os
import stat
from typing import Any

from swept_shelf.core.carry import copying
from swept_shelf.core.carry.ask import Ask, may_write, must_be_writable, must_have_shelf
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.checks import check_unchanged, why_not_back
from swept_shelf.core.carry.ops.shelve import not_held, to_slot
from swept_shelf.core.carry.parents import begin_settling, note_after, parent_of, settle_parent
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.work import Work, names_in
from swept_shelf.core.documents.errors import Changed, CouldNotRead, Refused
from swept_shelf.core.documents.operations import MoveData
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import volume_of

STOPS = False
_SLOT = 32 << 10
_ARRIVED, _RETURNING = "arrived.json", "returning.json"


def describe(op: MoveData) -> tuple[str, str]:
    return "Data to another volume, a link in its place", f"{op.path} → {op.to}"


def why_not_mine(op: MoveData, machine: Machine) -> str:
    mine = may_write(machine, parent(op.path)) and may_write(machine, _standing(machine, op.to))
    return "" if mine else op.rights


def room(op: MoveData, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volume_of(volumes, op.path).id: _SLOT, volume_of(volumes, op.to).id: op.bytes}


def _standing(machine: Machine, path: str) -> str:
    """The nearest folder above that is there."""
    above = parent(path)
    while above != "/" and not machine.exists(above):
        above = parent(above)
    return above


def check(op: MoveData, ask: Ask) -> None:
    must_be_writable(ask, parent(op.path))
    ask.bounds.check(op.path)
    must_have_shelf(ask, op.path)
    _must_be_free(ask.machine, op)
    must_be_writable(ask, _standing(ask.machine, op.to))


def _must_be_free(machine: Machine, op: MoveData) -> None:
    """Raises Refused where it cannot go there."""
    status = machine.lstat(op.into)
    if status is None or not stat.S_ISDIR(status.st_mode):
        raise Refused("is not there, or no folder: nothing can be moved to it", op.into)
    if machine.exists(op.to):
        raise Refused("something stands there already", op.to)


def do(op: MoveData, number: int, work: Work) -> dict[str, Any]:
    machine, slot = work.machine, work.earlier(number)
    if slot is not None:
        with opened_shelf(machine, slot.shelf, work.run.id, slot.name) as fd:
            if "item" in names_in(fd):
                _link(machine, op)
                if "after.json" not in names_in(fd):
                    note_after(machine, fd, slot.manifest["parent"], number, work.times)
                return {}
            _sweep_arrived(machine, op.to, read_record(machine, fd, _ARRIVED))
        _unmake(machine, slot.manifest["made"])
        drop_slot(machine, slot.shelf, work.run.id, number)
    work.bounds.check(op.path)
    now = machine.identity(check_unchanged(machine, op.path, op.identity, False))
    _must_be_free(machine, op)
    not_held(machine, op.path)
    shelf = work.shelf(op.path)
    manifest = work.manifest(
        number,
        op,
        path=op.path,
        identity=to_plain(now),
        parent=parent_of(machine, op.path, work.times),
        to=op.to,
        made=_missing(machine, op),
    )
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        try:
            _copy_there(machine, op, fd)
            not_held(machine, op.path)  # whoever opened it meanwhile would write to what is kept
            to_slot(machine, op.path, fd, op.identity)
            _must_be_as_copied(machine, op, fd)
        except (OSError, Changed, CouldNotRead):
            _sweep_arrived(machine, op.to, read_record(machine, fd, _ARRIVED))
            _unmake(machine, manifest["made"])
            raise
        _link(machine, op)
        note_after(machine, fd, manifest["parent"], number, work.times)
    return {}


def _must_be_as_copied(machine: Machine, op: MoveData, slot: int) -> None:
    """Raises Changed, the original in its place again, where somebody wrote to it after it was copied."""
    with machine.folder(parent(op.to)) as there, machine.folder(parent(op.path)) as here:
        if not copying.alike(slot, "item", there, base(op.to), content=False):
            beneath.rename(slot, "item", here, base(op.path))
            raise Changed("was written to while it was copied: it was left", op.path)


def _missing(machine: Machine, op: MoveData) -> list[str]:
    """Folders that are made on the way, outermost first."""
    found = []
    above = parent(op.to)
    while above != op.into and not machine.exists(above):
        found.append(above)
        above = parent(above)
    return found[::-1]


def _copy_there(machine: Machine, op: MoveData, slot: int) -> None:
    """Copied beside its name, compared, named. What failed leaves nothing there. Raises Changed, OSError."""
    for path in _missing(machine, op):
        source = machine.lstat(path[len(op.into.rstrip("/")) :])
        with machine.folder(parent(path)) as above:
            os.mkdir(base(path), 0o700, dir_fd=above)
            if source is not None:
                if os.geteuid() == 0:
                    os.chown(base(path), source.st_uid, source.st_gid, dir_fd=above, follow_symlinks=False)
                os.chmod(base(path), stat.S_IMODE(source.st_mode), dir_fd=above)
    part = beneath.beside_name(base(op.to))
    with machine.folder(parent(op.path)) as here, machine.folder(parent(op.to)) as there:
        write_record(machine, slot, _ARRIVED, {"part": part, "inode": 0})
        try:
            copying.copy(here, base(op.path), there, part)
            copying.compare(here, base(op.path), there, part)
        except (OSError, Changed):
            _sweep(there, part)
            raise
        inode = os.stat(part, dir_fd=there, follow_symlinks=False).st_ino
        write_record(machine, slot, _ARRIVED, {"part": part, "inode": inode})
        beneath.rename(there, part, there, base(op.to))
        os.fsync(there)


def _sweep(folder: int, name: str) -> None:
    with contextlib.suppress(FileNotFoundError):
        remove_tree(folder, name)


def _sweep_arrived(machine: Machine, to: str, arrived: Any) -> None:
    """What a try that was cut off left there: a part, or a whole copy that nothing leads to."""
    if not isinstance(arrived, dict):
        return
    with contextlib.suppress(FileNotFoundError), machine.folder(parent(to)) as there:
        _sweep(there, arrived["part"])
        with contextlib.suppress(FileNotFoundError):
            if os.stat(base(to), dir_fd=there, follow_symlinks=False).st_ino == arrived["inode"]:
                remove_tree(there, base(to))


def _unmake(machine: Machine, made: list[str]) -> None:
    for path in reversed(made):
        with contextlib.suppress(OSError), machine.folder(parent(path)) as above:
            os.rmdir(base(path), dir_fd=above)


def _link(machine: Machine, op: MoveData) -> None:
    """Raises Changed where another thing stands there by now."""
    with machine.folder(parent(op.path)) as folder:
        try:
            os.symlink(op.to, base(op.path), dir_fd=folder)
        except FileExistsError:
            if machine.readlink(op.path) != op.to:
                raise Changed("another thing stands there by now", op.path) from None
        else:
            if os.geteuid() == 0:
                uid, gid = op.identity.uid, op.identity.gid
                os.chown(
                    base(op.path),
                    -1 if uid is None else uid,
                    -1 if gid is None else gid,
                    dir_fd=folder,
                    follow_symlinks=False,
                )
        os.fsync(folder)


# -- back -------------------------------------------------------------------------------------------------------


def undo(slot: Slot, back: Back) -> str:
    """What stands there by now comes back to its place. Returns "" or why it stays. Raises OSError, Changed."""
    machine, kept = back.machine, slot.manifest
    path, to, above = kept["path"], kept["to"], kept["parent"]
    if not slot.waiting and _nothing_moved(machine, slot):
        return ""
    if why := why_not_back(machine, slot, back.bounds):
        return why
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        begin_settling(machine, fd, above, back.times)
        noted = read_record(machine, fd, _RETURNING)
        with machine.folder(parent(path)) as folder:
            if not _is_returned(folder, base(path), noted):
                if why := _why_not(machine, path, to, bool(slot.waiting)):
                    return why
                if isinstance(noted, dict):
                    _sweep(folder, noted["part"])
                _return(machine, fd, folder, path, to)
                os.fsync(folder)
        with contextlib.suppress(FileNotFoundError), machine.folder(parent(to)) as there:
            _sweep(there, base(to))
        _unmake(machine, kept["made"])
        for rest in ("item", "again"):
            _sweep(fd, rest)
        os.fsync(fd)
    settle_parent(machine, slot, back.times)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _nothing_moved(machine: Machine, slot: Slot) -> bool:
    """Whether it was cut off before anything was taken: what was copied goes."""
    kept = slot.manifest
    now = machine.lstat(kept["path"])
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        if (
            now is None
            or now.st_ino != kept["identity"]["inode"]
            or read_record(machine, fd, _RETURNING) is not None
        ):
            return False
        _sweep_arrived(machine, kept["to"], read_record(machine, fd, _ARRIVED))
    _unmake(machine, kept["made"])
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return True


def _is_returned(folder: int, name: str, noted: Any) -> bool:
    with contextlib.suppress(FileNotFoundError):
        return (
            isinstance(noted, dict)
            and os.stat(name, dir_fd=folder, follow_symlinks=False).st_ino == noted["inode"]
        )
    return False


def _why_not(machine: Machine, path: str, to: str, waiting: bool) -> str:
    now = machine.lstat(path)
    if now is not None and machine.readlink(path) != to:
        return "something newer stands there; it was not overwritten"
    status = machine.lstat(to)
    if status is None or not stat.S_ISDIR(status.st_mode):
        return f"its data stands at {to}, which is not there now: mount the volume that it lies on, and put back again"
    return "" if waiting or now is not None else "nothing leads to it any more"


def _return(machine: Machine, slot: int, folder: int, path: str, to: str) -> None:
    """Unchanged since: the very original again. Else a copy of what stands there, compared. Never both at once."""
    name = base(path)
    with machine.folder(parent(to)) as there:
        if "item" in names_in(slot) and copying.alike(slot, "item", there, base(to)):
            inode = os.stat("item", dir_fd=slot, follow_symlinks=False).st_ino
            write_record(machine, slot, _RETURNING, {"part": "item", "inode": inode})
            _into_place(machine, slot, "item", folder, name, path)
            return
        part = beneath.beside_name(name)
        write_record(machine, slot, _RETURNING, {"part": part, "inode": 0})
        try:
            copying.copy(there, base(to), folder, part)
            copying.compare(there, base(to), folder, part)
        except (OSError, Changed):
            _sweep(folder, part)
            raise
        inode = os.stat(part, dir_fd=folder, follow_symlinks=False).st_ino
        write_record(machine, slot, _RETURNING, {"part": part, "inode": inode})
        _into_place(machine, folder, part, folder, name, path)


def _into_place(machine: Machine, source: int, part: str, folder: int, name: str, path: str) -> None:
    """In one step for the link, where it still stands."""
    if machine.lstat(path) is None:
        beneath.rename(source, part, folder, name)
        return
    beneath.rename(source, part, folder, name, beneath.EXCHANGE)
    if not stat.S_ISLNK(os.stat(part, dir_fd=source, follow_symlinks=False).st_mode):
        beneath.rename(source, part, folder, name, beneath.EXCHANGE)
        raise Changed(
            "was swapped for another thing at the last moment; it was left", join(parent(path), name)
        )
    os.unlink(part, dir_fd=source)
