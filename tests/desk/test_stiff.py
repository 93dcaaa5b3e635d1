"""What would not go its own way is asked about on the desk, with the last resort set apart."""

from __future__ import annotations

import os

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import built
from stiff import ID, STUBBORN, half_installed, package


def to_order(desk):
    desk.survey()
    desk.session.ordering.set_verdict(ID, "remove")
    QTest.keyClick(desk.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.session.ordering.rehearsal is not None)
    return [q for q in desk.session.ordering.order.settle if q.question == "scripts"]


def test_a_broken_package_is_asked_about_and_goes_as_a_last_resort(tmp_path, qtbot):
    with Desk(half_installed(tmp_path, built(1).copy(tmp_path / "machine")), qtbot) as desk:
        (question,) = to_order(desk)
        assert "half-installed" in question.evidence and not desk.window.order.carry_button.isEnabled()
        if shot := os.environ.get("SHOT"):
            desk.window.grab().save(shot)
        desk.click(desk.button("Last resort: without its scripts", desk.window.order))
        desk.wait(lambda: desk.window.order.carry_button.isEnabled())
        desk.click(desk.window.order.carry_button)
        desk.wait(
            lambda: desk.session.carrying.state == "ended" and desk.session.proving.clearance is not None
        )
        assert not (desk.machine.root / "usr/bin/stiff").exists()


def test_what_was_refused_is_asked_about_when_it_is_tried_again_at_the_same_desk(tmp_path, qtbot):
    with Desk(package(tmp_path, built(1).copy(tmp_path / "machine"), STUBBORN), qtbot) as desk:
        assert not to_order(desk)
        desk.carry()
        (question,) = to_order(desk)
        assert "dpkg left stiff" in question.evidence
        assert (desk.machine.root / "usr/bin/stiff").exists()
