"""Making anew what a tool of the system made of parts that went, and giving back what it had made.

All that is lost here can be made again; still nothing is overwritten: what was made before waits in the slot, each file of it
exchanged for the new one alone. It comes back as it was where nobody made it anew meanwhile. Else it is made of what stands
there by then: so it is undone after everything else that comes back with it (`UNDONE_LAST`)."""

from __future__ import annotations

import contextlib
import os
from typing import Any

from swept_shelf.core.carry.ask import Ask, may_write, must_be_writable, must_have_shelf
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.exchange import content_of, digest, exchange, write_alike
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.surroundings import attributes_of, returned_attributes
from swept_shelf.core.carry.times import befores
from swept_shelf.core.carry.work import Work, names_in
from swept_shelf.core.documents.errors import Changed, Gone, SweptShelfError
from swept_shelf.core.documents.operations import MakeAnew
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.attributes import restore_attributes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.made_files import MADE, make, standing
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import volume_of

STOPS = False
UNDONE_LAST = True
_SLOT, _ITEMS, _NONE = 64 << 10, "item", ""
_FILE = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC


def describe(op: MakeAnew) -> tuple[str, str]:
    return "Make anew", f"{MADE[op.made].what}: {op.path}"


def why_not_mine(op: MakeAnew, machine: Machine) -> str:
    return "" if may_write(machine, op.path) else op.rights


def room(op: MakeAnew, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volume_of(volumes, op.path).id: _SLOT + 2 * op.length}


def check(op: MakeAnew, ask: Ask) -> None:
    must_be_writable(ask, op.path)
    ask.bounds.check(join(op.path, MADE[op.made].main))
    must_have_shelf(ask, join(op.path, MADE[op.made].main))


def do(op: MakeAnew, number: int, work: Work) -> dict[str, Any]:
    machine = work.machine
    work.bounds.check(join(op.path, MADE[op.made].main))
    made, slot = make(machine, op.made, op.path), work.earlier(number)
    if slot is None:
        stands = standing(machine, op.made, op.path)
        other = [n for n in sorted(stands) if made.get(n) != stands[n]]
        if not other:
            raise Gone("was so already", op.path)
        manifest = work.manifest(
            number,
            op,
            path=op.path,
            made=op.made,
            held=[
                {
                    "name": n,
                    "beside": beneath.beside_name(base("/" + n)),
                    "old": digest(stands[n]),
                    "new": digest(made[n]) if n in made else _NONE,
                }
                for n in other
            ],
            folders=attributes_of(machine, {parent(join(op.path, n)) for n in other}, work.times),
        )
        shelf = work.shelf(op.path)
    else:
        manifest, shelf = slot.manifest, slot.shelf
    left = 0
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        with contextlib.suppress(FileExistsError):
            os.mkdir(_ITEMS, 0o700, dir_fd=fd)
        with opened_shelf(machine, shelf, work.run.id, f"{number:04}", _ITEMS) as items:
            for place, held in enumerate(manifest["held"]):
                new = made.get(held["name"])
                try:
                    _take(machine, op.path, held, new, items, str(place))
                except (SweptShelfError, FileNotFoundError):
                    left += 1
        _not_older_than_its_folder(machine, op)
        after = {f: (s.st_mtime_ns if (s := machine.lstat(f)) else None) for f in manifest["folders"]}
        write_record(machine, fd, "after.json", {"folders": after})
        work.times.note(number, befores(manifest), after)
    return (
        {"note": f"{left} of {len(manifest['held'])} files changed meanwhile and were left"} if left else {}
    )


def _take(
    machine: Machine, folder: str, held: dict[str, str], new: bytes | None, items: int, item: str
) -> None:
    """One file onto the shelf and, where there is one, the new one in its place; what a try that was cut off began is finished.
    Raises Changed, CouldNotRead, OSError."""
    path = join(folder, held["name"])
    if item in names_in(items) or _is_finished(machine, path, held, items, item):
        return
    old = machine.read_bytes(path)
    if digest(old) != held["old"] or (digest(new) if new is not None else _NONE) != held["new"]:
        raise Changed("was made anew meanwhile", path)
    if new is not None:
        status = machine.lstat(path)
        if status is None:
            raise Changed("went meanwhile", path)
        exchange(machine, path, machine.identity(status), items, old, new, held["beside"], item)
        return
    with machine.folder(parent(path)) as above:
        beneath.rename(above, base(path), items, item)
        if digest(content_of(items, item)) != held["old"]:
            beneath.rename(items, item, above, base(path))
            raise Changed("was swapped for another file at the last moment", path)
        os.fsync(items)
        os.fsync(above)


def _is_finished(machine: Machine, path: str, held: dict[str, str], items: int, item: str) -> bool:
    """After a crash inside an exchange: whether it was made, and is whole now; else what was written beside is gone."""
    with machine.folder(parent(path)) as folder:
        try:
            stands = digest(content_of(folder, held["beside"]))
        except FileNotFoundError:
            return False
        if stands == held["old"] and digest(content_of(folder, base(path))) == held["new"]:
            beneath.rename(folder, held["beside"], items, item)
            os.fsync(items)
            os.fsync(folder)
            return True
        os.unlink(held["beside"], dir_fd=folder)
        return False


def _not_older_than_its_folder(machine: Machine, op: MakeAnew) -> None:
    """Whoever reads it takes it for out of date otherwise (Icon Theme Specification, "Implementation Notes")."""
    with contextlib.suppress(OSError), machine.folder(op.path) as folder:
        main, above = MADE[op.made].main, os.fstat(folder).st_mtime_ns
        status = os.stat(main, dir_fd=folder, follow_symlinks=False)
        os.utime(
            main,
            ns=(status.st_atime_ns, max(above, status.st_mtime_ns)),
            dir_fd=folder,
            follow_symlinks=False,
        )


# -- back -------------------------------------------------------------------------------------------------------


def undo(slot: Slot, back: Back) -> str:
    """What had been made as it was, or made anew of what stands there by now. Returns "". Raises CouldNotRead, Changed, OSError."""
    machine, kept = back.machine, slot.manifest
    folder = kept["path"]
    for held in kept["held"]:
        back.bounds.check(join(folder, held["name"]))
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling = read_record(machine, fd, "settling.json")
        if _ITEMS in names_in(fd):
            with opened_shelf(machine, slot.shelf, slot.run, slot.name, _ITEMS) as items:
                taken = {h["name"]: str(i) for i, h in enumerate(kept["held"]) if str(i) in names_in(items)}
                for place, held in enumerate(kept["held"]):  # of a try that was cut off
                    if held["name"] not in taken and _is_finished(
                        machine, join(folder, held["name"]), held, items, str(place)
                    ):
                        taken[held["name"]] = str(place)
                as_left = all(
                    _digest_at(machine, join(folder, h["name"])) == h["new"]
                    for h in kept["held"]
                    if h["name"] in taken
                )
                if settling is None:
                    ours = [
                        f
                        for f in kept["folders"]
                        if (s := machine.lstat(f)) and back.times.is_ours(f, s.st_mtime_ns)
                    ]
                    if (
                        read_record(machine, fd, "after.json") is None
                    ):  # cut off: what was written there is ours
                        ours = list(kept["folders"])
                    settling = {"folders": ours, "as_left": as_left}
                    write_record(machine, fd, "settling.json", settling)
                wanted = None if settling["as_left"] else make(machine, kept["made"], folder)
                for held in kept["held"]:
                    _give(machine, folder, held, wanted, items, taken.get(held["name"], ""))
            remove_tree(fd, _ITEMS)
    restore_attributes(
        machine, returned_attributes(slot, settling["folders"] if settling else [], back.times)
    )
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _digest_at(machine: Machine, path: str) -> str:
    return digest(machine.read_bytes(path)) if machine.exists(path) else _NONE


def _give(
    machine: Machine,
    folder: str,
    held: dict[str, str],
    wanted: dict[str, bytes] | None,
    items: int,
    item: str,
) -> None:
    """One file as it is to be: the old one where it is that, or where nothing is `wanted` but what was. Raises Changed, OSError."""
    path = join(folder, held["name"])
    want = (
        held["old"] if wanted is None else digest(wanted[held["name"]]) if held["name"] in wanted else _NONE
    )
    now = _digest_at(machine, path)
    if now == want or want == _NONE or (wanted is None and (not item or now != held["new"])):
        return  # so already, by whoever made it
    with machine.folder(parent(path)) as above:
        if not (item and digest(content_of(items, item)) == want):
            if wanted is None:
                return
            place, name = (above, base(path)) if now != _NONE else (items, item)
            if not name:
                return
            like = os.open(name, _FILE, dir_fd=place)
            item = held["beside"]
            try:
                with contextlib.suppress(FileNotFoundError):
                    os.unlink(item, dir_fd=items)
                write_alike(items, like, item, wanted[held["name"]])
            finally:
                os.close(like)
        if now == _NONE:
            beneath.rename(items, item, above, base(path))
        else:
            beneath.rename(items, item, above, base(path), beneath.EXCHANGE)
            if digest(content_of(items, item)) != now:
                beneath.rename(items, item, above, base(path), beneath.EXCHANGE)
                raise Changed("was made anew at the last moment; it was not overwritten", path)
        os.fsync(above)
