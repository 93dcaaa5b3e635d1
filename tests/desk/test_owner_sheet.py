"""On the desk: the owner is asked by a key, the sheet is written, comes back, and decides."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from auditing import audit
from deskwork import Desk
from helpers import Job


@pytest.mark.parametrize(("size", "dark", "scale"), [((1280, 800), True, 1.0), ((1024, 700), False, 1.5)])
def test_its_questions_are_whole_on_a_small_screen_with_large_letters_and_in_the_dark(
    looked, qtbot, size, dark, scale
):
    with Desk(looked.machine, qtbot, size, dark, scale) as desk:
        lines = [looked.machine.id("label"), looked.machine.id("quest"), looked.machine.id("map", "7")]
        desk.session.ordering.set_verdicts(lines, "ask_owner")
        desk.window.go("Order")
        desk.settle()
        assert audit(desk.window) == []


def test_the_owner_is_asked_and_what_comes_back_decides(looked, qtbot, tmp_path):
    with Desk(looked.machine, qtbot) as desk:
        s, lines = desk.session, [looked.machine.id("label"), looked.machine.id("quest")]
        for line in lines:
            s.select(line)
            desk.settle()
            QTest.keyClick(desk.window.survey.lens_in_hand, Qt.Key.Key_A)
            desk.settle()
        assert {s.ordering.verdict(line) for line in lines} == {"ask_owner"}
        desk.window.go("Order")
        desk.settle()
        station = desk.window.stations.currentWidget()
        assert audit(desk.window) == [] and not station.carry_button.isEnabled()
        assert desk.button("Question sheet…", station) and desk.button("Answers…", station)
        for ending in (".html", ".md"):
            station.owner.write(str(tmp_path / f"sheet{ending}"))
            desk.wait(lambda e=ending: (tmp_path / f"sheet{e}").exists())
        text = (tmp_path / "sheet.md").read_text().replace("Answered by:", "Answered by: Isolde")
        (tmp_path / "back.md").write_text(text.replace("- [ ] keep it", "- [x] keep it"))
        station.owner.read(str(tmp_path / "back.md"))
        desk.wait(lambda: not s.ordering.order.unsettled)
        assert {line.verdict for line in s.ordering.order.lines} == {"keep"}
        assert {q.answered_by for q in s.ordering.order.settle} == {"Isolde"}
        said = []
        s.said.connect(said.append)
        station.owner.read(str(tmp_path / "sheet.html"))
        desk.wait(lambda: bool(said))
        assert "no question sheet" in said[0]


def test_an_order_leaves_as_a_file_and_comes_in_at_another_desk_with_what_differs(made_up, qtbot, tmp_path):
    job = Job(made_up)
    hero, other = made_up.id("map", "7"), made_up.id("quest")
    file = tmp_path / "order.json"
    with Desk(made_up, qtbot) as desk:
        desk.session.ordering.set_verdicts([hero, other], "remove")
        desk.session.ordering.set_note(hero, "asked on the phone")
        desk.window.go("Order")
        desk.settle()
        desk.window.order.file.write(str(file))
        desk.wait(file.exists)
    text = json.loads(file.read_text())
    text["lines"][1] |= {"id": "debian:long-gone", "name": "Long Gone"}
    file.write_text(json.dumps(text))
    job.survey()
    with Desk(made_up, qtbot) as desk:
        s = desk.session
        desk.window.go("Order")
        desk.settle()
        desk.window.order.file.read(str(file))
        desk.wait(lambda: s.ordering.rehearsal is not None)
        assert [line.id for line in s.ordering.order.lines] == [text["lines"][0]["id"]]
        assert any("Long Gone" in d for d in s.ordering.differs) and audit(desk.window) == []
        s.ordering.undo()
        assert s.ordering.order is None
        said = []
        s.said.connect(said.append)
        file.write_text("{}")
        desk.window.order.file.read(str(file))
        desk.wait(lambda: bool(said))
        assert str(file) in said[0] and s.ordering.order is None
