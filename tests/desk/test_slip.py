"""Lines of the slip: noted, moved, each with what it frees where."""

from __future__ import annotations

import csv
import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import Job, cli
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import LONGEST_NOTE
from swept_shelf.core.documents.wire import read_order, to_json
from swept_shelf.core.orders import Choice, check_order
from swept_shelf.desk.survey.note_page import NotePage
from swept_shelf.desk.survey.slip import SlipLine

ALT = Qt.KeyboardModifier.AltModifier


@pytest.fixture
def desk(looked, qtbot):
    with Desk(looked.machine, qtbot) as open_desk:
        yield open_desk


def lines(desk):
    return [w for w in desk.window.survey.slip.findChildren(SlipLine) if w.isVisible()]


def test_a_note_is_written_by_key_stands_on_the_slip_and_can_be_undone(desk):
    hero, ordering = desk.machine.id("map", "7"), desk.session.ordering
    desk.session.select(hero)
    desk.window.survey.note(hero)
    assert desk.window.findChild(NotePage) is None  # nothing is noted of what is not on the order
    QTest.keyClick(desk.window.survey.shelves, Qt.Key.Key_Space)
    desk.settle()
    QTest.keyClick(desk.window.survey.shelves, Qt.Key.Key_N)
    page = desk.window.findChild(NotePage)
    QTest.keyClicks(page.field, "the owner  has the newer one")
    QTest.keyClick(page.field, Qt.Key.Key_Return)
    desk.settle()
    assert ordering.order.line(hero).note == "the owner has the newer one"
    assert any("the owner has the newer one" in w.accessibleName() for w in lines(desk))
    ordering.undo()
    assert ordering.order.line(hero).note == ""
    ordering.redo()
    ordering.set_note(hero, "")
    assert ordering.order.line(hero).note == "" and not ordering.choice.notes
    ordering.set_verdict(hero, "")


def test_lines_move_by_key_and_the_keyboard_goes_along(desk):
    ordering = desk.session.ordering
    three = [a.id for a in desk.session.survey.applications if a.registry == "debian" and not a.needed_by][:3]
    ordering.set_verdicts(three, "keep")
    desk.settle()
    lines(desk)[0].setFocus()
    QTest.keyClick(lines(desk)[0], Qt.Key.Key_Down, ALT)
    desk.settle()
    assert [x.id for x in ordering.order.lines] == [three[1], three[0], three[2]]
    assert lines(desk)[1].hasFocus()
    QTest.keyClick(lines(desk)[0], Qt.Key.Key_Up, ALT)  # there is nothing above
    assert [x.id for x in ordering.order.lines] == [three[1], three[0], three[2]]
    ordering.undo()
    assert [x.id for x in ordering.order.lines] == three
    ordering.set_verdicts(three, "keep")


def test_a_line_says_what_it_frees_on_each_volume(desk):
    ordering = desk.session.ordering
    hero = desk.machine.id("map", "7")
    ordering.set_verdict(hero, "remove")
    desk.settle()
    line = ordering.order.line(hero)
    assert sum(line.comes_back_on.values()) == line.comes_back and len(line.comes_back_on) == 2
    (shown,) = lines(desk)
    assert " on / " in shown.toolTip() + " " and " on /home" in shown.toolTip()
    ordering.set_verdict(hero, "")


def test_the_command_line_notes_too_and_the_reports_have_it(made_up, tmp_path):
    hero = made_up.id("map", "7")
    where = ["--root", str(made_up.folder)]
    cli(*where, "survey")
    done = cli(
        *where, "order", hero, "--settle", f"personal:{hero}=they_stay", "--note", f"{hero}=a\n newer =one"
    )
    order = json.loads(done.stdout)
    assert order["lines"][0]["note"] == "a newer =one"
    for wrong in ("nothing", "no-such-app=x", f"{made_up.id('mail')}=not on it"):
        assert cli(*where, "order", hero, "--note", wrong).returncode == 2
    too_long = cli(*where, "order", hero, "--note", f"{hero}={'x' * (LONGEST_NOTE + 1)}")
    assert too_long.returncode == 2 and "characters" in too_long.stderr
    (tmp_path / "order.json").write_text(done.stdout)
    cli(*where, "carry-out", str(tmp_path / "order.json"))
    report = cli(*where, "report", "-o", str(tmp_path / "visit.csv"))
    with open(tmp_path / "visit.csv", newline="") as table:
        assert next(csv.DictReader(table))["note"] == "a newer =one", report.stderr


def test_an_order_with_a_note_that_is_too_long_is_refused_and_an_older_one_is_read(looked):
    job = Job(looked.machine, survey=False)
    visit, surveyed = job.shop.latest()
    hero = looked.machine.id("map", "7")
    with pytest.raises(Refused, match="characters"):
        job.shop.orders.draw(visit, surveyed, Choice({hero: "remove"}, notes={hero: "x" * 401}))
    order = job.shop.orders.draw(visit, surveyed, Choice({hero: "remove"}, notes={hero: "short"}))
    plain = json.loads(to_json(order))
    plain["lines"][0]["note"] = "x" * 5000
    with pytest.raises(Refused, match="a note of 5000 characters"):
        check_order(read_order(json.dumps(plain).encode(), "o"), surveyed.scope, "o")
    del plain["lines"][0]["note"], plain["lines"][0]["comes_back_on"]
    assert read_order(json.dumps(plain | {"version": 2}).encode(), "o").line(hero).note == ""
