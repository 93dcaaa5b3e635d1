"""The desk on Wayland alone, driven as assistive programs do it."""

from __future__ import annotations

import shutil

import pytest

from screen import WaylandScreen
from swept_shelf.workshop import Workshop

pytestmark = pytest.mark.skipif(not shutil.which("weston"), reason="needs weston, a small compositor")


@pytest.fixture
def screen(tmp_path):
    (tmp_path / "home").mkdir()
    with WaylandScreen(tmp_path / "home") as real:
        yield real


def test_it_opens_looks_and_shows_every_station(made_up, screen):
    desk = screen.start(made_up.folder)
    screen.press(screen.find("Survey this computer", "button"))
    screen.find("Survey again", "button", seconds=60)
    known = {a.name for a in Workshop(str(made_up.folder)).latest()[1].survey.applications}
    assert known & {t.name for t in screen.things(tables=False) if t.role == "list item"}
    for station in ("Order", "Carry out", "Clearance", "Ledger", "Survey"):
        screen.press(screen.find(station, "check box"))
        screen.until(
            lambda s=station: any(t.name == s and t.role == "filler" for t in screen.things()), station
        )
    assert desk.poll() is None
