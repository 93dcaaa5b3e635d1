"""The folder that a path is taken from: its time and attributes before, its time as our own work left it, and both again."""

from __future__ import annotations

import os
import stat
from typing import Any

from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import Slot, opened_shelf
from swept_shelf.core.carry.times import FolderTimes
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.attributes import attributes
from swept_shelf.core.machine.machine import Machine


def parent_of(machine: Machine, path: str, times: FolderTimes) -> dict[str, Any]:
    """What a manifest keeps of the folder a thing is taken from."""
    above = parent(path)
    status = machine.lstat(above)
    if status is None:
        raise FileNotFoundError(2, "is not there any more", above)
    before = times.before(above, status.st_mtime_ns)
    return {"path": above, "before": before, "attributes": attributes(machine, above, status)}


def note_after(machine: Machine, slot: int, above: dict[str, Any], number: int, times: FolderTimes) -> None:
    """The folder's modification time as our own move left it, so that put back can tell who came later."""
    status = machine.lstat(above["path"])
    after = {above["path"]: status.st_mtime_ns if status else None}
    write_record(machine, slot, "after.json", {"folders": after})
    times.note(number, {above["path"]: above["before"]}, after)


def begin_settling(
    machine: Machine, slot: int, above: dict[str, Any], times: FolderTimes, made: bool = False, **more: Any
) -> None:
    """Decide, and write down, whether the folder's time is ours to restore: nobody wrote there after us, or we `made` it."""
    decided = read_record(machine, slot, "settling.json")
    if decided is None or more:
        after = read_record(machine, slot, "after.json")
        status = machine.lstat(above["path"])
        ours = (
            made or after is None or (status is not None and times.is_ours(above["path"], status.st_mtime_ns))
        )
        restore = decided["restore"] if decided else ours
        write_record(machine, slot, "settling.json", {"restore": restore, **more})


def settle_parent(machine: Machine, slot: Slot, times: FolderTimes) -> None:
    """Give the folder its time again where that is ours to do."""
    above = slot.manifest["parent"]
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        decided = read_record(machine, fd, "settling.json")
    if decided and decided["restore"]:
        set_mtime(machine, above["path"], times.returned(slot.number, above["path"], above["before"]))


def set_mtime(machine: Machine, folder: str, mtime_ns: int) -> None:
    """Raises nothing: a folder that went meanwhile, or is another's, keeps its time."""
    try:
        with machine.folder(folder) as fd:
            os.utime(fd, ns=(os.fstat(fd).st_atime_ns, mtime_ns))
    except OSError:
        pass


def make_again(machine: Machine, above: dict[str, Any]) -> None:
    """Make a folder that went meanwhile, with its owner and mode; the one it stands in keeps its time."""
    path, kept = above["path"], above["attributes"]
    with machine.folder(parent(path)) as fd:
        standing = os.fstat(fd)
        os.mkdir(base(path), kept["mode"], dir_fd=fd)
        os.chmod(base(path), kept["mode"], dir_fd=fd)
        status = os.stat(base(path), dir_fd=fd, follow_symlinks=False)
        if stat.S_ISDIR(status.st_mode) and (status.st_uid, status.st_gid) != (kept["uid"], kept["gid"]):
            os.chown(base(path), kept["uid"], kept["gid"], dir_fd=fd, follow_symlinks=False)
        os.utime(fd, ns=(standing.st_atime_ns, standing.st_mtime_ns))
