"""Acts: every key, the menu, the page of keys; decisions undone and done again; shelves whose small things open."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QPushButton

from auditing import audit
from deskwork import Desk
from helpers import Job
from swept_shelf.core.documents.order import Settle
from swept_shelf.desk.acts import OF_WIDGETS
from swept_shelf.desk.keys_page import KeysPage
from swept_shelf.desk.parts.labels import Side
from swept_shelf.desk.stations.questions import Questions

K = Qt.Key


@pytest.fixture
def desk(looked: Job, qtbot):
    with Desk(looked.machine, qtbot) as made:
        yield made


def press(desk, key, modifier=Qt.KeyboardModifier.NoModifier, widget=None):
    QTest.keyClick(widget or QGuiApplication.focusObject(), key, modifier)
    desk.settle()


def test_a_key_for_each_verdict_and_every_decision_can_be_undone_and_done_again(desk):
    ordering, shelves = desk.session.ordering, desk.window.survey.shelves
    assert shelves.hasFocus()
    press(desk, K.Key_Right)
    first = desk.session.selected
    press(desk, K.Key_R)
    assert ordering.verdict(first) == "remove"
    press(desk, K.Key_C)
    assert ordering.verdict(first) == "clear_cache"
    press(desk, K.Key_Right)
    second = desk.session.selected
    press(desk, K.Key_K)
    assert second != first and ordering.verdict(second) == "keep"
    press(desk, K.Key_Delete)
    assert ordering.verdict(second) == ""
    for verdicts in ({first: "clear_cache", second: "keep"}, {first: "clear_cache"}, {first: "remove"}, {}):
        press(desk, K.Key_Z, Qt.KeyboardModifier.ControlModifier)
        assert ordering.choice.verdicts == verdicts
    assert not ordering.can_undo and ordering.order is None and desk.window.foot.text().startswith("Undone: ")
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    press(desk, K.Key_Z, both)
    assert ordering.choice.verdicts == {first: "remove"} and ordering.order is not None
    press(desk, K.Key_R)
    assert set(ordering.choice.verdicts) == {first, second} and not ordering.can_redo


def test_several_rows_of_the_list_get_one_verdict_and_letters_in_a_field_are_letters(desk):
    survey = desk.window.survey
    press(desk, K.Key_2, Qt.KeyboardModifier.ControlModifier)
    assert survey.lens_in_hand is survey.list and survey.list.hasFocus()
    press(desk, K.Key_Down)
    press(desk, K.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    chosen = survey.list.hand()
    press(desk, K.Key_R)
    assert len(chosen) == 2 and set(desk.session.ordering.choice.verdicts) == set(chosen)
    press(desk, K.Key_F, Qt.KeyboardModifier.ControlModifier)
    for key in (K.Key_R, K.Key_C, K.Key_K):
        press(desk, key)
    assert survey.find_field.text() == "rck" and len(desk.session.ordering.choice.verdicts) == 2


def test_the_menu_and_the_page_of_keys_are_made_of_the_same_acts_and_no_two_share_a_key(desk):
    acts = desk.window.acts
    keys = [k.toString() for a in acts.all for k in a.action.shortcuts()]
    assert len(set(keys)) == len(keys) and all(a.action.shortcuts() for a in acts.all)
    press(desk, K.Key_Right)
    menu = acts.menu()
    own = {a.action for a in acts.all}
    said = [a for a in menu.actions() if not a.isSeparator()]
    assert said[0].text() == desk.session.entry.name and set(said[1:]) <= own
    remove = next(a for a in said if a.text() == "Remove")
    remove.trigger()
    assert desk.session.ordering.verdict(desk.session.selected) == "remove"
    assert remove.text() == "Take off the order"
    press(desk, K.Key_F1)
    page = desk.window.findChild(KeysPage)
    words = {x.text() for x in page.findChildren(QLabel)}
    assert {a.said for a in acts.all} | {said for _, said, _ in OF_WIDGETS} <= words
    assert audit(page) == []
    press(desk, K.Key_Escape, widget=page)
    guide = (Path(__file__).parents[2] / "docs/user-guide.md").read_text()
    assert [k for k in keys if f"`{k}`" not in guide] == []


def test_small_things_of_a_shelf_open_in_its_place_by_click_and_by_key(desk):
    shelves, survey = desk.window.survey.shelves, desk.session.survey
    base = survey.applications[0]
    many = [replace(base, id=f"debian:n{i}", name=f"N{i}") for i in range(300)]
    many[0] = replace(many[0], bytes=replace(base.bytes, program=900_000_000))
    object.__setattr__(desk.session.surveyed, "survey", replace(survey, applications=many))
    try:
        desk.session.surveyed_changed.emit()
        words = [t.text for t in shelves.texts if re.fullmatch(r"\+[\d ]+ small", t.text)]
        assert words and not shelves.opened
        press(desk, K.Key_Right)
        for _ in range(300):
            press(desk, K.Key_Right)
            if shelves._small_in_hand:
                break
        press(desk, K.Key_Return)
        assert shelves.opened and "Esc: all shelves" in [t.text for t in shelves.texts]
        assert audit(desk.window) == []
        press(desk, K.Key_Escape)
        assert not shelves.opened
    finally:
        object.__setattr__(desk.session.surveyed, "survey", survey)


def test_words_with_no_hit_say_what_was_searched_and_what_can_be_done(desk):
    survey = desk.window.survey
    for words, leads in (("qqqqx", True), ("larger=900GB", False)):
        survey.find_field.setText(words)
        desk.settle()
        assert survey.nothing.isVisible() and words in survey.nothing.head.text()
        assert survey.nothing.trace.isVisible() == leads and not survey.drawer.isVisible()
        assert audit(desk.window) == []
    survey.take_lens("List")
    assert survey.nothing.isVisible()
    survey.take_lens("Places")
    assert not survey.nothing.isVisible() and survey.place.isVisible()
    survey.take_lens("Shelves")
    desk.click(survey.nothing.clear)
    assert survey.find_field.text() == "" and survey.shelves.isVisible()


def test_many_questions_of_one_kind_have_one_answer_or_are_answered_one_by_one(qtbot):
    def asked(i, answer=""):
        answers = ["they_stay", "go_too", "leave_out"]
        return Settle(f"personal:{i}", str(i), "personal", f"Content in {i}", "3 files", answers, answer)

    side, questions, said = Side("x"), Questions(), []
    qtbot.addWidget(side)
    questions.answered.connect(lambda ids, answer: said.append((ids, answer)))

    def show(settle):
        questions.show(side.clear(), settle)
        return {b.accessibleName(): b for b in side.findChildren(QPushButton) if not b.isHidden()}

    buttons = show([asked(i) for i in range(6)])
    assert [n for n in buttons if n.startswith("They stay")] == [
        "They stay for all: Personal content inside 6 applications"
    ]
    buttons["They stay for all: Personal content inside 6 applications"].click()
    assert said.pop() == ([f"personal:{i}" for i in range(6)], "they_stay")
    buttons = show([asked(0, "go_too"), *(asked(i) for i in range(1, 6))])
    buttons["They stay for all: Personal content inside 6 applications"].click()
    assert said.pop() == ([f"personal:{i}" for i in range(1, 6)], "they_stay")
    buttons["One by one: Personal content inside 6 applications"].click()
    assert said.pop() == ([], "")
    assert len([n for n in show([asked(i) for i in range(6)]) if n.startswith("They stay: ")]) >= 6


def test_several_boxes_are_taken_in_hand_by_keys_clicks_and_a_band(desk):
    shelves, ordering = desk.window.survey.shelves, desk.session.ordering
    desk.session.select("")
    lines = [b.thing.line for _, b, _ in shelves._places if b.thing.line]
    press(desk, K.Key_Right)
    press(desk, K.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    press(desk, K.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert shelves.hand() == lines[:3] and desk.session.selected == lines[2]
    press(desk, K.Key_R)
    assert set(ordering.choice.verdicts) == set(lines[:3])
    press(desk, K.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert shelves.hand() == lines[:2]

    def click(line, modifier=Qt.KeyboardModifier.NoModifier):
        at = shelves.box_of(line).center().toPoint()
        QTest.mouseClick(shelves, Qt.MouseButton.LeftButton, modifier, at)
        desk.settle()

    click(lines[0])
    click(lines[3], Qt.KeyboardModifier.ControlModifier)
    assert shelves.hand() == [lines[0], lines[3]]
    click(lines[3], Qt.KeyboardModifier.ControlModifier)
    assert shelves.hand() == [lines[0]]
    click(lines[4], Qt.KeyboardModifier.ShiftModifier)
    assert shelves.hand() == lines[:5]
    press(desk, K.Key_Escape)
    assert shelves.hand() == [lines[4]]
    ordering.set_verdicts(list(ordering.choice.verdicts), "remove")
    assert ordering.choice.verdicts == {}
    first = [r for r, b, n in shelves._places if n == 0]
    start, end = first[-1].bottomRight() + QPointF(20, 1), first[0].topLeft() + QPointF(-3, -3)
    QTest.mousePress(shelves, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseMove(shelves, end.toPoint())
    QTest.mouseRelease(shelves, Qt.MouseButton.LeftButton, pos=end.toPoint())
    desk.settle()
    assert shelves.hand() == [b.thing.line for _, b, n in shelves._places if n == 0]


def test_the_menu_comes_by_the_right_button_where_it_is_and_by_its_key_at_what_is_in_hand(desk):
    survey, places = desk.window.survey, []
    survey.menu_wanted.disconnect()
    survey.menu_wanted.connect(places.append)
    press(desk, K.Key_Right)
    box = survey.shelves.box_of(desk.session.selected)
    for lens, reason, at in (
        (survey.shelves, QContextMenuEvent.Reason.Keyboard, QPoint(1, 1)),
        (survey.list, QContextMenuEvent.Reason.Keyboard, QPoint(40, 40)),
    ):
        survey.take_lens("Shelves" if lens is survey.shelves else "List")
        QApplication.sendEvent(lens, QContextMenuEvent(reason, at, lens.mapToGlobal(at)))
    assert places == [
        survey.shelves.mapToGlobal(box.center().toPoint()),
        survey.list.mapToGlobal(QPoint(40, 40)),
    ]


def test_what_is_to_be_settled_is_answered_with_one_key_each_in_the_order_it_stands(desk):
    ordering = desk.session.ordering
    for role in ("mail", "label"):
        ordering.set_verdict(desk.machine.id(role), "remove")
    desk.window.go("Order")
    desk.settle()
    open_ = [q.id for q in ordering.order.settle if not q.answer]
    assert len(open_) == 2
    answers = {q.id: q.answers for q in ordering.order.settle}
    for key, place in ((K.Key_1, 0), (K.Key_2, 1)):
        id = next(q.id for q in ordering.order.settle if not q.answer)
        press(desk, K.Key_9)  # no answer has that key
        press(desk, key)
        assert next(q.answer for q in ordering.order.settle if q.id == id) == answers[id][place]
    assert all(q.answer for q in ordering.order.settle)
    press(desk, K.Key_1)  # nothing is open any more
    for _ in range(4):
        ordering.undo()
    assert not ordering.choice.verdicts


def test_several_in_hand_stay_so_in_every_lens_and_one_key_decides_for_all(desk):
    survey, ordering = desk.window.survey, desk.session.ordering
    shift = Qt.KeyboardModifier.ShiftModifier
    press(desk, K.Key_Right)
    press(desk, K.Key_Right, shift)
    press(desk, K.Key_Right, shift)
    hand = list(survey.shelves.hand())
    assert len(hand) == 3
    survey.take_lens("List")
    desk.settle()
    assert sorted(survey.hand) == sorted(hand) == sorted(survey.list.hand())
    survey.take_lens("Places")
    desk.settle()
    assert sorted(survey.hand) == sorted(hand)
    survey.lens_in_hand.setFocus()
    press(desk, K.Key_R)
    assert set(ordering.verdicts) == set(hand)
    survey.take_lens("Shelves")
    desk.settle()
    assert sorted(survey.shelves.hand()) == sorted(hand)


def test_several_steps_are_taken_in_hand_together(desk):
    survey = desk.window.survey
    survey.take_lens("Places")
    survey.places.open("/usr/bin")
    desk.settle()
    steps = survey.places.steps
    steps.setFocus()
    rows = [i for i, s in enumerate(steps._steps) if s.line]
    steps.take(rows[0])
    for row in range(rows[0] + 1, rows[1] + 1):
        steps.take(row, besides=True)
    desk.settle()
    lines = {steps._steps[i].line for i in rows[:2]}
    assert len(lines) == 2 and set(survey.hand) == lines
    press(desk, K.Key_R)
    assert set(desk.session.ordering.verdicts) == lines
