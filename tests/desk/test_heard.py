"""What is painted is told piece by piece, through Qt's own accessibility interface."""

from __future__ import annotations

import gc
import sys

import pytest
from PySide6.QtGui import QAccessible, QAccessibleEvent

from swept_shelf.core.survey.places import Share
from swept_shelf.desk.parts.heard import make_pieces_heard
from swept_shelf.desk.survey.shelf_layout import ShelfRow, Thing
from swept_shelf.desk.survey.shelves import Shelves
from swept_shelf.desk.survey.steps import Step, Steps

NAME, SAYS = QAccessible.Text.Name, QAccessible.Text.Description


@pytest.fixture
def shelves(qapp):
    make_pieces_heard()
    widget = Shelves()
    widget.resize(900, 400)
    things = [Thing(f"x:{n}", f"Thing {n}", 900 << 20 if n < 5 else 1000, ()) for n in range(40)]
    widget.show_rows([ShelfRow("Today", tuple(things))])
    widget.show_state("x:1", {"x:2": "remove"})
    yield widget
    widget.deleteLater()


def heard(widget):
    whole = QAccessible.queryAccessibleInterface(widget)
    return whole, [whole.child(i) for i in range(whole.childCount())]


def test_each_box_has_its_name_its_size_its_place_and_whether_it_is_in_hand(shelves):
    whole, boxes = heard(shelves)
    assert whole.role() == QAccessible.Role.List and whole.text(NAME).startswith("Shelves")
    names = [b.text(NAME) for b in boxes]
    assert names[:5] == [f"Thing {n}" for n in range(5)] and names[-1] == "35 small, Today"
    assert "944 MB" in boxes[0].text(SAYS) and boxes[2].text(SAYS).endswith("remove")
    assert [b.state().selected for b in boxes[:3]] == [False, True, False]
    assert all(b.role() == QAccessible.Role.ListItem and b.parent() is not None for b in boxes)
    places = [b.rect() for b in boxes]
    assert not any(a.intersects(b) for i, a in enumerate(places) for b in places[i + 1 :])
    middle = places[1].center()
    assert whole.childAt(middle.x(), middle.y()).text(NAME) == "Thing 1"


def test_what_is_not_there_any_more_is_no_piece_and_harms_nobody(shelves):
    whole, boxes = heard(shelves)
    shelves.show_rows([ShelfRow("Today", ())])
    assert whole.childCount() == 0 and whole.child(0) is None
    assert all(not b.isValid() and b.text(NAME) == "" and b.state().invalid for b in boxes)


def test_steps_of_a_folder_are_told_and_the_one_in_hand(qapp):
    make_pieces_heard()
    widget = Steps()
    widget.resize(900, 300)
    share = (Share("person", "edda", 10),)
    rows = [Step(f"/x/{n}", f"part {n}", 10, share, "a person’s own", True) for n in range(3)]
    widget.show_steps(Step("/x", "x", 30, share, "", True), rows, "/x/2")
    _, steps = heard(widget)
    assert [(s.text(NAME), s.state().selected) for s in steps] == [
        ("part 0", False),
        ("part 1", False),
        ("part 2", True),
    ]
    widget.deleteLater()


def test_however_often_qt_asks_no_reference_to_none_is_lost(shelves):
    """Some versions of the binding lose one at a call from Qt, and end the process after some thousand calls."""
    event = QAccessibleEvent(shelves, QAccessible.Event.Focus)
    event.setChild(0)
    gc.collect()
    before = sys.getrefcount(None)
    for _ in range(3000):
        assert event.accessibleInterface() is not None
    gc.collect()
    assert sys.getrefcount(None) > before - 1000
