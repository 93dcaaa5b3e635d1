"""Removing packages through their registry, sparing configuration; and all of them back again from their originals."""

from __future__ import annotations

import contextlib
from typing import Any

from swept_shelf.core.carry.ask import Ask, must_have_registry
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.common_files import names_elsewhere, one_file_again
from swept_shelf.core.carry.needed import needed_from
from swept_shelf.core.carry.originals import (
    check_original,
    drop_files,
    drop_originals,
    kept_originals,
    original_files,
    originals_folder,
)
from swept_shelf.core.carry.records import MANIFEST, read_record, write_record
from swept_shelf.core.carry.script_made import after_scripts, before_scripts, take_away_made_again
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.surroundings import begin_settling, note_after, settle, surroundings
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import RemovePackages
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.diversions import diversions, stands_at
from swept_shelf.core.registries.debian.read import query
from swept_shelf.core.tree.index import Index

STOPS = True
_DATABASE = 4 << 20
_GONE = ("not-installed", "config-files")
_BROKEN = ("half-installed", "unpacked")  # cut off inside the registry: made whole first


def describe(op: RemovePackages) -> tuple[str, str]:
    how = " without its own scripts: last resort" if op.without_scripts else ""
    return f"Remove {plural(len(op.packages), 'package')}{how}", ", ".join(op.packages)


def why_not_mine(op: RemovePackages, machine: Machine) -> str:
    return "" if change.may_change(machine) else op.rights


def room(op: RemovePackages, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volumes[0].id: _DATABASE}


def check(op: RemovePackages, ask: Ask) -> None:
    """The registry's own word: that it would remove exactly these, now, and nobody works on it. Raises Refused."""
    must_have_registry(ask)
    wanted = ask.going(op.line, op.packages)
    if not wanted:
        return
    if ask.as_surveyed is not None and ask.as_surveyed({*ask.removed, *wanted}):
        return
    before = ask.removed if ask.pure else set[str]()
    states = change.states(ask.machine, wanted)
    if not ask.pure and any(states[n][0] in _BROKEN and n not in op.without_scripts for n in wanted):
        return  # it is made whole first, and the registry asked then
    left = sorted({*before, *(n for n in wanted if states[n][0] not in _GONE)})
    if left:
        _as_said(change.simulate(ask.machine, left, without_scripts=op.without_scripts), left)


def _as_said(said: list[str], wanted: list[str]) -> None:
    if said != wanted:
        raise Refused(f"dpkg would remove {', '.join(said) or 'nothing'}, the order says {', '.join(wanted)}")


def do(op: RemovePackages, number: int, work: Work) -> dict[str, Any]:
    machine, going = work.machine, work.going(op.line, op.packages)
    change.wait_for_lock(machine)
    slot, manifest = work.earlier(number), None
    states = change.states(machine, going)
    there = [n for n in going if states[n][0] not in _GONE]
    if slot is not None and set(there) <= {o["package"] for o in slot.manifest["originals"]}:
        manifest = slot.manifest
    elif not there:
        return {"note": "was gone already", **_without(op, going)}
    else:
        _check_paths(machine, there, work.run.index)
        with work.originals() as folder:
            kept = kept_originals(machine, folder, there)
        around = surroundings(machine, there, work.times)
        others = names_elsewhere(machine, there, work.run.index)
        if slot is not None:  # what could not go with the first part of a group goes now
            kept = [*slot.manifest["originals"], *kept]
            around = {name: {**around[name], **slot.manifest[name]} for name in around}
            others = {**others, **slot.manifest["other_names"]}
        manifest = work.manifest(
            number, op, originals=kept, originals_in=work.run.head.originals, other_names=others, **around
        )
    shelf = slot.shelf if slot else work.shelf("/x")
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        _remove(machine, sorted(there), op.without_scripts, manifest, shelf, work)
        note_after(machine, fd, manifest, number, work.times)
    return _without(op, going)


def _without(op: RemovePackages, going: list[str]) -> dict[str, Any]:
    """What of a group stays because somebody still needs it; asked again when this order is carried out again."""
    left = [p for p in op.packages if p not in going]
    return {"without": left, "note": f"without {', '.join(left)}: still needed"} if left else {}


def _remove(
    machine: Machine, there: list[str], alone: list[str], manifest: dict[str, Any], shelf: str, work: Work
) -> None:
    if not there:
        return
    alone = [n for n in alone if n in there]
    rest = [n for n in there if n not in alone]
    whole_again = _make_whole(machine, rest, manifest, shelf, work)
    _as_said(change.simulate(machine, there, without_scripts=alone), there)
    try:
        change.remove(machine, there, alone)
    except CouldNotRead:
        whole_again = _make_whole(machine, rest, manifest, shelf, work)
        if not whole_again:
            change.configured_again(machine, manifest["originals"])
            raise
        still = [n for n, (s, _) in change.states(machine, there).items() if s not in _GONE]
        change.remove(machine, still, [n for n in alone if n in still])
    if whole_again:
        take_away_made_again(machine, work.slots())


def _make_whole(
    machine: Machine, packages: list[str], manifest: dict[str, Any], shelf: str, work: Work
) -> bool:
    """What was cut off inside its registry cannot be removed before it is installed again: from its original. Whether any was."""
    broken = [n for n, (s, _) in change.states(machine, packages).items() if s in _BROKEN]
    originals = [o for o in manifest["originals"] if o["package"] in broken]
    if originals:
        with originals_folder(machine, shelf, work.run.id, manifest["originals_in"]) as folder:
            for original in originals:
                check_original(folder, original)
            before_scripts(machine, work.slots())
            with contextlib.suppress(
                CouldNotRead
            ):  # what it needs may be gone by now: unpacked is enough to be removed
                change.install_back(machine, originals, original_files(folder, originals))
            after_scripts(machine, work.slots())
    return bool(originals)


def _check_paths(machine: Machine, packages: list[str], index: Index) -> None:
    """The registry must still list what was surveyed, path by path. Raises Refused."""
    away = diversions(machine)
    for package in query(machine, *packages):
        before = set(index.package_paths(package.name))
        for name in package.files:
            path = stands_at(name, package, away)
            real = join(machine.resolve(parent(path)) or parent(path), base(path))
            if path not in before and real not in before and machine.exists(path) and package.installed:
                raise Refused(f"{package.name} lists {path}, which was not surveyed")


# -- back -------------------------------------------------------------------------------------------------------


def undo(slot: Slot, back: Back) -> str:
    """Install the originals back, with what they need from other lines, and restore what the registry does not."""
    machine = back.machine
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        whole = read_record(machine, fd, "returned.json") is not None
        if not whole and (why := _install(slot, back, fd)):
            return why
    drop_originals(machine, slot)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _install(slot: Slot, back: Back, fd: int) -> str:
    """Returns "" or why not."""
    machine, originals = back.machine, slot.manifest["originals"]
    if not originals:  # all of it came back with others
        settle(machine, slot, begin_settling(machine, fd, slot.manifest, back.times, []), back.times, [])
        return ""
    change.wait_for_lock(machine)
    extra = needed_from(machine, originals, [s for s in back.slots if s.number != slot.number])
    others = [s for s, _ in extra]
    everything = [*originals, *(o for _, some in extra for o in some)]
    states = change.states(machine, [o["package"] for o in everything])
    kept = {o["package"]: o["version"] for o in everything}
    if newer := [n for n, (s, v) in states.items() if s == "installed" and v != kept[n]]:
        return f"{', '.join(newer)} is installed in another version by now; it was not overwritten"
    with originals_folder(machine, slot.shelf, slot.run, slot.manifest["originals_in"]) as folder:
        for original in everything:
            check_original(folder, original)
        settling = begin_settling(machine, fd, slot.manifest, back.times, others)
        before_scripts(machine, back.slots)
        try:
            change.install_back(machine, everything, original_files(folder, everything))
        except CouldNotRead:
            change.away_again(machine, [n for n, (s, _) in states.items() if s in _GONE])
            raise
        finally:
            after_scripts(machine, back.slots)
        for s in (slot, *others):
            one_file_again(machine, s.manifest["other_names"], {o["package"] for o in everything})
        settle(machine, slot, settling, back.times, others)
        for other, some in extra:
            _return_part(machine, other, some, folder, back)
        write_record(machine, fd, "returned.json", True)
    return ""


def _return_part(machine: Machine, slot: Slot, some: list[dict[str, Any]], folder: int, back: Back) -> None:
    """Some packages of another slot came back: it keeps the rest."""
    names = {o["package"] for o in some}
    rest = {
        **slot.manifest,
        "originals": [o for o in slot.manifest["originals"] if o["package"] not in names],
    }
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        write_record(machine, fd, MANIFEST, rest)
    drop_files(folder, some)
    back.slots = [
        Slot(s.shelf, s.run, s.number, rest, s.waiting, s.sealed, s.emptying) if s is slot else s
        for s in back.slots
    ]
