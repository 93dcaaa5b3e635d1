"""Clearance on the desk: what was found is taken out on the spot or left with a reason, a name is asked for, it is signed off."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from deskwork import Desk
from staging import copied, staged
from swept_shelf.core.documents.clearance import FAMILIES
from swept_shelf.desk.parts.fold import Fold
from swept_shelf.desk.parts.pdf import write_pdf
from swept_shelf.desk.stations.signing import Signing


def went(job):
    job.carry(job.prepare(job.order(job.machine.id("map", "7"))))
    job.clearance()


@pytest.fixture
def proved(tmp_path, qtbot):
    """A desk at Clearance, with what points again at what went."""
    machine = copied(staged(went), tmp_path / "machine").machine
    with Desk(machine, qtbot) as desk:
        hero = machine.id("map", "7")
        command = hero.removeprefix("debian:")
        home = machine.root / "home/isolde"
        (home / ".bash_aliases").write_text(f"alias one='ls'\nalias two='{command} -x'\n")
        (home / "bin").mkdir(exist_ok=True)
        (home / "bin/own.sh").write_text(f"#!/bin/sh\nls\n{command}\n")
        (home / "bin/own.sh").chmod(0o755)
        (machine.root / "etc/viewer.yaml").write_text(f"like: what {command} does\n")
        desk.window.go("Clearance")
        desk.click(desk.window.clearance.look_button)
        desk.wait(lambda: desk.session.proving.clearance.findings > 0 and not desk.session.busy)
        yield desk, home, command


def button_called(station, text):
    return next(b for b in station.side.findChildren(QPushButton) if b.text() == text and b.isVisible())


def in_hand(desk, family):
    desk.window.clearance.matrix._move(0, FAMILIES.index(family))
    desk.settle()


def test_a_finding_is_taken_out_where_one_stands_and_everything_is_looked_at_again(proved):
    desk, home, command = proved
    station = desk.window.clearance
    in_hand(desk, "shell")
    assert "line 2" in [x.text() for x in station.side.findChildren(type(station._left))]
    first = desk.session.proving.clearance.id
    desk.click(button_called(station, "Take it out"))
    desk.wait(lambda: desk.session.proving.clearance.id != first and not desk.session.busy)
    assert (home / ".bash_aliases").read_text() == "alias one='ls'\n"
    assert desk.window.stations.currentWidget() is station and not desk.session.proving.working
    left = [f.path for line in desk.session.proving.clearance.lines for _, f in line.found]
    assert left == ["/home/isolde/bin/own.sh"] and not station.take_button.isVisible()
    assert command in (home / "bin/own.sh").read_text()


def test_what_is_left_is_left_with_a_reason_and_signed_for_with_every_report(proved, tmp_path):
    desk, _, _ = proved
    station = desk.window.clearance
    in_hand(desk, "other_programs")
    (reason,) = station.side.reasons.values()
    QTest.keyClicks(reason, "her own")
    QTest.keyClick(reason, Qt.Key.Key_Return)
    desk.settle()
    assert "left on purpose" in station.matrix.accessibleDescription()
    desk.click(station.take_button)
    desk.wait(lambda: desk.session.proving.clearance.findings == 1 and not desk.session.busy)
    desk.click(station.sign_button)
    (dialog,) = desk.window.findChildren(Signing)
    desk.click(dialog.sign)
    assert dialog.isVisible() and dialog.wrong.text() == "Say who signs."
    dialog.name.setText("Ragna")
    dialog.folder.setText(str(tmp_path / "nowhere"))
    desk.click(dialog.sign)
    assert "is not a folder" in dialog.wrong.text()
    dialog.folder.setText(str(tmp_path))
    desk.click(dialog.sign)
    desk.wait(lambda: desk.session.proving.written and not desk.session.busy)
    assert {p.name for p in desk.session.proving.written} == {
        "visit-1-page.html", "visit-1-page.pdf", "visit-1-record.html", "visit-1.json", "visit-1.csv",
        "visit-1-before.cdx.json", "visit-1-after.cdx.json", "visit-1-difference.cdx.json",
    }  # fmt: skip
    assert "Signed off by Ragna" in station.stands.text() and station.open_button.isVisible()
    assert not station.sign_button.isVisible()
    page = (tmp_path / "visit-1-page.html").read_text()
    assert "her own" in page and "1 place that was left on purpose" in page
    assert (tmp_path / "visit-1-page.pdf").read_bytes().startswith(b"%PDF")
    names = [
        {c["name"] for c in json.loads((tmp_path / f"visit-1-{side}.cdx.json").read_text())["components"]}
        for side in ("before", "after")
    ]
    hero = desk.session.survey.find(desk.machine.id("map", "7")).name
    assert hero in names[0] and hero not in names[1]


def test_a_name_is_asked_for_and_the_way_back_leads_to_the_order(proved):
    desk, home, _ = proved
    station = desk.window.clearance
    (home / ".config/thimbleweft").mkdir()
    (home / ".config/thimbleweft/x.conf").write_text("a")
    QTest.keyClicks(station.name_field, "thimbleweft")
    QTest.keyClick(station.name_field, Qt.Key.Key_Return)
    desk.wait(lambda: desk.session.proving.trace is not None and not desk.session.busy)
    assert station._head.text() == "Is anything left of thimbleweft?" and not station.sign_button.isVisible()
    assert not station.space.isVisible() and station.back_button.isVisible()
    desk.click(button_called(station, "Take it out"))
    desk.wait(lambda: not (home / ".config/thimbleweft").exists() and not desk.session.busy)
    desk.wait(lambda: desk.session.proving.trace.findings == 0 and not desk.session.busy)
    assert station._left.text() == "Nothing of it is left anywhere."
    desk.click(station.back_button)
    assert station._head.text().startswith("Clearance of order")


def test_a_word_that_the_survey_does_not_know_is_looked_for_everywhere(proved):
    desk, home, _ = proved
    (home / ".config/thimbleweft").mkdir()
    (home / ".config/thimbleweft/x.conf").write_text("a")
    desk.window.go("Survey")
    field = desk.window.survey.find_field
    QTest.keyClicks(field, "thimbleweft")
    QTest.keyClick(field, Qt.Key.Key_Return)
    desk.wait(lambda: desk.session.proving.trace is not None and not desk.session.busy)
    assert desk.window.stations.currentWidget() is desk.window.clearance
    assert [f.path for f in desk.session.proving.shown.found()] == ["/home/isolde/.config/thimbleweft"]


def test_the_evidence_names_places_and_mentions_behind_folds(proved):
    desk, _, command = proved
    station = desk.window.clearance
    in_hand(desk, "schedules")
    where, mentions = station.side.findChildren(Fold)
    assert not mentions.opened and "mention" in mentions.head.text()
    desk.click(mentions.head)
    shown = [x.text() for x in mentions.findChildren(type(station._head))]
    assert (
        mentions.opened and "/etc/viewer.yaml, line 1" in shown and f"    like: what {command} does" in shown
    )
    assert "open" in mentions.head.accessibleName() and where.head.accessibleName().endswith("folded")


def test_a_file_that_changed_meanwhile_is_said_and_nothing_is_done(proved):
    desk, home, command = proved
    station = desk.window.clearance
    in_hand(desk, "shell")
    text = (home / ".bash_aliases").read_text() + "# more\n"
    (home / ".bash_aliases").write_text(text)
    desk.click(button_called(station, "Take it out"))
    desk.wait(lambda: not desk.session.busy and not desk.session.proving.working)
    assert (home / ".bash_aliases").read_text() == text and command in text
    assert "nothing to carry out" in desk.window.foot.text()


def test_what_is_a_little_more_than_a_sheet_is_printed_on_one(tmp_path, qtbot):
    html = "".join(f"<p>line {i}</p>" for i in range(48))
    assert write_pdf(html, tmp_path / "one.pdf", "x", one_sheet=True) == 1
    assert write_pdf(html, tmp_path / "two.pdf", "x") == 2
    assert (tmp_path / "one.pdf").read_bytes().startswith(b"%PDF")
