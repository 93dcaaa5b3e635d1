"""Having a registry of whole applications uninstall some, kept in its own store until the shelf is emptied; and all of them again."""

from __future__ import annotations

from types import ModuleType
from typing import Any

from swept_shelf.core.carry.ask import Ask, must_be_writable
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.errors import Gone, Refused
from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.attributes import attributes, restore_attributes
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.removing import remove_tree
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.registries.flatpak import change as flatpak
from swept_shelf.core.registries.rpm import change as rpm
from swept_shelf.core.registries.snap import change as snap

STOPS = True  # what belongs to an application that is still there stays with it
_STORES: dict[str, ModuleType] = {"flatpak": flatpak, "rpm": rpm, "snap": snap}
_NAMES = {"flatpak": "Flatpak", "rpm": "RPM", "snap": "Snap"}
_DATABASE = 4 << 20


def describe(op: Uninstall) -> tuple[str, str]:
    return f"Uninstall through {_NAMES.get(op.registry, op.registry)}", ", ".join(op.refs)


def why_not_mine(op: Uninstall, machine: Machine) -> str:
    return "" if _STORES[op.registry].may_change(machine, op) else op.rights


def room(op: Uninstall, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volume_of(volumes, op.place).id: _DATABASE}


def check(op: Uninstall, ask: Ask) -> None:
    """The registry's own word: that it would remove exactly these. Raises Refused, CouldNotRead."""
    must_be_writable(ask, op.place)
    _must_be_possible(op, ask.machine)
    before = ask.uninstalled.setdefault(f"{op.registry} {op.place}", set())
    if said := _STORES[op.registry].ask(ask.machine, op, before if ask.pure else ()):
        before |= set(said)
        asked = f"{_NAMES[op.registry]} was asked: it would remove the same "
        for earlier in [n for n in ask.notes if n.startswith(asked)]:
            del ask.notes[earlier]
        count = sum(len(refs) for k, refs in ask.uninstalled.items() if k.startswith(f"{op.registry} "))
        ask.notes[f"{asked}{count}"] = None


def _must_be_possible(op: Uninstall, machine: Machine) -> None:
    if op.registry not in _STORES:
        raise Refused(f"nothing is removed through {op.registry}")
    if why := _STORES[op.registry].why_not(machine, op):
        raise Refused(why, op.place)


def do(op: Uninstall, number: int, work: Work) -> dict[str, Any]:
    machine = work.machine
    _must_be_possible(op, machine)
    store, slot = _STORES[op.registry], work.earlier(number)
    if slot is None:
        if not store.ask(machine, op):
            raise Gone("was gone already", op.place)
        around = {
            p: attributes(machine, p, s)
            for p in dict.fromkeys(store.touched(machine, op))
            if (s := machine.lstat(p))
        }
        manifest = work.manifest(
            number,
            op,
            registry=op.registry,
            place=op.place,
            person=op.person,
            refs=op.refs,
            commits=op.commits,
            kept=store.to_keep(machine, op, f"{work.run.id}-{number}"),
            around=around,
            before=store.before(machine, op),
        )
        shelf = work.shelf(op.place)
    else:
        manifest, shelf = slot.manifest, slot.shelf
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        store.keep(machine, op, manifest["kept"], fd)
        store.uninstall(machine, op, manifest["kept"])
        _take_away(store, machine, op, store.remains(machine, op))
    return {}


def needed(slot: Slot, back: Back) -> list[Slot]:
    """Others of the run without which what comes back would not start: whole runtimes that went after their last user."""
    op = _op_of(slot)
    if op.registry != "flatpak":
        return []
    lacking = set(flatpak.lacking(back.machine, op, slot.manifest["kept"]))
    return [
        s
        for s in back.slots
        if s.manifest["do"] == slot.manifest["do"]
        and lacking & set(s.manifest["refs"])
        and all(r.startswith("runtime/") for r in s.manifest["refs"])
        and not s.emptying
    ]


def _take_away(store: ModuleType, machine: Machine, op: Uninstall, paths: list[str]) -> None:
    """What the registry’s tool left where it was cut off inside. Raises OSError, Refused."""
    for path in paths:
        with store.folder_of(machine, op, path) as folder:
            remove_tree(folder, base(path))


def undo(slot: Slot, back: Back) -> str:
    """Deployed again from its own store. Returns "" or why it stays. Raises OSError, CouldNotRead, Refused."""
    machine, kept, op = back.machine, slot.manifest, _op_of(slot)
    _must_be_possible(op, machine)
    store = _STORES[op.registry]
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        why = store.give_back(machine, op, kept["kept"], fd)
    if why:
        return str(why)
    _take_away(store, machine, op, store.half_made(machine, op, kept["before"]))
    store.let_go(machine, op, kept["kept"], prune=False)
    store.tidy(machine, op, kept["before"])
    restore_attributes(machine, kept["around"])
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def drop(slot: Slot, machine: Machine) -> None:
    """For good: the store keeps it no longer. Raises OSError, CouldNotRead, Refused."""
    op = _op_of(slot)
    _must_be_possible(op, machine)
    _STORES[op.registry].let_go(machine, op, slot.manifest["kept"], prune=True)


def _op_of(slot: Slot) -> Uninstall:
    m = slot.manifest
    return Uninstall(
        m["line"],
        m["registry"],
        m["place"],
        m["person"],
        m["refs"],
        m["commits"],
        [],
        m["bytes"],
        m["volume"],
        "",
    )
