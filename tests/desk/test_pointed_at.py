"""What somebody made and points at an application is asked about on the desk, and goes only when that was the answer."""

from __future__ import annotations

import os

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import built


@pytest.fixture
def desk(tmp_path, qtbot):
    machine = built(1).copy(tmp_path / "machine")
    name = machine.id("map", "7").removeprefix("debian:")
    script = machine.root / "home/isolde/bin/nightly-sheets"
    script.parent.mkdir(exist_ok=True)
    script.write_text(
        f"#!/bin/sh\n/usr/bin/env true\n{name} --export ~/Documents/all-the-sheets-of-the-valley\n"
    )
    script.chmod(0o755)
    with (machine.root / "etc/fstab").open("a") as table:
        table.write(f"{name}#/srv/maps /mnt/maps fuse ro 0 0\n")
    with Desk(machine, qtbot) as made:
        yield made


def test_somebodys_own_places_are_asked_about_and_go_when_that_is_the_answer(desk):
    hero = desk.machine.id("map", "7")
    desk.survey()
    desk.session.ordering.set_verdict(hero, "remove")
    QTest.keyClick(desk.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.session.ordering.rehearsal is not None)
    question = next(q for q in desk.session.ordering.order.settle if q.question == "pointed_at")
    assert "2 places" in question.title and "/etc/fstab" in question.evidence
    desk.settle()
    if shot := os.environ.get("SHOT"):
        desk.window.grab().save(shot)
    asked = [r for r in desk.session.survey.find(hero).references if r.action == "ask"]
    assert len(asked) == 2
    desk.session.ordering.answer([question.id], "go_too")
    desk.session.ordering.answer([f"personal:{hero}"], "they_stay")
    desk.wait(lambda: desk.window.order.carry_button.isEnabled())
    line = desk.session.ordering.order.line(hero)
    assert all(r.id in line.references for r in asked)
    desk.click(desk.window.order.carry_button)
    desk.wait(lambda: desk.session.carrying.state == "ended" and desk.session.proving.clearance is not None)
    root = desk.machine.root
    assert (root / "home/isolde/bin/nightly-sheets").read_text() == "#!/bin/sh\n/usr/bin/env true\n"
    assert "/mnt/maps" not in (root / "etc/fstab").read_text()
    assert desk.session.proving.clearance.findings == 0
