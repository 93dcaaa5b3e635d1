"""A whole visit on a real screen with a window manager: by the keyboard alone, by the pointer alone, as assistive programs see it."""

from __future__ import annotations

import contextlib
import sqlite3

import pytest

from helpers import differences, dpkg_status, picture
from screen import Screen
from swept_shelf.workshop import Workshop

# Roles of what a person can act on or reads a value of.
CONTROLS = (
    "push button",
    "button",
    "check box",
    "radio button",
    "text",
    "button menu",
    "table",
    "progress bar",
    "slider",
)


@pytest.fixture
def screen(tmp_path):
    (tmp_path / "home").mkdir()
    with Screen(tmp_path / "home") as real:
        yield real


def state_of(machine, id):
    return dpkg_status(machine, id.removeprefix("debian:"))


def name_of(machine, id):
    return Workshop(str(machine.folder)).latest()[1].survey.find(id).name


def test_a_whole_visit_by_the_keyboard_alone(made_up, screen):
    before, hero = picture(made_up.root), made_up.id("map", "7")
    screen.start(made_up.folder)
    screen.find("Survey this computer", "button")
    screen.key("Return")
    screen.find("Survey again", "button")
    screen.key("ctrl+f")
    screen.write(name_of(made_up, hero))
    screen.key("Return")
    screen.find("Remove", "button")
    screen.key("r")
    screen.find("Take off the order", "button")
    screen.key("alt+2")
    screen.find("They stay", "button", begins=True)
    screen.tab_to("They stay", begins=True)
    screen.key("space")
    screen.find("Carry out", "button")
    screen.tab_to("Carry out")
    screen.key("space")
    screen.until(lambda: state_of(made_up, hero) == "not-installed", "the removal")
    screen.find("See what still points at it", "button")
    screen.tab_to("See what still points at it")
    screen.key("space")
    screen.find("Sign off", "button", begins=True)
    screen.key("alt+5")
    screen.find("Put back", "button")
    screen.tab_to("Put back")
    screen.key("space")
    screen.until(lambda: state_of(made_up, hero) == "installed", "the way back")
    screen.until(
        lambda: differences(before, picture(made_up.root), times=False) == [], "everything as it was"
    )


def test_the_first_minute_leads_to_what_nobody_misses_in_seven_acts(made_up, screen):
    screen.start(made_up.folder)
    screen.find("Survey this computer", "button")
    screen.key("Return")
    screen.find("Survey again", "button")
    screen.tab_to("Why it is full", role="")
    screen.key("Right", "Right", "Right", "Return")
    screen.find("List of applications", "table")
    screen.key("ctrl+a", "space")
    screen.find("Order 1.1", "label")
    screen.key("ctrl+r")
    screen.until(lambda: "push button: 2 to settle" in screen.names(), "the questions")
    assert any("8 lines" in name for name in screen.names())


def test_a_whole_visit_by_the_pointer_alone(made_up, screen):
    hero = made_up.id("map", "7")
    screen.start(made_up.folder)
    screen.click(screen.find("Survey this computer", "button"))
    screen.find("Survey again", "button")
    screen.click(screen.find("List"))
    screen.drag(screen.find(name_of(made_up, hero), "cell", begins=True), screen.find("Order slip", "panel"))
    screen.find("Take off the order", "button")
    screen.click(screen.find("Order"))
    screen.find("A way back exists", begins=True)  # until then what is to be settled is laid out anew
    screen.click(screen.find("They stay", "button", begins=True))
    screen.click(screen.find("Carry out", "button"))
    screen.until(lambda: state_of(made_up, hero) == "not-installed", "the removal")
    screen.click(screen.find("See what still points at it", "button"))
    screen.find("Sign off", "button", begins=True)
    screen.click(screen.find("Ledger"))
    screen.click(screen.find("Put back", "button"))
    screen.until(lambda: state_of(made_up, hero) == "installed", "the way back")


def test_assistive_programs_find_every_control_of_every_station_by_name_and_role(made_up, screen):
    screen.start(made_up.folder)
    screen.click(screen.find("Survey this computer", "button"))
    screen.find("Survey again", "button")
    for number, station in enumerate(("Survey", "Order", "Carry out", "Clearance", "Ledger"), 1):
        screen.key(f"alt+{number}")
        screen.until(
            lambda s=station: any(t.name == s and t.role == "filler" for t in screen.things()), station
        )
        nameless = [t for t in screen.things(tables=False) if not t.name and t.role in CONTROLS]
        assert nameless == [], station
        widgets = [t for t in screen.things(tables=False) if t.role in CONTROLS]
        assert len(widgets) >= 5
        if station == "Survey":  # every box that is painted is a thing of its own
            known = {a.name for a in Workshop(str(made_up.folder)).latest()[1].survey.applications}
            items = [t for t in screen.things(tables=False) if t.role == "list item"]
            assert known & {t.name for t in items} and all(t.name for t in items)
            screen.click(next(t for t in items if t.name in known))
            screen.until(lambda k=known: k & {t.name for t in screen.all_focused()}, "a box in hand")


def test_a_ledger_of_a_newer_version_is_said_in_the_window_that_was_opened(made_up, screen):
    file = Workshop(str(made_up.folder)).ledger.file
    with contextlib.closing(sqlite3.connect(file)) as ledger:
        ledger.execute("UPDATE alembic_version SET version_num = '9999'")
        ledger.commit()
    desk = screen.start(made_up.folder)
    screen.find("Nothing can be shown here", "label")
    assert any("newer" in name for name in screen.names())
    screen.key("space")  # Close has the keyboard
    assert desk.wait(20) == 1
