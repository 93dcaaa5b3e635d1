"""While a survey is taken: what is known already stands there, can be sorted and decided, and nothing is made of it too early."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from swept_shelf.core.documents.terms import SoFar


@pytest.fixture
def desk(made_up, qtbot):
    with Desk(made_up, qtbot) as open_desk:
        yield open_desk


def at_each(desk, act):
    """Call `act` with what is known whenever more is, after the desk has shown it."""
    seen = []

    def look():
        so_far = desk.session.looking.so_far
        if desk.session.looking.progress is not None and so_far is not None and so_far.so_far not in seen:
            seen.append(so_far.so_far)
            act(so_far)

    desk.session.looking_changed.connect(look)
    return seen


def test_what_is_registered_stands_there_before_anything_else_and_can_be_decided(desk):
    hero, station = desk.machine.id("map", "7"), desk.window.survey
    rows, said, sizes = {}, {}, {}

    def act(so_far):
        station.take_lens("List")
        rows[so_far.so_far] = {e.id for e in station.list.entries}
        said[so_far.so_far] = (station.band.known.text(), station.shelves._rows[0].name)
        desk.session.select(hero)
        sizes[so_far.so_far] = desk.session.entry.bytes.program
        if not desk.session.ordering.verdict(hero):
            QTest.keyClick(station.list, Qt.Key.Key_Space)
        assert desk.session.ordering.order is None and not station.lens.buttons["Places"].isEnabled()
        assert "not known yet" in station.drawer._used.text()

    seen = at_each(desk, act)
    desk.survey()
    whole = desk.session.survey
    assert seen and seen == [k for k in SoFar if k in seen]
    assert all(hero in ids for ids in rows.values())
    assert all(shelf == "No date yet" and known for known, shelf in said.values())
    if SoFar.BELONGINGS in rows:
        assert rows[SoFar.BELONGINGS] == {e.id for e in whole.entries}
        assert sizes[SoFar.BELONGINGS] == whole.find(hero).bytes.program
    assert desk.session.ordering.order.line(hero).verdict == "remove"
    assert not station.band.isVisible() and station.lens.buttons["Places"].isEnabled()


def test_stopped_what_is_known_stays_in_sight_and_nothing_can_be_made_of_it(desk):
    station = desk.window.survey
    stopped = at_each(desk, lambda _: len(stopped) > 1 or desk.session.looking.cancel())
    desk.session.looking.take_survey()
    desk.wait(lambda: desk.session.looking.progress is None)
    assert desk.session.survey is None and desk.session.looking.so_far is not None
    assert station.band.head.text() == "Looking was stopped" and "not whole" in station.band.known.text()
    assert "not surveyed to the end" in desk.window.header._sub.text()
    assert desk.session.shop.ledger.visits(desk.session.shop.machine.key) == []
    desk.session.select(desk.session.looking.so_far.applications[0].id)
    station.find_field.setText("unused=1y")
    assert "until the survey is whole" in station.find_field.toolTip()
    station.find_field.clear()
    desk.click(station.band.again)
    desk.wait(lambda: desk.session.survey is not None and desk.session.looking.progress is None)
    assert not station.band.isVisible() and desk.session.looking.so_far is None


def test_the_survey_in_hand_stays_in_sight_while_it_is_taken_again(desk):
    desk.survey()
    before, station, shown = desk.session.survey, desk.window.survey, []
    desk.session.progressed.connect(
        lambda: shown.append(
            (station.shelves.isVisible(), desk.session.survey is before, station.band.known.text())
        )
    )
    desk.session.looking.take_survey()
    desk.wait(lambda: desk.session.looking.progress is None and desk.session.survey is not before)
    assert shown and all(visible and old for visible, old, _ in shown)
    assert all(text.startswith("Below stands the survey of") for *_, text in shown)


def test_before_the_first_survey_the_desk_says_what_is_read_whose_and_how_long(desk):
    first = desk.window.survey.first
    words = [label.text() for label in first.findChildren(type(first.head)) if label.isVisible()]
    for said in ("What is read", "How long", "What it changes", "Rights"):
        assert said in words
    assert any("/home" in w for w in words) and not desk.window.survey.tools.isVisible()
