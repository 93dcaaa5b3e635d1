"""Moving one path onto the shelf and back: checks through the parent's descriptor, rename without replacing."""

from __future__ import annotations

import os
import stat
from typing import Any

from swept_shelf.core.belongings.common import normal
from swept_shelf.core.belongings.personal import TYPES
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import Slot, drop_slot, opened_shelf
from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.operations import Shelve
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.volumes import mount_points
from swept_shelf.core.registries.debian.original import attributes
from swept_shelf.core.tree.index import Index, Row


def check_unchanged(machine: Machine, path: str, identity: Identity, exactly: bool) -> os.stat_result:
    """The path's status when it is still what was surveyed. Raises Changed, or OSError when out of reach."""
    try:
        with machine.folder(parent(path)) as folder:
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
    except FileNotFoundError:
        raise Changed("is not there any more", path) from None
    now = machine.identity(status)
    for name, word in (
        ("file_system", "volume"),
        ("inode", "file"),
        ("type", "type"),
        ("uid", "owner"),
        ("gid", "group"),
    ):
        before = getattr(identity, name)
        if before is not None and getattr(now, name) != before:
            raise Changed(f"is another {word} than was surveyed", path)
    if exactly and now.type != "folder" and (now.size, now.mtime_ns) != (identity.size, identity.mtime_ns):
        raise Changed("was written to since it was surveyed", path)
    return status


def check_inside(machine: Machine, op: Shelve, index: Index, other_names: frozenset[str]) -> int:
    """What is new or changed below a folder may go along only if nothing in it is personal, another's, a link
    out or a mount. Returns how many paths are new. Raises Changed."""
    known = index.below(op.path)
    new = 0
    with machine.folder(op.path) as top:
        place = beneath.mount_id(top), os.fstat(top).st_dev
        for path, fd, names in folders_below(top):
            whole = join(op.path, path) if path else op.path
            if (beneath.mount_id(fd), os.fstat(fd).st_dev) != place:
                raise Changed("something is mounted there", whole)
            new += _check_folder(machine, fd, names, op, whole, known, other_names)
    return new


def _check_folder(
    machine: Machine,
    fd: int,
    names: list[str],
    op: Shelve,
    path: str,
    known: dict[str, Row],
    others: frozenset[str],
) -> int:
    new = 0
    for name in names:
        inside = join(path, name)
        status = os.stat(name, dir_fd=fd, follow_symlinks=False)
        kind = type_of(status.st_mode)
        row = known.get(inside)
        same = row is not None and row.identity.inode == status.st_ino and row.identity.type == kind
        if op.exactly and (
            not same or (kind == "file" and row and row.identity.mtime_ns != status.st_mtime_ns)
        ):
            raise Changed("is new or changed since it was surveyed", inside)
        if not same:
            new += 1
            if kind == "file" and base(inside).rpartition(".")[2].lower() in TYPES and "." in name.strip("."):
                raise Changed("is new and may be a person’s own work", inside)
            if kind == "link" and not (machine.resolve(inside) or "/").startswith(op.path + "/"):
                raise Changed("is a new link that leads elsewhere", inside)
            if normal(name) in others:
                raise Changed("is new and called like another application", inside)
    return new


def parent_times(machine: Machine, path: str) -> dict[str, Any]:
    """What a manifest keeps of the folder a thing is taken from."""
    above = parent(path)
    status = machine.lstat(above)
    assert status is not None
    return {"path": above, "before": status.st_mtime_ns, "attributes": attributes(machine, above, status)}


def move_to_slot(machine: Machine, path: str, slot: int, identity: Identity) -> None:
    """Rename onto the shelf and check what arrived; another thing goes back at once. Raises Changed, OSError."""
    with machine.folder(parent(path)) as folder:
        beneath.rename(folder, base(path), slot, "item")
        arrived = os.stat("item", dir_fd=slot, follow_symlinks=False)
        now = machine.identity(arrived)
        if any(getattr(identity, n) not in (None, getattr(now, n)) for n in ("inode", "type", "uid", "gid")):
            beneath.rename(slot, "item", folder, base(path))
            raise Changed("was swapped for another thing at the last moment; it was left", path)
        os.fsync(slot)
        os.fsync(folder)
        note_after(machine, slot, parent(path))


def note_after(machine: Machine, slot: int, folder: str) -> None:
    """The folder's modification time as our own move left it, so that put back can tell who came later."""
    status = machine.lstat(folder)
    write_record(machine, slot, "after.json", {"mtime_ns": status.st_mtime_ns if status else None})


def put_path_back(machine: Machine, slot: Slot) -> str:
    """Rename an item to where it was. Returns "" or why it stays on the shelf. Raises OSError."""
    path, above = slot.manifest["path"], slot.manifest["parent"]
    if why := why_not_back(machine, slot):
        return why
    if not slot.waiting:
        _settle_parent(machine, slot, above)
        drop_slot(machine, slot.shelf, slot.run, slot.number)
        return ""
    if machine.exists(path):
        if not _put_over_its_like(machine, slot, path):
            return "something newer stands there; it was not overwritten"
        _settle_parent(machine, slot, above)
        drop_slot(machine, slot.shelf, slot.run, slot.number)
        return ""
    if not machine.exists(above["path"]):
        _make_again(machine, above)
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        begin_settling(machine, fd, above)
        with machine.folder(parent(path)) as folder:
            beneath.rename(fd, "item", folder, base(path))
            os.fsync(folder)
        os.fsync(fd)
    _settle_parent(machine, slot, above)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def why_not_back(machine: Machine, slot: Slot) -> str:
    """Why what waits may not stand at its path again, by the same rules as an order; "" where it may.

    It must still be what was put on the shelf: no other file, owner or right than its manifest says."""
    path, kept = slot.manifest["path"], slot.manifest["identity"]
    if slot.manifest["parent"].get("path") != parent(path):
        return "its manifest names two places"
    if why := why_never(path, [p.home for p in read_people(machine)], mount_points(machine)):
        return f"{why}: it was left on the shelf"
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        if (
            not slot.waiting or read_record(machine, fd, "settling.json") is not None
        ):  # gone, or exchanged already
            return ""
        now = machine.identity(os.stat("item", dir_fd=fd, follow_symlinks=False))
    for name, word in (("type", "type"), ("inode", "file"), ("uid", "owner"), ("gid", "group")):
        before = kept.get(name)
        if before is not None and getattr(now, name) is not None and getattr(now, name) != before:
            return f"is of another {word} than was put on the shelf: it was left there"
    return (
        "gives more rights than when it was put on the shelf: it was left there"
        if now.mode & ~kept.get("mode", 0)
        else ""
    )


def _put_over_its_like(machine: Machine, slot: Slot, path: str) -> bool:
    """Exchange the item for what stands at its path when both hold the same bytes, or lead to the same place:
    what package scripts make anew while their package is put back. True when done."""
    item = join(slot.path, "item")
    now, kept = machine.lstat(path), machine.lstat(item)
    if now is None or kept is None or type_of(now.st_mode) != type_of(kept.st_mode):
        return False
    if type_of(now.st_mode) == "link":
        same = machine.readlink(path) == machine.readlink(item)
    else:
        same = (
            type_of(now.st_mode) == "file"
            and now.st_size == kept.st_size
            and machine.read_bytes(path) == machine.read_bytes(item)
        )
    if not same:
        return False
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd, machine.folder(parent(path)) as folder:
        write_record(machine, fd, "settling.json", {"restore": True})
        beneath.rename(fd, "item", folder, base(path), beneath.EXCHANGE)
        os.fsync(folder)
        os.unlink("item", dir_fd=fd)
        os.fsync(fd)
    return True


def begin_settling(machine: Machine, slot: int, above: dict[str, Any]) -> None:
    """Decide, and write down, whether the folder's time is ours to restore: nobody wrote there after us."""
    if read_record(machine, slot, "settling.json") is None:
        after = read_record(machine, slot, "after.json")
        status = machine.lstat(above["path"])
        ours = after is None or (status is not None and status.st_mtime_ns == after["mtime_ns"])
        write_record(machine, slot, "settling.json", {"restore": ours})


def _settle_parent(machine: Machine, slot: Slot, above: dict[str, Any]) -> None:
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        decided = read_record(machine, fd, "settling.json")
    if decided and decided["restore"]:
        set_mtime(machine, above["path"], above["before"])


def set_mtime(machine: Machine, folder: str, mtime_ns: int) -> None:
    """Raises nothing: a folder that went meanwhile, or is another's, keeps its time."""
    try:
        with machine.folder(folder) as fd:
            os.utime(fd, ns=(os.fstat(fd).st_atime_ns, mtime_ns))
    except OSError:
        pass


def _make_again(machine: Machine, above: dict[str, Any]) -> None:
    """Make a folder that went meanwhile, with its owner and mode."""
    path, kept = above["path"], above["attributes"]
    with machine.folder(parent(path)) as fd:
        os.mkdir(base(path), kept["mode"], dir_fd=fd)
        os.chmod(base(path), kept["mode"], dir_fd=fd)
        status = os.stat(base(path), dir_fd=fd, follow_symlinks=False)
        if stat.S_ISDIR(status.st_mode) and (status.st_uid, status.st_gid) != (kept["uid"], kept["gid"]):
            os.chown(base(path), kept["uid"], kept["gid"], dir_fd=fd, follow_symlinks=False)
