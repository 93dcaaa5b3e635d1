"""One path onto the holding shelf and back: renamed without replacing, what arrived checked; copied where nothing can be renamed."""

from __future__ import annotations

import contextlib
import errno
import os
import stat
from typing import Any

from swept_shelf.core.carry import copying
from swept_shelf.core.carry.ask import Ask, may_write, must_be_writable, must_have_shelf
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.checks import check_inside, check_unchanged, why_not_back
from swept_shelf.core.carry.meanwhile import as_scripts_left_it
from swept_shelf.core.carry.parents import begin_settling, make_again, note_after, parent_of, settle_parent
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.script_made import AGAIN, only_made_by
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.work import Work, names_in
from swept_shelf.core.documents.errors import Changed, CouldNotRead, Gone
from swept_shelf.core.documents.operations import LEFT_EMPTY, Shelve
from swept_shelf.core.documents.paths import base, join, parent, within
from swept_shelf.core.documents.survey import Identity, Volume
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.machine.open_files import holder
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import volume_of

STOPS = False
_SLOT = 32 << 10
_PART, _RETURNING = "part", "returning.json"


def describe(op: Shelve) -> tuple[str, str]:
    return "To the holding shelf", op.path


def why_not_mine(op: Shelve, machine: Machine) -> str:
    return "" if may_write(machine, parent(op.path)) else op.rights


def room(op: Shelve, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volume_of(volumes, op.path).id: _SLOT + (op.bytes if _is_copied(machine, op.path) else 0)}


def check(op: Shelve, ask: Ask) -> None:
    """A shelf within which a rename works can be made; where it cannot, that it will be copied is said."""
    must_be_writable(ask, parent(op.path))
    ask.bounds.check(op.path)
    must_have_shelf(ask, op.path)
    if _is_copied(ask.machine, op.path):
        ask.notes[
            f"{op.path} lies where nothing can be renamed: it will be copied, compared and then removed"
        ] = None


def _is_copied(machine: Machine, path: str) -> bool:
    """A folder of a lower layer of an overlay cannot be renamed (the kernel's overlayfs documentation, redirect_dir)."""
    try:
        with machine.folder(path) as fd:
            return beneath.is_overlay(fd)
    except OSError:
        return False


def do(op: Shelve, number: int, work: Work) -> dict[str, Any]:
    machine = work.machine
    slot = work.earlier(number)
    if slot is not None:
        with opened_shelf(machine, slot.shelf, work.run.id, f"{number:04}") as fd:
            if "item" in names_in(fd):
                _finish(work, number, op, fd, slot.manifest)
                return {}
            _sweep(fd, _PART)
        drop_slot(machine, slot.shelf, work.run.id, number)
    if work.still_needed(op.line, op.path):
        return {"without": [op.path], "note": "its package is still needed"}
    work.bounds.check(op.path)
    try:
        now = machine.identity(check_unchanged(machine, op.path, op.identity, op.exactly))
    except Gone:
        raise
    except Changed:
        if (anew := as_scripts_left_it(machine, op, work.run)) is None:
            raise
        op, now = anew, anew.identity
    new = 0
    if op.why == LEFT_EMPTY:
        if machine.listdir(op.path):
            return {"without": [op.path], "note": "something lies in it"}
    elif op.identity.type == "folder":
        new = check_inside(machine, op, work.run.index, work.other_names(op.line))
    not_held(machine, op.path)
    shelf = work.shelf(op.path)
    copied = _is_copied(machine, op.path)
    manifest = work.manifest(
        number,
        op,
        path=op.path,
        identity=to_plain(now),  # a package's script may have changed its mode
        parent=parent_of(machine, op.path, work.times),
        copied=copied,
        surveyed_mode=op.identity.mode,
    )
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        if copied:
            _copy(machine, op.path, fd, op.identity)
        else:
            try:
                to_slot(machine, op.path, fd, op.identity)
            except OSError as error:
                if error.errno != errno.EXDEV:
                    raise
                manifest["copied"] = True
                write_record(machine, fd, "manifest.json", manifest)
                _copy(machine, op.path, fd, op.identity)
        note_after(machine, fd, manifest["parent"], number, work.times)
    return {"new_inside": new} if new else {}


def _finish(work: Work, number: int, op: Shelve, slot: int, manifest: dict[str, Any]) -> None:
    if "after.json" in names_in(slot):
        return
    if manifest["copied"]:
        _remove_copied(work.machine, op.path, slot, manifest["identity"]["inode"])
    note_after(work.machine, slot, manifest["parent"], number, work.times)


def to_slot(machine: Machine, path: str, slot: int, identity: Identity) -> None:
    """Rename onto the shelf and check what arrived; another thing goes back at once. Raises Changed, OSError."""
    with machine.folder(parent(path)) as folder:
        beneath.rename(folder, base(path), slot, "item")
        now = machine.identity(os.stat("item", dir_fd=slot, follow_symlinks=False))
        if any(getattr(identity, n) not in (None, getattr(now, n)) for n in ("inode", "type", "uid", "gid")):
            beneath.rename(slot, "item", folder, base(path))
            raise Changed("was swapped for another thing at the last moment; it was left", path)
        os.fsync(slot)
        os.fsync(folder)


def _copy(machine: Machine, path: str, slot: int, identity: Identity) -> None:
    """Copy, compare, name the copy, and only then remove. What failed leaves the thing where it is. Raises Changed, OSError."""
    with machine.folder(parent(path)) as folder:
        try:
            copying.copy(folder, base(path), slot, _PART)
            copying.compare(folder, base(path), slot, _PART)
        except (OSError, Changed):
            _sweep(slot, _PART)
            raise
        beneath.rename(slot, _PART, slot, "item")
        os.fsync(slot)
    _remove_copied(machine, path, slot, identity.inode)


def _remove_copied(machine: Machine, path: str, slot: int, inode: int) -> None:
    """Remove what the slot holds whole. Another thing that stands there by now stays. Raises Changed, OSError."""
    with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as folder:
        status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
        if status.st_ino != inode:
            raise Changed("was swapped for another thing while it was copied; it was left", path)
        remove_tree(folder, base(path))
        os.fsync(folder)


def not_held(machine: Machine, path: str) -> None:
    """Raises CouldNotRead where a process has something of it open."""
    if held := holder(machine, path):
        pid, name, inside = held
        where = inside if within(inside, path) else path
        raise CouldNotRead(f"a file in it is held open by process {pid} ({name})", where)


# -- back -------------------------------------------------------------------------------------------------------


def undo(slot: Slot, back: Back) -> str:
    """Rename an item to where it was. Returns "" or why it stays on the shelf. Raises OSError."""
    machine, path, above = back.machine, slot.manifest["path"], slot.manifest["parent"]
    if why := why_not_back(machine, slot, back.bounds):
        return why
    if slot.waiting and not _exchanged(machine, slot, path) and not _returned(machine, slot, path):
        if slot.manifest["copied"] and (why := _remains_away(machine, slot)):
            return why
        if machine.exists(path):
            if not (
                _over_its_like(machine, slot, path)
                or _over_what_scripts_made(machine, slot, path)
                or _as_a_folder(slot, back)
            ):
                return "something newer stands there; it was not overwritten"
        else:
            if made := not machine.exists(above["path"]):
                make_again(machine, above)
            with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
                begin_settling(machine, fd, above, back.times, made)
                with machine.folder(parent(path)) as folder:
                    _back(machine, fd, folder, base(path))
                    os.fsync(folder)
                os.fsync(fd)
    _mode_again(machine, slot, path)
    settle_parent(machine, slot, back.times)
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        for rest in ("again", _PART):
            _sweep(fd, rest)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _mode_again(machine: Machine, slot: Slot, path: str) -> None:
    """A package's script may have taken rights from its settings file before that was shelved: it gets those that were surveyed.

    What a person changed at something of their own stays as they changed it."""
    if not within(path, "/etc"):
        return
    wanted, kept = slot.manifest["surveyed_mode"], slot.manifest["identity"]
    with contextlib.suppress(OSError), machine.folder(parent(path)) as folder:
        fd = os.open(base(path), os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
        try:
            now = os.fstat(fd)
            ours = (now.st_ino == kept["inode"] or slot.manifest["copied"]) and stat.S_ISREG(now.st_mode)
            if ours and stat.S_IMODE(now.st_mode) == kept["mode"] != wanted:
                os.fchmod(fd, wanted)
        finally:
            os.close(fd)


def _exchanged(machine: Machine, slot: Slot, path: str) -> bool:
    """An exchange that was cut off right after it: what lies in the slot is what scripts had made, and goes."""
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling, now = read_record(machine, fd, "settling.json"), machine.lstat(path)
        if not isinstance(settling, dict) or now is None or settling.get("item") != now.st_ino:
            return False
        remove_tree(fd, "item")
        return True


def _back(machine: Machine, slot: int, folder: int, name: str) -> None:
    """Rename the item; where that is impossible copy it beside under a name of ours, compare, and give it its name.

    That name, and what stands there once it is whole, are noted first: a copy that was cut off is swept, a whole one counts."""
    try:
        beneath.rename(slot, "item", folder, name)
    except OSError as error:
        if error.errno != errno.EXDEV:
            raise
        if isinstance(earlier := read_record(machine, slot, _RETURNING), dict):
            _sweep(folder, earlier["part"])
        part = beneath.beside_name(name)
        write_record(machine, slot, _RETURNING, {"part": part})
        try:
            copying.copy(slot, "item", folder, part)
            copying.compare(slot, "item", folder, part)
            inode = os.stat(part, dir_fd=folder, follow_symlinks=False).st_ino
            write_record(machine, slot, _RETURNING, {"part": part, "inode": inode})
            beneath.rename(folder, part, folder, name)
        except (OSError, Changed):
            _sweep(folder, part)
            raise
        os.fsync(folder)
        _drop_item(slot)


def _drop_item(slot: int) -> None:
    """What is back as a copy: its name goes at once, so that a crash leaves no half of it."""
    beneath.rename(slot, "item", slot, "again")
    remove_tree(slot, "again")


def _sweep(folder: int, name: str) -> None:
    with contextlib.suppress(FileNotFoundError):
        remove_tree(folder, name)


def _returned(machine: Machine, slot: Slot, path: str) -> bool:
    """A copying back that was cut off right after the copy got its name: the item on the shelf goes."""
    now = machine.lstat(path)
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        noted = read_record(machine, fd, _RETURNING)
        if not isinstance(noted, dict) or now is None or noted.get("inode") != now.st_ino:
            return False
        _drop_item(fd)
        return True


def _remains_away(machine: Machine, slot: Slot) -> str:
    """A copy whose source was cut off while it was removed: what is left of the source goes, if nothing in it is newer."""
    path = slot.manifest["path"]
    with (
        opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd,
        contextlib.suppress(FileNotFoundError, NotADirectoryError),
    ):
        if "after.json" in names_in(fd):
            return ""
        with machine.folder(parent(path)) as folder:
            if (
                os.stat(base(path), dir_fd=folder, follow_symlinks=False).st_ino
                != slot.manifest["identity"]["inode"]
            ):
                return ""
            if not _all_in(machine, path, join(slot.path, "item")):
                return "something newer stands there; it was not overwritten"
            remove_tree(folder, base(path))
    return ""


def _all_in(machine: Machine, path: str, item: str) -> bool:
    """Whether everything that is left at `path` is in the item with the same content."""
    stack = [""]
    while stack:
        inside = stack.pop()
        a, b = machine.lstat(path + inside), machine.lstat(item + inside)
        if a is None:
            continue
        if b is None or type_of(a.st_mode) != type_of(b.st_mode):
            return False
        if stat.S_ISDIR(a.st_mode):
            stack += [f"{inside}/{n}" for n in machine.listdir(path + inside)]
        elif stat.S_ISREG(a.st_mode):
            with machine.folder(parent(path + inside)) as x, machine.folder(parent(item + inside)) as y:
                if not copying.same_content(x, base(path + inside), y, base(item + inside)):
                    return False
    return True


def _over_its_like(machine: Machine, slot: Slot, path: str) -> bool:
    """Exchange the item for what stands at its path when both hold the same bytes, or lead to the same place:
    what package scripts make anew while their package is put back. True when done."""
    item = join(slot.path, "item")
    now, kept = machine.lstat(path), machine.lstat(item)
    if now is None or kept is None or type_of(now.st_mode) != type_of(kept.st_mode):
        return False
    if type_of(now.st_mode) == "link":
        same = machine.readlink(path) == machine.readlink(item)
    elif type_of(now.st_mode) == "file" and now.st_size == kept.st_size:
        with machine.folder(parent(path)) as a, machine.folder(slot.path) as b:
            same = copying.same_content(a, base(path), b, "item")
    else:
        same = False
    if same:
        _exchange(machine, slot, path)
    return same


def _over_what_scripts_made(machine: Machine, slot: Slot, path: str) -> bool:
    """The same for what was not there when packages were put back and stood there right after: their scripts made it."""
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        noted = read_record(machine, fd, AGAIN)
    if not isinstance(noted, dict) or not only_made_by(machine, path, noted):
        return False
    _exchange(machine, slot, path)
    return True


def _as_a_folder(slot: Slot, back: Back) -> bool:
    """An empty folder where one stands again by now, in which others of its order came back: that gets its owner again, where who
    owns the folder above could put another there anyway, and no more rights than it has. True when done."""
    machine, path, item = back.machine, slot.manifest["path"], join(slot.path, "item")
    now, kept, above = machine.lstat(path), machine.lstat(item), machine.lstat(parent(path))
    if now is None or kept is None or above is None:
        return False
    if {type_of(now.st_mode), type_of(kept.st_mode)} != {"folder"} or machine.listdir(item):
        return False
    if kept.st_uid not in (now.st_uid, above.st_uid):
        return False
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd, machine.folder(path) as folder:
        begin_settling(machine, fd, slot.manifest["parent"], back.times)
        mode = os.fstat(folder).st_mode & kept.st_mode
        os.fchown(folder, kept.st_uid, kept.st_gid)
        os.fchmod(folder, stat.S_IMODE(mode))
        os.rmdir("item", dir_fd=fd)
        os.fsync(fd)
    return True


def _exchange(machine: Machine, slot: Slot, path: str) -> None:
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd, machine.folder(parent(path)) as folder:
        item = os.stat("item", dir_fd=fd, follow_symlinks=False).st_ino
        write_record(machine, fd, "settling.json", {"restore": True, "item": item})
        beneath.rename(fd, "item", folder, base(path), beneath.EXCHANGE)
        os.fsync(folder)
        beneath.rename(fd, "item", fd, "again")
        remove_tree(fd, "again")
        os.fsync(fd)
