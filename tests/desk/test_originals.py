"""Where a volume has no room for the way back, the desk offers another folder for originals of packages, and uses it."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PySide6.QtWidgets import QFileDialog

from deskwork import Desk
from helpers import Job, MadeUp, cli
from swept_shelf.core.carry.room import lacking
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.description import NAME, write_description


def with_room_for_all_but_originals(made_up: MadeUp, order: Order, elsewhere: Path) -> None:
    """Tell of a volume of the system in which just these have no room."""
    told = json.loads((made_up.folder / NAME).read_text())
    operations = Job(made_up, survey=False).shop.orders.rehearse(order, "x").plan.operations
    capacity = told["volumes"][0]["capacity"]
    for base in range(capacity, 0, -50_000):
        told["volumes"][0]["base"] = base
        write_description(made_up.folder, told)
        machine = open_machine(made_up.folder)
        if lacking(machine, operations, "") and not lacking(machine, operations, str(elsewhere)):
            return
    pytest.fail("there is no such volume")


def test_originals_are_kept_elsewhere_where_their_volume_is_full(made_up, qtbot, monkeypatch, tmp_path):
    job = Job(made_up)
    chosen = made_up.id("map", "7")
    order, program = job.order(chosen), job.app(chosen).executables[0][1:]
    with_room_for_all_but_originals(made_up, order, tmp_path)
    (file := tmp_path / "order.json").write_bytes(to_json(order))
    for command in ("rehearse", "carry-out"):
        said = cli("--root", str(made_up.folder), command, str(file))
        assert said.returncode == 2 and "--originals DIR" in said.stderr, said
    asked = [str(tmp_path)]
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: asked.pop(0))
    with Desk(made_up, qtbot) as desk:
        s, station = desk.session, desk.window.order
        s.ordering.set_verdict(chosen, "remove")
        desk.settle()
        for question in s.ordering.order.settle:
            s.ordering.answer([question.id], "they_stay")
            desk.settle()
        desk.window.go("Order")
        desk.settle()
        assert "for the way back" in s.ordering.rehearsal.refused and not station.carry_button.isEnabled()
        desk.click(station.originals_button)
        desk.settle()
        assert not s.ordering.rehearsal.refused and station.carry_button.isEnabled()
        desk.click(station.originals_button)  # on the shelf after all
        desk.settle()
        assert s.ordering.rehearsal.refused and not station.carry_button.isEnabled()
        asked.append(str(tmp_path))
        desk.click(station.originals_button)
        desk.settle()
        desk.carry()
        (kept,) = tmp_path.glob("swept-shelf-originals-*")
        assert list(kept.iterdir()) and not s.carrying.originals_in
        assert not (made_up.root / program).exists()
        desk.window.go("Ledger")
        desk.click(desk.window.ledger.back_button)
        desk.wait(lambda: not s.busy and not s.shelf.waiting())
        assert (made_up.root / program).exists()
