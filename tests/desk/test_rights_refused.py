"""Carrying out needs rights that nobody gives: why stands there, nothing is looked at, nobody is asked once more; it can be tried
again."""

from __future__ import annotations

import os

from deskwork import Desk
from helpers import built, picture
from swept_shelf.rights.asking import ASKED


def test_where_no_rights_are_given_why_stands_there_and_it_can_be_tried_again(tmp_path, qtbot, monkeypatch):
    machine = built(1).copy(tmp_path / "machine")
    hero = machine.id("map", "7")
    with Desk(machine, qtbot) as desk:
        desk.survey()
        session, station = desk.session, desk.window.carry
        session.ordering.set_verdict(hero, "remove")
        session.ordering.answer([f"personal:{hero}"], "they_stay")
        before, given = picture(desk.machine.root), session.shop.orders.carry_request
        # the real way is gone, and refuses: for want of a helper that is trusted, or by the helper itself, which knows no such run
        monkeypatch.setattr(
            session.shop.orders, "carry_request", lambda run: given(run) | {"by_rights": True}
        )
        said = []
        session.run_changed.connect(lambda: said.append(station._sub.toolTip() or station._sub.text()))
        desk.carry()
        desk.window.go("Carry out")
        desk.settle()
        assert any(ASKED in s for s in said)
        assert station._head.text() == "Nothing was carried out"
        assert station._problem.isVisible() and "rights" in station._problem.text()
        if shot := os.environ.get("SHOT"):
            desk.window.grab().save(shot)
        assert not station.proof_button.isVisible() and not session.proving.due
        assert session.looking.progress is None and session.proving.clearance is None
        assert picture(desk.machine.root) == before
        monkeypatch.undo()
        desk.click(desk.button("Try again", station))
        desk.wait(lambda: session.carrying.state == "ended" and session.proving.clearance is not None)
        assert not station._problem.isVisible() and session.carrying.begun
