"""Packages: removal and purge by their registry, and all of it back again."""

from __future__ import annotations

import os
import stat
from typing import Any

from swept_shelf.core.carry.originals import check_original, drop_originals, original_files, originals_folder
from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.script_made import Made, local_folders, made_now, make_again, take_away_new
from swept_shelf.core.carry.shelf import Slot, drop_slot, opened_shelf
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.operations import PurgePackages, RemovePackages
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.original import attributes
from swept_shelf.core.registries.debian.read import query
from swept_shelf.core.tree.index import Index


def check_paths(machine: Machine, op: RemovePackages, index: Index) -> None:
    """The registry must still list what was surveyed, path by path. Raises Refused."""
    for package in query(machine, *op.packages):
        before = set(index.package_paths(package.name))
        for path in package.files:
            real = join(machine.resolve(parent(path)) or parent(path), base(path))
            if path not in before and real not in before and machine.exists(path) and package.installed:
                raise Refused(f"{package.name} lists {path}, which was not surveyed")


def surroundings(machine: Machine, names: list[str]) -> dict[str, Any]:
    """What a manifest keeps beside the packages themselves: attributes of every folder that the registry's call may
    touch (listed ones, parents of files and of what scripts make) and what scripts made outside the file lists."""
    made = made_now(machine)
    folders: dict[str, dict[str, Any]] = {}
    listed = [path for package in query(machine, *names) for path in package.files]
    for place in dict.fromkeys(p for path in listed for p in (parent(path), path)):
        _note(machine, machine.resolve(place), folders)
    for place in dict.fromkeys(
        [*(p for path in made for p in (parent(path), parent(parent(path)))), *local_folders(machine)]
    ):
        _note(machine, place, folders)
    return {"folders": folders, "made": made}


def _note(machine: Machine, folder: str | None, folders: dict[str, dict[str, Any]]) -> None:
    status = machine.lstat(folder) if folder and folder not in folders else None
    if folder and status and stat.S_ISDIR(status.st_mode):
        folders[folder] = attributes(machine, folder, status)


def _note_after(machine: Machine, slot: int, manifest: dict[str, Any]) -> None:
    """What the registry's call left: times of the folders (None where it took one away) and what of the scripts' own went."""
    now = made_now(machine)
    write_record(
        machine,
        slot,
        "after.json",
        {
            "folders": {f: (s.st_mtime_ns if (s := machine.lstat(f)) else None) for f in manifest["folders"]},
            "gone": [path for path in manifest["made"] if path not in now],
        },
    )


def remove_packages(machine: Machine, op: RemovePackages, slot: int, manifest: dict[str, Any]) -> None:
    """Simulation, then removal that spares configuration. Raises Refused, CouldNotRead."""
    states = change.states(machine, op.packages)
    left = sorted(n for n, (s, _) in states.items() if s not in ("not-installed", "config-files"))
    if left:
        said = change.simulate(machine, left)
        if said != left:
            raise Refused(
                f"dpkg would remove {', '.join(said) or 'nothing'}, the order says {', '.join(left)}"
            )
        change.remove(machine, left)
    _note_after(machine, slot, manifest)


def purge_packages(machine: Machine, op: PurgePackages, slot: int, manifest: dict[str, Any]) -> None:
    states = change.states(machine, op.packages)
    left = sorted(n for n, (s, _) in states.items() if s == "config-files")
    if left:
        change.purge(machine, left)
    _note_after(machine, slot, manifest)


def put_packages_back(machine: Machine, slot: Slot) -> str:
    """Install the originals back and restore the folders' times. Returns "" or why not. Raises CouldNotRead."""
    originals = slot.manifest["originals"]
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        whole = read_record(machine, fd, "returned.json") is not None
    if not whole:
        change.wait_for_lock(machine)
        states = change.states(machine, [o["package"] for o in originals])
        kept = {o["package"]: o["version"] for o in originals}
        newer = [n for n, (s, v) in states.items() if s == "installed" and v != kept[n]]
        if newer:
            return f"{', '.join(newer)} is installed in another version by now; it was not overwritten"
        with (
            originals_folder(machine, slot.shelf, slot.run, slot.manifest["originals_in"]) as folder,
            opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd,
        ):
            for original in originals:
                check_original(folder, original)
            settling = _begin_settling(machine, fd, slot.manifest)
            change.install_back(machine, originals, original_files(folder, originals))
            _settle(machine, slot.manifest, settling)
            write_record(machine, fd, "returned.json", True)
    drop_originals(machine, slot)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def put_purge_back(machine: Machine, slot: Slot) -> str:
    """Make the folders and links again that the purge took, so that what stands on the shelf can return."""
    folders = slot.manifest["folders"]
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling = _begin_settling(machine, fd, slot.manifest)
    for path in sorted(folders, key=lambda p: p.count("/")):
        if not machine.exists(path) and machine.exists(parent(path)):
            with machine.folder(parent(path)) as fd:
                os.mkdir(base(path), folders[path]["mode"], dir_fd=fd)
                os.chmod(base(path), folders[path]["mode"], dir_fd=fd)
    make_again(machine, slot.manifest["made"], settling["made"])
    change.restore_attributes(machine, {p: folders[p] for p in folders if p in settling["folders"]})
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _begin_settling(machine: Machine, slot: int, manifest: dict[str, Any]) -> dict[str, list[str]]:
    """Decided once, kept on the shelf: folders whose times are ours to restore (as the registry left them, or gone),
    what of the scripts' own is to be as it was, and what of it stands now."""
    decided = read_record(machine, slot, "settling.json")
    if decided is None:
        after = read_record(machine, slot, "after.json")
        now = made_now(machine)
        folders, made = manifest["folders"], manifest["made"]
        decided = {
            "folders": [
                f
                for f in folders
                if after is None or not (s := machine.lstat(f)) or s.st_mtime_ns == after["folders"].get(f)
            ],
            "made": [
                p
                for p in made
                if now.get(p) == made[p] or (p not in now and (after is None or p in after["gone"]))
            ],
            "now": list(now),
        }
        write_record(machine, slot, "settling.json", decided)
    return dict(decided)


def _settle(machine: Machine, manifest: dict[str, Any], settling: dict[str, list[str]]) -> None:
    """After the packages stand again: what scripts make, and folders, as they were before the removal."""
    made: Made = manifest["made"]
    files = [f for o in manifest["originals"] for p in query(machine, o["package"]) for f in p.files]
    owned = {real for f in files if (real := machine.resolve(f)) and real != "/"}
    take_away_new(machine, {*made, *settling["now"]}, owned)
    make_again(machine, made, settling["made"])
    change.restore_attributes(machine, {path: manifest["folders"][path] for path in settling["folders"]})
