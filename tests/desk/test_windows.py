"""Other machines and earlier visits: each in a window of its own, an earlier visit to be looked at only."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from deskwork import Desk
from helpers import cli
from swept_shelf.cli import systems as command
from swept_shelf.core.machine import systems
from swept_shelf.core.machine.systems import mounted_systems
from swept_shelf.desk import windows
from swept_shelf.desk.machines_page import MachinesPage
from swept_shelf.desk.session import Session
from swept_shelf.desk.window import Window
from swept_shelf.workshop import Workshop


@pytest.fixture
def begun(monkeypatch):
    """The command lines of desks that were begun; each ends at once."""
    lines = []

    def command(module, *arguments):
        lines.append([module, *arguments])
        return [sys.executable, "-c", ""]

    monkeypatch.setattr(windows, "own_python", command)
    return lines


@pytest.fixture
def visited(job):
    """A machine with a visit in which the map program went, and one after it."""
    hero = job.machine.id("map", "7")
    job.carry(job.prepare(job.order(hero)))
    job.clearance()
    job.shop.ledger.close_visit(job.shop.machine.key)
    job.survey()
    return job, hero


def test_this_computer_is_among_the_systems_that_are_mounted():
    first = mounted_systems()[0]
    assert first.root == "/" and first.name


def test_the_command_line_lists_the_same_and_says_what_a_visit_is_for(looked):
    assert [s["root"] for s in json.loads(cli("systems", "--format", "json").stdout)] == [
        s.root for s in mounted_systems()
    ]
    assert "/" in cli("systems").stdout
    wrong = cli("--root", str(looked.machine.folder), "--visit", "1", "visits")
    assert wrong.returncode == 2 and "--visit is for the desk" in wrong.stderr


def test_a_folder_that_is_no_system_is_not_offered():
    """A system is mounted over a folder of a private view of the mounts; another one is empty."""
    script = """
import os, subprocess, sys
subprocess.run(["mount", "-t", "tmpfs", "none", "/mnt"], check=True)
for name in ("system", "empty"):
    os.mkdir("/mnt/" + name)
    subprocess.run(["mount", "-t", "tmpfs", "none", "/mnt/" + name], check=True)
for part in ("etc", "usr"):
    subprocess.run(["mkdir", "/mnt/system/" + part], check=True)
open("/mnt/system/etc/os-release", "w").write('PRETTY_NAME="Herbarium 4"\\n')
from swept_shelf.core.machine.systems import mounted_systems
print([(s.root, s.os) for s in mounted_systems() if s.root.startswith("/mnt/")])
"""
    done = subprocess.run(
        ["unshare", "-m", "--propagation", "private", sys.executable, "-c", script],
        capture_output=True,
        text=True,
    )
    assert done.stdout.strip() == str([("/mnt/system", "Herbarium 4")]), done.stderr


def test_a_mount_is_left_out_by_its_whole_name_and_one_of_odd_bytes_is_listed(tmp_path, monkeypatch):
    kernel, beside, odd = (
        tmp_path / "sys",
        tmp_path / "sysroot",
        Path(os.fsdecode(bytes(tmp_path) + b"/\xff")),
    )
    for root in (kernel, beside, odd):
        for part in ("etc", "usr"):
            (root / part).mkdir(parents=True)
    monkeypatch.setattr(systems, "_OF_THE_SYSTEM", (str(kernel),))
    monkeypatch.setattr(systems, "mount_points", lambda _: ["/", str(kernel), str(beside), str(odd)])
    assert [s.root for s in mounted_systems()] == ["/", str(beside), str(odd)]
    shown = []
    monkeypatch.setattr(command, "out_json", shown.append)
    command.systems.callback("json")
    assert json.loads(shown[0])[-1]["root"] == str(odd)


def test_another_machine_opens_in_a_window_of_its_own(looked, qtbot, begun):
    with Desk(looked.machine, qtbot) as desk:
        QTest.keyClick(desk.window, Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier)
        page = desk.window.findChild(MachinesPage)
        desk.wait(lambda: page.table.rows.rowCount() > 0)
        assert page.table.key() == "/" and page.open_button.isEnabled()
        QTest.keyClick(page.table, Qt.Key.Key_Return)
        desk.wait(lambda: not desk.session.busy)
    assert begun == [["swept_shelf", "--root", "/"]]


def test_a_machine_is_not_opened_twice_from_its_own_desk(qtbot):
    page = MachinesPage("/")
    qtbot.addWidget(page)
    page.show()
    qtbot.waitUntil(lambda: page.table.rows.rowCount() > 0)
    assert page.table.key() == "/" and not page.open_button.isEnabled()
    page.reject()


def test_an_earlier_visit_is_opened_from_the_ledger_and_shows_what_it_was(visited, qtbot, begun):
    job, hero = visited
    with Desk(job.machine, qtbot) as desk:
        desk.window.go("Ledger")
        desk.settle()
        assert not desk.window.ledger.window_button.isEnabled()
        desk.click(desk.window.ledger.visits[-1])
        desk.click(desk.window.ledger.window_button)
        desk.wait(lambda: not desk.session.busy)
    ((module, *arguments),) = begun
    assert module == "swept_shelf" and arguments[-2:] == ["--visit", "1"]
    session = Session(Workshop(str(job.machine.folder)), "1")
    window = Window().furnish(session)
    qtbot.addWidget(window)
    window.show()
    session.open()
    qtbot.waitUntil(lambda: session.survey is not None and not (session.busy or session.standing.busy))
    said = []
    session.said.connect(said.append)
    assert window.station == "Survey"
    assert session.survey.find(hero) is not None and "Visit 1" in session.past
    window.survey.take_lens("Places")
    assert window.survey.lens_in_hand is window.survey.shelves
    session.select(hero)
    session.ordering.set_verdict(hero, "remove")
    session.looking.take_survey()
    assert session.ordering.choice.verdicts == {} and session.looking.progress is None
    assert said and "nothing is decided" in said[0]
    slip = [w.accessibleName() for w in window.survey.slip.findChildren(type(window.survey.slip._carry))]
    assert any(name.startswith(session.survey.find(hero).name) for name in slip)
    assert not window.survey.slip._carry.isEnabled() and "shown only" in window.header._rights.text()
    failed = []
    session.start_worker({"do": "survey"}, lambda _: None, failed.append)
    qtbot.waitUntil(lambda: bool(failed))
    assert "Visit 1" in failed[0] and session.worker is None
    acting = {"Remove", "Clear cache", "Look again", "Sign off…", "Put back", "Empty…", "Survey again"}
    for station in ("Survey", "Order", "Carry out", "Clearance", "Ledger"):
        window.go(station)
        qtbot.waitUntil(lambda: not (session.busy or session.standing.busy))
        shown = {b.text() for b in window.findChildren(QPushButton) if b.isVisible() and b.isEnabled()}
        assert not shown & acting, station
    session.close()


def test_a_visit_that_never_was_is_said(looked, tmp_path):
    env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    code = f"""
from swept_shelf.desk.session import Session
from swept_shelf.desk.window import Window
from swept_shelf.workshop import Workshop
from PySide6.QtWidgets import QApplication
app = QApplication([])
s = Session(Workshop({str(looked.machine.folder)!r}), "77")
w = Window().furnish(s); w.show(); s.open()
while s.behind.busy: app.processEvents()
print(w.survey.first.text.text())
s.close()
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=env)
    assert "77" in done.stdout, done.stderr
