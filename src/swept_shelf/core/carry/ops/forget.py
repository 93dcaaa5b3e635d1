"""Asking the registry to forget the configuration that stands on the shelf by now."""

from __future__ import annotations

import os
from typing import Any

from swept_shelf.core.carry.ask import Ask
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.script_made import make_again
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.surroundings import begin_settling, note_after, returned_attributes, surroundings
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.operations import PurgePackages
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.attributes import restore_attributes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change

STOPS = False
_DATABASE = 4 << 20


def describe(op: PurgePackages) -> tuple[str, str]:
    return "Registry forgets its settings", ", ".join(op.packages)


def why_not_mine(op: PurgePackages, machine: Machine) -> str:
    return "" if change.may_change(machine) else op.rights


def room(op: PurgePackages, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volumes[0].id: _DATABASE}


def check(op: PurgePackages, ask: Ask) -> None:
    """Its registry is asked with the removal."""


def do(op: PurgePackages, number: int, work: Work) -> dict[str, Any]:
    """What belongs to settings that were to go and stand where they stood is kept: a purge would delete it."""
    machine, kept = work.machine, work.keep_settings(op.line, op.packages)
    going = [p for p in work.going(op.line, op.packages) if p not in kept]
    change.wait_for_lock(machine)
    slot = work.earlier(number)
    left = sorted(n for n, (s, _) in change.states(machine, going).items() if s == "config-files")
    if slot is None and not left:
        return _said(kept)  # its registry knew nothing more of the others
    if slot is None:
        manifest = work.manifest(number, op, packages=going, **surroundings(machine, going, work.times))
        shelf = work.shelf("/x")
    else:
        manifest, shelf = slot.manifest, slot.shelf
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        if left:
            change.purge(machine, left)
        note_after(machine, fd, manifest, number, work.times)
    return _said(kept)


def _said(kept: list[str]) -> dict[str, Any]:
    return {"note": f"the registry keeps the settings of {', '.join(kept)}"} if kept else {}


def undo(slot: Slot, back: Back) -> str:
    """Make the folders and links again that the purge took, so that what stands on the shelf can return."""
    machine, folders = back.machine, slot.manifest["folders"]
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling = begin_settling(machine, fd, slot.manifest, back.times, [])
    for path in sorted(folders, key=lambda p: p.count("/")):
        if not machine.exists(path) and machine.exists(parent(path)):
            with machine.folder(parent(path)) as fd:
                os.mkdir(base(path), folders[path]["mode"], dir_fd=fd)
                os.chmod(base(path), folders[path]["mode"], dir_fd=fd)
    make_again(machine, slot.manifest["made"], settling["made"])
    restore_attributes(machine, returned_attributes(slot, settling["folders"], back.times))
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""
