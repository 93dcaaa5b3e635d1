"""What must hold before a path is taken, and before it comes back: asked through its parent's descriptor."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass

from swept_shelf.core.belongings.common import normal
from swept_shelf.core.belongings.made_by_people import TYPES
from swept_shelf.core.carry.records import read_record
from swept_shelf.core.carry.shelf import Slot, opened_shelf
from swept_shelf.core.documents.errors import Changed, Gone, PersonalChanged
from swept_shelf.core.documents.operations import Shelve
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.volumes import mount_points
from swept_shelf.core.tree.index import Index, Row


@dataclass(frozen=True, slots=True)
class Bounds:
    """What no operation may take: homes with their standard folders, mounts and the protected places."""

    homes: list[str]
    mounts: list[str]

    def check(self, path: str, edited: bool = False) -> None:
        """Raises Changed, whatever an order says."""
        if why := why_never(path, self.homes, self.mounts, edited):
            raise Changed(f"{why}: it is never taken", path)


def bounds_of(machine: Machine) -> Bounds:
    return Bounds([p.home for p in read_people(machine)], mount_points(machine))


def check_unchanged(machine: Machine, path: str, identity: Identity, exactly: bool) -> os.stat_result:
    """The path's status when it is still what was surveyed. Raises Gone, Changed, or OSError when out of reach."""
    try:
        with machine.folder(parent(path)) as folder:
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
    except FileNotFoundError:
        raise Gone("was gone already", path) from None
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
    out or a mount. Returns how many paths are new. Raises Changed, PersonalChanged."""
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
    known: Mapping[str, Row],
    others: frozenset[str],
) -> int:
    new = 0
    for name in names:
        inside = join(path, name)
        status = os.stat(name, dir_fd=fd, follow_symlinks=False)
        kind = type_of(status.st_mode)
        row = known.get(inside)
        same = row is not None and row.identity.inode == status.st_ino and row.identity.type == kind
        written = kind == "file" and row is not None and row.identity.mtime_ns != status.st_mtime_ns
        if op.exactly and (not same or written):
            raise PersonalChanged("is new or changed since it was surveyed", inside)
        if not same:
            new += 1
            if kind == "file" and base(inside).rpartition(".")[2].lower() in TYPES and "." in name.strip("."):
                raise PersonalChanged("is new and may be a person’s own work", inside)
            if kind == "link" and not (machine.resolve(inside) or "/").startswith(op.path + "/"):
                raise Changed("is a new link that leads elsewhere", inside)
            if normal(name) in others:
                raise Changed("is new and called like another application", inside)
    return new


def why_not_back(machine: Machine, slot: Slot, bounds: Bounds) -> str:
    """Why what waits may not stand at its path again, by the same rules as an order; "" where it may.

    It must still be what was put on the shelf: no other file, owner or right than its manifest says."""
    path, kept = slot.manifest["path"], slot.manifest["identity"]
    if slot.manifest["parent"].get("path") != parent(path):
        return "its manifest names two places"
    if why := why_never(path, bounds.homes, bounds.mounts, slot.manifest["do"] == "edit_lines"):
        return f"{why}: it was left on the shelf"
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        if (
            not slot.waiting or read_record(machine, fd, "settling.json") is not None
        ):  # gone, or exchanged already
            return ""
        now = machine.identity(os.stat("item", dir_fd=fd, follow_symlinks=False))
    copied = slot.manifest.get("copied", False)
    for name, word in (("type", "type"), ("inode", "file"), ("uid", "owner"), ("gid", "group")):
        before = kept.get(name)
        if name == "inode" and copied:
            continue
        if before is not None and getattr(now, name) is not None and getattr(now, name) != before:
            return f"is of another {word} than was put on the shelf: it was left there"
    if now.mode & ~kept.get("mode", 0):
        return "gives more rights than when it was put on the shelf: it was left there"
    return ""
