"""Editing a file that points at an application: only those lines, written beside, exchanged, the old one kept."""

from __future__ import annotations

import hashlib
import os
import stat
from typing import Any

from swept_shelf.core.carry.moves import begin_settling, note_after, set_mtime, why_not_back
from swept_shelf.core.carry.records import read_record
from swept_shelf.core.carry.shelf import Slot, drop_slot, opened_shelf
from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.operations import EditLines
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import MOST, Machine
from swept_shelf.core.references.lines import apply_edits


def digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def new_content(machine: Machine, op: EditLines, ours: frozenset[str]) -> tuple[bytes, bytes]:
    """(old, new) content. The file must hold what was surveyed, or what an earlier edit of this run left (`ours`).

    Raises Changed."""
    old = machine.read_bytes(op.path)
    if digest(old) != op.sha256 and digest(old) not in ours:
        raise Changed("was written to since it was surveyed", op.path)
    text = apply_edits(os.fsdecode(old), op.edits)
    if text is None:
        raise Changed("does not hold the lines that were surveyed", op.path)
    return old, os.fsencode(text)


def edit_to_slot(machine: Machine, op: EditLines, slot: int, old: bytes, new: bytes, part: str) -> None:
    """Write the new file beside, as `part`, exchange the two, move the old one to the shelf. Raises Changed, OSError.

    Owner and mode come from the very file whose content is `old`, and must be those that were surveyed: its person may put
    another one in its place at any moment."""
    name = base(op.path)
    with machine.folder(parent(op.path)) as folder:
        kept = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
        try:
            before = os.fstat(kept)
            now = machine.identity(before)
            surveyed = all(
                getattr(op.identity, n) in (None, getattr(now, n)) for n in ("type", "uid", "gid", "mode")
            )
            if not surveyed or os.pread(kept, MOST, 0) != old:
                raise Changed("was exchanged for another file at the last moment; it was left", op.path)
            ours = _write_alike(folder, kept, part, new)
        finally:
            os.close(kept)
        beneath.rename(folder, part, folder, name, beneath.EXCHANGE)
        swapped, written = (os.stat(n, dir_fd=folder, follow_symlinks=False) for n in (part, name))
        if (swapped.st_ino, swapped.st_mtime_ns, written.st_ino) != (before.st_ino, before.st_mtime_ns, ours):
            beneath.rename(folder, part, folder, name, beneath.EXCHANGE)
            if os.stat(part, dir_fd=folder, follow_symlinks=False).st_ino == ours:
                os.unlink(part, dir_fd=folder)
            raise Changed("was written to at the last moment; it was left", op.path)
        os.fsync(folder)
        beneath.rename(folder, part, slot, "item")
        arrived = os.stat("item", dir_fd=slot, follow_symlinks=False)
        if (arrived.st_ino, arrived.st_mtime_ns) != (
            before.st_ino,
            before.st_mtime_ns,
        ):  # a number alone may be given anew
            beneath.rename(slot, "item", folder, part)
            raise Changed("was swapped for another file at the last moment", op.path)
        os.fsync(slot)
        os.fsync(folder)
    note_after(machine, slot, parent(op.path))


def finish_edit(machine: Machine, path: str, slot: int, manifest: dict[str, Any]) -> bool:
    """After a crash: True when the edit is whole now, False when nothing of it is left."""
    part = manifest["beside"]
    if "item" in os.listdir(slot):
        return True
    with machine.folder(parent(path)) as folder:
        try:
            stands = digest(content_of(folder, part))
        except FileNotFoundError:
            return False
        if stands == manifest["old_sha256"] and digest(machine.read_bytes(path)) == manifest["new_sha256"]:
            beneath.rename(folder, part, slot, "item")
            os.fsync(slot)
            os.fsync(folder)
            return True
        os.unlink(part, dir_fd=folder)
        os.fsync(folder)
        return False


def content_of(folder: int, name: str) -> bytes:
    """What a regular file holds that is edited, within limits. Raises OSError, Changed for another kind of file."""
    fd = os.open(name, os.O_PATH | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    try:
        if not stat.S_ISREG(os.fstat(fd).st_mode) or os.fstat(fd).st_size > MOST:
            raise Changed("is no file that could be edited any more", name)
        with os.fdopen(beneath.opened_again(fd, os.O_RDONLY), "rb") as handle:
            return handle.read(MOST)
    finally:
        os.close(fd)


def _write_alike(folder: int, old: int, part: str, new: bytes) -> int:
    """A new file with the owner, mode and extended attributes (ACLs among them) of the open one `old`; never with the bits
    that give a program its owner's rights. Returns its inode."""
    fd = os.open(
        part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder
    )
    try:
        status = os.fstat(old)
        view = memoryview(new)
        while view:
            view = view[os.write(fd, view) :]
        if os.geteuid() == 0:
            os.fchown(fd, status.st_uid, status.st_gid)
        os.fchmod(fd, status.st_mode & 0o777)
        for attribute in os.listxattr(old):
            os.setxattr(fd, attribute, os.getxattr(old, attribute))
        os.fsync(fd)
        return os.fstat(fd).st_ino
    except OSError:
        os.unlink(part, dir_fd=folder)
        raise
    finally:
        os.close(fd)


def put_edit_back(machine: Machine, slot: Slot) -> str:
    """Exchange the kept file for the edited one. Returns "" or why it stays on the shelf. Raises OSError."""
    manifest = slot.manifest
    path, above = manifest["path"], manifest["parent"]
    if why := why_not_back(machine, slot):
        return why
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        if not slot.waiting:
            if finish_edit(machine, path, fd, manifest):
                return put_edit_back(machine, Slot(slot.shelf, slot.run, slot.number, manifest, True))
            _restore(machine, fd, above)
            drop_slot(machine, slot.shelf, slot.run, slot.number)
            return ""
        on_shelf, settling = (
            digest(content_of(fd, "item")),
            read_record(machine, fd, "settling.json") is not None,
        )
        if on_shelf == manifest["new_sha256"] and settling:
            os.unlink("item", dir_fd=fd)
        elif on_shelf != manifest["old_sha256"]:
            return "is not the file that was put on the shelf: it was left there"
        else:
            if not machine.exists(path):
                return "the file went meanwhile; its earlier content stays on the shelf"
            if digest(machine.read_bytes(path)) != manifest["new_sha256"]:
                return "was written to since; it was not overwritten"
            begin_settling(machine, fd, above)
            with machine.folder(parent(path)) as folder:
                beneath.rename(fd, "item", folder, base(path), beneath.EXCHANGE)
                if digest(content_of(fd, "item")) != manifest["new_sha256"]:
                    beneath.rename(fd, "item", folder, base(path), beneath.EXCHANGE)
                    return "was written to at the last moment; it was not overwritten"
                os.fsync(folder)
            os.fsync(fd)
            os.unlink("item", dir_fd=fd)
        os.fsync(fd)
        _restore(machine, fd, above)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _restore(machine: Machine, slot: int, above: dict[str, Any]) -> None:
    decided = read_record(machine, slot, "settling.json")
    if decided is None or decided["restore"]:
        set_mtime(machine, above["path"], above["before"])
