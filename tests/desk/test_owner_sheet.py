"""On the desk: the owner is asked by a key, the sheet is written, comes back, and decides."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from auditing import audit
from deskwork import Desk


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
