"""What was in use can be left to the next start of the computer, from the Carry out station."""

from __future__ import annotations

import os
import shutil
import subprocess

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import built
from swept_shelf.at_start import UNIT, AtStart


class Somewhere(AtStart):
    """Units of a made-up computer that systemd manages."""

    def why_not(self, live: bool) -> str:
        return ""


@pytest.mark.skipif(shutil.which("systemctl") is None, reason="no systemd is here")
def test_what_was_skipped_is_planned_for_the_next_start_and_called_off(tmp_path, qtbot, monkeypatch):
    units = tmp_path / "etc/systemd/system"
    monkeypatch.setattr(
        "swept_shelf.desk.session.carrying.AtStart",
        lambda: Somewhere(units, ("systemctl", f"--root={tmp_path}"), tmp_path),
    )
    machine = built(1).copy(tmp_path / "machine")
    hero = machine.id("map", "7")
    with Desk(machine, qtbot) as desk:
        desk.survey()
        held = next(
            desk.machine.root / b.path[1:]
            for b in desk.session.survey.find(hero).belongings
            if b.ticked and "/home/" in b.path and (desk.machine.root / b.path[1:]).is_file()
        )
        holder = subprocess.Popen(["sleep", "600"], stdin=held.open())
        try:
            desk.session.ordering.set_verdict(hero, "remove")
            desk.session.ordering.answer([f"personal:{hero}"], "they_stay")
            desk.carry()
            QTest.keyClick(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
            desk.wait(lambda: desk.window.carry.start_button.isVisible())
            desk.click(desk.button("Finish it at the next start", desk.window.carry))
            desk.wait(lambda: desk.session.carrying.planned)
            if shot := os.environ.get("SHOT"):
                desk.window.grab().save(shot)
            assert "at-start --now 1" in (units / UNIT).read_text()
            desk.click(desk.button("Not at the next start", desk.window.carry))
            desk.wait(lambda: not desk.session.carrying.planned)
            assert not (units / UNIT).exists()
        finally:
            holder.kill()
            holder.wait()
