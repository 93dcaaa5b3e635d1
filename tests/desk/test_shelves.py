"""On the shelves: what is looked for stands out, drawings say what is no plain case, boxes are dragged to the slip."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest

from deskwork import Desk
from swept_shelf.core.documents.survey import Running, Start
from swept_shelf.core.documents.times import from_ns
from swept_shelf.desk.parts.dragging import LINES, lines_in
from swept_shelf.desk.survey import station
from swept_shelf.desk.survey.marks import MARK_WORDS, Mark, marks_of
from swept_shelf.desk.survey.shelf_layout import shelves_of

NONE = Qt.KeyboardModifier.NoModifier


@pytest.fixture
def desk(looked, qtbot):
    with Desk(looked.machine, qtbot) as open_desk:
        yield open_desk
        for line in list(open_desk.session.ordering.choice.verdicts):
            open_desk.session.ordering.set_verdict(line, "")


def dropped(slip, lines):
    data = QMimeData()
    data.setData(LINES, lines)
    slip.dropEvent(QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, NONE))


def test_every_mark_says_what_it_is_for(looked):
    plain = next(a for a in looked.surveyed.survey.applications if a.registry == "debian")
    plain = replace(plain, starts=[], running=[], needed_by=[], other_versions=[], also_here_as=[])
    at = from_ns(0)
    cases = {
        Mark.RUNNING: replace(plain, running=[Running(7, at, "isolde")]),
        Mark.LOGIN: replace(plain, starts=[Start("login", "/x", "isolde", True)]),
        Mark.NEEDED: replace(plain, needed_by=["debian:x"]),
        Mark.VERSION: replace(plain, other_versions=["debian:x"]),
        Mark.UNKNOWN: replace(plain, registry="files", launchers=[], summary=""),
    }
    assert marks_of(plain, ()) == () and marks_of(plain, {plain.id}) == (Mark.NEW,)
    assert {m: marks_of(a, ()) for m, a in cases.items()} == {m: (m,) for m in cases}
    assert set(MARK_WORDS) == set(Mark)
    assert marks_of(replace(plain, starts=[Start("login", "/x", "isolde", False)]), ()) == ()


def test_what_is_looked_for_stands_out_and_nothing_moves(desk):
    shelves, survey = desk.window.survey.shelves, desk.session.survey
    hero = survey.find(desk.machine.id("map", "7"))
    before = [(r, b.thing.line) for r, b, _ in shelves._places]
    desk.window.survey.find_field.setText(hero.name)
    desk.settle()
    assert [(r, b.thing.line) for r, b, _ in shelves._places] == before
    dim = {b.thing.line for _, b, _ in shelves._places if shelves._is_dim(b.thing)}
    assert hero.id not in dim and len(dim) > len(before) / 2
    loud = {t.text for t in shelves.texts if t.font == "bold" and t.background == "paper"}
    assert loud and all(hero.name.startswith(t.rstrip("…")) for t in loud)
    QTest.keyClick(desk.window.survey.find_field, Qt.Key.Key_Return)
    assert desk.session.selected == hero.id and shelves.hasFocus()
    desk.window.survey.find_field.clear()
    desk.settle()
    assert not any(shelves._is_dim(b.thing) for _, b, _ in shelves._places)


def test_small_things_say_how_many_of_them_are_found(desk):
    shelves = desk.window.survey.shelves
    rows = shelves_of(desk.session.survey, desk.session.survey.surveyed_at)
    row = max(rows, key=lambda r: len(r.things))
    large = [replace(row.things[0], line=f"large{i}", bytes=10_000) for i in range(40)]
    grains = [replace(row.things[0], line=f"grain{i}", name=f"grain {i}", bytes=1) for i in range(30)]
    shelves.show_rows([replace(row, things=(*large, *grains))], frozenset({"grain3", "grain9"}))
    assert {"+30 small", "2 found"} <= {t.text for t in shelves.texts}
    shelves.show_rows([replace(row, things=(*large, *grains))], frozenset({"large1"}))
    assert "none found" in {t.text for t in shelves.texts}


def test_what_is_dragged_is_all_in_hand_and_a_click_takes_one_alone(desk, monkeypatch):
    taken = []
    monkeypatch.setattr(station, "drag_lines", lambda lens, lines, said: taken.append((lines, said)))
    shelves = desk.window.survey.shelves
    places = [(r.center().toPoint(), b.thing.line) for r, b, _ in shelves._places if b.thing.line][:3]
    (first, a), (second, b), (third, c) = places
    QTest.mouseClick(shelves, Qt.MouseButton.LeftButton, pos=first)
    QTest.mouseClick(shelves, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, second)
    QTest.mousePress(shelves, Qt.MouseButton.LeftButton, pos=first)
    QTest.mouseMove(shelves, first + QPoint(40, 3))
    QTest.mouseRelease(shelves, Qt.MouseButton.LeftButton, pos=first + QPoint(40, 3))
    assert taken == [([a, b], "2 applications")]
    QTest.mouseClick(shelves, Qt.MouseButton.LeftButton, pos=second)
    assert shelves.hand() == [b]
    QTest.mousePress(shelves, Qt.MouseButton.LeftButton, pos=third)
    QTest.mouseMove(shelves, third + QPoint(0, 30))
    QTest.mouseRelease(shelves, Qt.MouseButton.LeftButton, pos=third)
    assert taken[-1] == ([c], desk.session.survey.find(c).name)
    desk.window.survey.take_lens("List")
    lens = desk.window.survey.list
    row = lens.visualRect(lens.rows.index(1, 0)).center()
    QTest.mousePress(lens.viewport(), Qt.MouseButton.LeftButton, pos=row)
    QTest.mouseMove(lens.viewport(), row + QPoint(30, 30))
    QTest.mouseRelease(lens.viewport(), Qt.MouseButton.LeftButton, pos=row + QPoint(30, 30))
    assert taken[-1][0] == [lens.rows.rows[1].key] and len(taken) == 3
    lens.selectAll()
    QTest.mouseClick(lens.viewport(), Qt.MouseButton.LeftButton, pos=row)
    assert lens.hand() == [lens.rows.rows[1].key]
    toggled = []
    lens.toggled.connect(toggled.append)
    QTest.mouseDClick(lens.viewport(), Qt.MouseButton.LeftButton, pos=row)
    assert toggled == [[lens.rows.rows[1].key]]


def test_what_is_dropped_on_the_slip_goes_and_keeps_a_verdict_it_has(desk):
    ordering, slip = desk.session.ordering, desk.window.survey.slip
    one, other = (a.id for a in desk.session.survey.applications[:2])
    ordering.set_verdict(one, "keep")
    dropped(slip, f'["{one}", "{other}", "debian:never-was", 7]'.encode())
    assert ordering.choice.verdicts == {one: "keep", other: "remove"}
    for odd in (b"{}", b"\xff", b"[[1]]", b""):
        data = QMimeData()
        data.setData(LINES, odd)
        assert lines_in(data) == []
    assert lines_in(QMimeData()) == []
    ordering.undo()
    assert ordering.choice.verdicts == {one: "keep"}


def test_the_drawer_is_drawn_higher_remembered_and_let_go_of(looked, qtbot):
    with Desk(looked.machine, qtbot) as desk:
        desk.session.select(desk.machine.id("map", "7"))
        desk.settle()
        survey = desk.window.survey
        first, at = survey.drawers.height(), QPoint(200, 3)
        QTest.mousePress(survey.drawers.grip, Qt.MouseButton.LeftButton, pos=at)
        QTest.mouseMove(survey.drawers.grip, at - QPoint(0, 60))
        assert survey.drawers.height() == first + 60
        QTest.mouseRelease(survey.drawers.grip, Qt.MouseButton.LeftButton, pos=at)
        QTest.keyClick(
            desk.window,
            Qt.Key.Key_Up,
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
        )
        higher = survey.drawers.height()
        assert higher > first
        survey.drawers.draw(5000)
        assert survey.drawers.height() <= survey.height() * 0.6
        survey.drawers.draw(higher - survey.drawers.height())
    with Desk(looked.machine, qtbot) as desk:
        desk.session.select(desk.machine.id("map", "7"))
        desk.settle()
        assert abs(desk.window.survey.drawers.height() - higher) <= 2
        QTest.mouseDClick(desk.window.survey.drawers.grip, Qt.MouseButton.LeftButton, pos=at)
        assert desk.window.survey.drawers.height() == first


def test_a_list_ends_on_a_whole_row_at_every_height(desk):
    lens = desk.window.survey.list
    desk.window.survey.take_lens("List")
    for high in (700, 731, 766, 800):
        desk.window.resize(1280, high)
        desk.settle()
        assert lens.rows.rowCount() * lens._row_height > lens.viewport().height()
        assert lens.viewport().height() % lens._row_height == 0
    lens.verticalScrollBar().setValue(lens.verticalScrollBar().maximum())
    last = lens.visualRect(lens.rows.index(lens.rows.rowCount() - 1, 0))
    assert last.bottom() < lens.viewport().height()


def test_what_is_in_hand_is_in_hand_in_every_lens(desk):
    survey, hero = desk.window.survey, desk.machine.id("map", "7")
    desk.session.select(hero)
    survey.take_lens("Places")
    desk.settle()
    mine = {b.path for b in desk.session.entry.belongings}
    assert survey.places.in_hand in mine
    other = next(a for a in desk.session.survey.applications if a.id != hero and a.executables)
    survey.whose(other.executables[0])
    desk.settle()
    assert desk.session.selected == other.id
    survey.take_lens("Shelves")
    assert desk.session.selected == other.id
    survey.take_lens("Places")
    assert survey.places.in_hand in {b.path for b in other.belongings}
