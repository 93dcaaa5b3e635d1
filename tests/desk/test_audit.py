"""Every station in every state: no cut or overlapping text, readable contrast, reachable by keyboard, named."""

from __future__ import annotations

from dataclasses import replace

import pytest

from auditing import audit
from deskwork import Desk
from helpers import Job, built
from kills import under_injection
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.desk.names import STATIONS
from swept_shelf.desk.survey.station import LENSES
from swept_shelf.workshop import Workshop

SIZES = [
    (1280, 800, 1.0, False),
    (1280, 800, 1.0, True),
    (1280, 800, 1.5, True),
    (1024, 700, 1.5, False),
    (3840, 2160, 2.0, False),
]
# Which sizes of a state are looked at each time; the others are, with all kill points, in the sweep.
ALWAYS = {"surveyed": (0, 3), "carried": (2,), "new": (3,), "cut off": (1,)}
CASES = [
    pytest.param(
        state,
        size,
        id=f"{state} {size[0]}x{size[1]} at {round(size[2] * 100)} % {'dark' if size[3] else 'light'}",
        marks=() if number in always else pytest.mark.sweep,
    )
    for state, always in ALWAYS.items()
    for number, size in enumerate(SIZES)
]


@pytest.fixture(scope="module")
def states(tmp_path_factory):
    """Machines in the states a desk can meet: untouched, surveyed, with an order half done, carried out, cut off."""
    base = tmp_path_factory.mktemp("audit")
    made = {name: built(1).copy(base / name) for name in ("new", "surveyed", "carried", "cut off")}
    Job(made["surveyed"])
    carried = Job(made["carried"])
    run = carried.prepare(carried.order(made["carried"].id("map", "7"), made["carried"].id("quest")))
    held = next((made["carried"].root / "home").rglob("shaders.bin"))
    with open(held):
        carried.carry(run)
    launcher = made["carried"].root / "usr/local/share/applications/again.desktop"
    launcher.write_text(
        f"[Desktop Entry]\nType=Application\nName=Again\nExec={made['carried'].id('map', '7').removeprefix('debian:')} %f\n"
    )
    carried.clearance()
    cut = Job(made["cut off"])
    under_injection(
        cut.shop.orders.carry_request(cut.prepare(cut.order(made["cut off"].id("map", "7")))), "renameat2", 6
    )
    return made


@pytest.mark.parametrize(("state", "size"), CASES)
def test_every_station_stands_the_audit(states, qtbot, state, size):
    wrong = []
    width, height, scale, dark = size
    with Desk(states[state], qtbot, (width, height), dark, scale) as desk:
        for station in STATIONS:
            desk.window.go(station)
            desk.settle()
            wrong += [f"{station}: {w}" for w in audit(desk.window)]
        if state != "new":
            wrong += _in_survey(desk)
        else:
            desk.session.looking.progress = ("files and folders", 1, 7)
            desk.session.looking_changed.emit()
            desk.window.go("Survey")
            desk.settle()
            wrong += [f"looking: {w}" for w in audit(desk.window)]
            wrong += _so_far(desk, Workshop(str(states["surveyed"].folder)).latest()[1].survey)
            desk.session.looking.progress, desk.session.looking.problem = (
                None,
                "/var/lib/dpkg/status: is empty: no package can be listed",
            )
            desk.session.looking_changed.emit()
            desk.settle()
            wrong += [f"failed: {w}" for w in audit(desk.window)]
            desk.session.looking.problem = ""
    assert wrong == []


def _so_far(desk: Desk, survey: Survey) -> list[str]:
    """A first survey of which more and more is known, and one that was stopped."""
    looking, wrong = desk.session.looking, []
    for known in SoFar:
        looking.so_far = replace(survey, so_far=known)
        desk.session.looking_changed.emit()
        desk.session.select(survey.applications[0].id)
        desk.session.ordering.set_verdict(survey.applications[1].id, "remove")
        for lens in LENSES[:2]:
            desk.window.survey.take_lens(lens)
            desk.settle()
            wrong += [f"{known}, {lens}: {w}" for w in audit(desk.window)]
    looking.progress = None
    desk.session.looking_changed.emit()
    desk.settle()
    wrong += [f"stopped: {w}" for w in audit(desk.window)]
    looking.so_far = None
    desk.session.looking_changed.emit()
    return wrong


def _in_survey(desk: Desk) -> list[str]:
    wrong = []
    for lens in LENSES:
        desk.window.go("Survey")
        desk.window.survey.take_lens(lens)
        desk.session.ordering.set_verdict(desk.machine.id("mail"), "remove")
        desk.session.ordering.set_verdict(desk.machine.id("label"), "remove")
        desk.session.select(desk.machine.id("desk"))
        desk.settle()
        wrong += [f"{lens}: {w}" for w in audit(desk.window)]
        wrong += [f"{lens} below what could not be looked at: {w}" for w in _with_lines_above(desk)]
    desk.window.survey.take_lens("Shelves")
    for role, more in (("map", "7"), ("agent", "")):
        desk.session.select(desk.machine.id(role, more))
        desk.window.survey.drawer.page_wanted.emit()
        desk.settle()
        wrong += [f"belongings of {role}: {w}" for w in audit(desk.window)]
        desk.click(desk.window.survey.page.back)
    for path in (
        "/usr",
        "/usr/share",
        desk.machine.truth["left"][0],
        desk.machine.truth["shared"][0],
        "/no/such/place",
    ):
        desk.window.survey.whose(path)
        desk.settle()
        wrong += [f"whose is {path}: {w}" for w in audit(desk.window)]
    desk.window.go("Order")
    desk.settle()
    wrong += [f"order with questions: {w}" for w in audit(desk.window)]
    if desk.session.ordering.order is not None:
        desk.session.ordering.answer(
            [desk.session.ordering.order.settle[0].id], desk.session.ordering.order.settle[0].answers[0]
        )
        desk.settle()
        wrong += [f"order half settled: {w}" for w in audit(desk.window)]
    return wrong


def _with_lines_above(desk: Desk) -> list[str]:
    """As it stands when something went wrong and something was told: two lines more, as long as they get."""
    looking = desk.session.looking
    looking.problem = (
        "/var/lib/dpkg/status: " + "is locked by a process that does not end, and was not read " * 3
    )
    looking.told = (
        "Kept: " + "~/.config/quite-a-long-name/" * 6 + " belongs to it. Survey again and it counts."
    )
    desk.session.looking_changed.emit()
    desk.settle()
    wrong = audit(desk.window)
    looking.problem = looking.told = ""
    desk.session.looking_changed.emit()
    desk.settle()
    return wrong


def test_the_audit_finds_what_it_is_there_to_find(qtbot):
    """Cut, overlapping, faint, unreachable, nameless: one of each."""
    from PySide6.QtCore import Qt
    from PySide6.QtWidgets import QLabel, QPushButton, QWidget

    window = QWidget()
    window.resize(300, 200)
    window.setStyleSheet("background: #FFFFFF;")
    cut, over, faint, nameless = (
        QLabel("much too long for it", window),
        QLabel("over", window),
        QLabel("faint", window),
        QPushButton("", window),
    )
    cut.setGeometry(0, 0, 30, 20)
    over.setGeometry(10, 2, 60, 20)
    faint.setGeometry(0, 60, 100, 20)
    faint.setStyleSheet("color: #CCCCCC;")
    nameless.setGeometry(0, 100, 50, 20)
    nameless.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    qtbot.addWidget(window)
    window.show()
    found = " ".join(audit(window))
    for word in ("is cut", "overlaps", "contrast", "keyboard", "no accessible name"):
        assert word in found, (word, found)
