"""The desk takes on what the desktop changes to while it is open, and loses nothing by it."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from shiboken6 import isValid

from deskwork import Desk
from swept_shelf.desk.dressing import Dressing
from swept_shelf.desk.theme import is_out_of_date, set_theme, theme


@pytest.fixture
def hints():
    yield QGuiApplication.styleHints()
    set_theme(False, 1.0)


def test_light_turns_to_dark_and_what_was_decided_stays(looked, qtbot, hints, monkeypatch):
    with Desk(looked.machine, qtbot) as desk:
        dressing = Dressing(desk.window, desk.session)
        hero = desk.machine.id("map", "7")
        desk.session.select(hero)
        desk.session.ordering.set_verdict(hero, "remove")
        desk.session.ordering.set_note(hero, "the newer one stays")
        desk.window.survey.take_lens("List")
        desk.window.survey.find_field.setText("larger=1kB")
        desk.window.go("Order")
        desk.settle()
        first, size = dressing.window, dressing.window.size()
        monkeypatch.setattr("swept_shelf.desk.theme._is_dark", lambda: True)  # this platform has no desktop
        with monkeypatch.context() as at_work:
            at_work.setattr(type(desk.session), "taken", True)
            hints.colorSchemeChanged.emit(Qt.ColorScheme.Dark)
            qtbot.wait(900)
            assert dressing.window is first and is_out_of_date()  # somebody is at work
        qtbot.waitUntil(lambda: dressing.window is not first, timeout=20_000)
        qtbot.waitUntil(lambda: not (dressing.session.busy or dressing.session.standing.busy), timeout=20_000)
        window, session = dressing.window, dressing.session
        desk.window, desk.session = window, session
        assert theme().dark and not is_out_of_date() and window.isVisible()
        desk.wait(lambda: not isValid(first))
        assert window.station == "Order" and window.survey.lens_name == "List"
        assert window.survey.find_field.text() == "larger=1kB" and session.selected == hero
        assert session.ordering.order.line(hero).note == "the newer one stays"
        assert window.size() == size and session.ordering.can_undo
        session.ordering.undo()
        session.ordering.undo()
        assert session.ordering.order is None
