"""What stands around packages and no list names: the folders that a registry's call touches, and what scripts make. Noted before
it, noted after it, and restored when the packages came back."""

from __future__ import annotations

import stat
from collections.abc import Collection, Iterable
from typing import Any

from swept_shelf.core.carry.accounts import make_accounts_again, system_accounts
from swept_shelf.core.carry.boot_links import boot_links, boot_links_again
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.script_made import (
    Made,
    lines_again,
    local_folders,
    made_now,
    make_again,
    take_away_new,
)
from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.carry.times import FolderTimes, befores
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.machine.attributes import attributes, restore_attributes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.read import query

Settling = dict[str, Any]


def surroundings(machine: Machine, names: list[str], times: FolderTimes) -> dict[str, Any]:
    """What a manifest keeps beside the packages themselves: attributes of every folder that the registry's call may
    touch (listed ones, parents of files and of what scripts make) and what scripts made outside the file lists."""
    made = made_now(machine)
    folders: dict[str, dict[str, Any]] = {}
    listed = [path for package in query(machine, *names) for path in package.files]
    for place in dict.fromkeys(p for path in listed for p in (parent(path), path)):
        _note(machine, machine.resolve(place), folders, times)
    above = (p for path in made for p in (parent(path), parent(parent(path))))
    for place in dict.fromkeys([*above, *local_folders(machine)]):
        _note(machine, place, folders, times)
    return {"folders": folders, "made": made, "accounts": system_accounts(machine)}


def attributes_of(machine: Machine, places: Iterable[str], times: FolderTimes) -> dict[str, dict[str, Any]]:
    """Those of `places` that are folders, with their attributes and their times before the run."""
    folders: dict[str, dict[str, Any]] = {}
    for place in places:
        _note(machine, machine.resolve(place), folders, times)
    return folders


def _note(
    machine: Machine, folder: str | None, folders: dict[str, dict[str, Any]], times: FolderTimes
) -> None:
    status = machine.lstat(folder) if folder and folder not in folders else None
    if folder and status and stat.S_ISDIR(status.st_mode):
        known = attributes(machine, folder, status)
        folders[folder] = known | {"mtime_ns": times.before(folder, status.st_mtime_ns)}


def note_after(
    machine: Machine, slot: int, manifest: dict[str, Any], number: int, times: FolderTimes
) -> None:
    """What the registry's call left: times of the folders (None where it took one away) and what of the scripts' own went."""
    now = made_now(machine)
    after = {f: (s.st_mtime_ns if (s := machine.lstat(f)) else None) for f in manifest["folders"]}
    gone = [path for path in manifest["made"] if path not in now]
    stand = system_accounts(machine)
    accounts = {
        f: [n for n in known if n not in stand.get(f, {})] for f, known in manifest["accounts"].items()
    }
    write_record(machine, slot, "after.json", {"folders": after, "gone": gone, "accounts": accounts})
    times.note(number, befores(manifest), after)


def begin_settling(
    machine: Machine, slot: int, manifest: dict[str, Any], times: FolderTimes, others: Iterable[Slot]
) -> Settling:
    """Decided once, kept on the shelf: folders whose times are ours to restore (as we left them, or gone), those of `others`
    whose packages come back along among them; what of the scripts' own is to be as it was, and what of it stands now."""
    decided = read_record(machine, slot, "settling.json")
    if decided is None:
        after = read_record(machine, slot, "after.json")
        now = made_now(machine)
        made: Made = manifest["made"]
        folders = dict.fromkeys([*manifest["folders"], *(f for s in others for f in s.manifest["folders"])])
        decided = {
            "folders": [f for f in folders if after is None or _is_ours(machine, f, times)],
            "made": [
                p
                for p in made
                if now.get(p) == made[p] or (p not in now and (after is None or p in after["gone"]))
            ],
            "now": list(now),
            "starts": boot_links(machine),
        }
        write_record(machine, slot, "settling.json", decided)
    after = read_record(machine, slot, "after.json")
    if after is not None:
        make_accounts_again(machine, manifest["accounts"], after["accounts"])
    return dict(decided)


def _is_ours(machine: Machine, folder: str, times: FolderTimes) -> bool:
    status = machine.lstat(folder)
    return status is None or times.is_ours(folder, status.st_mtime_ns)


def settle(
    machine: Machine, slot: Slot, settling: Settling, times: FolderTimes, others: Iterable[Slot]
) -> None:
    """After the packages stand again: what scripts make, and folders, as they were before the removal."""
    manifest = slot.manifest
    files = [f for o in manifest["originals"] for p in query(machine, o["package"]) for f in p.files]
    owned = {real for f in files if (real := machine.resolve(f)) and real != "/"}
    take_away_new(machine, {*manifest["made"], *settling["now"]}, owned)
    make_again(machine, manifest["made"], settling["made"])
    lines_again(machine, manifest["made"])
    if "starts" in settling:
        boot_links_again(machine, settling["starts"])
    wanted = returned_attributes(slot, settling["folders"], times)
    for other in others:
        for path, kept in other.manifest["folders"].items():
            if path in settling["folders"] and path not in wanted:
                wanted[path] = kept | {"mtime_ns": times.standing(path, kept["mtime_ns"])}
    restore_attributes(machine, wanted)


def returned_attributes(
    slot: Slot, folders: Collection[str], times: FolderTimes
) -> dict[str, dict[str, Any]]:
    """What each of the slot's folders that are ours to restore gets."""
    wanted = set(folders)
    return {
        path: kept | {"mtime_ns": times.returned(slot.number, path, kept["mtime_ns"])}
        for path, kept in slot.manifest["folders"].items()
        if path in wanted
    }
