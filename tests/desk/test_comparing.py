"""Two visits in hand at the Ledger, and the sentence above the survey: driven by mouse and keys, and audited."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from auditing import audit
from deskwork import Desk
from helpers import Job, built

SIZES = [(1280, 800, 1.0, False), (1024, 700, 1.5, True)]


@pytest.fixture(scope="module")
def machine(tmp_path_factory):
    """Two visits; between them a cache grew."""
    made = built(1).copy(tmp_path_factory.mktemp("twice") / "machine")
    job = Job(made)
    app = next(a for a in job.surveyed.survey.applications if any("/.cache/" in b.path for b in a.belongings))
    job.shop.ledger.close_visit(job.shop.machine.key)
    cache = made.root / next(b.path for b in app.belongings if "/.cache/" in b.path)[1:]
    (cache / "more" if cache.is_dir() else cache).write_bytes(bytes(80_000_000))
    job.survey()
    made.grown = app
    return made


@pytest.mark.parametrize("size", SIZES, ids=["wide", "low and large"])
def test_two_visits_in_hand_are_compared_as_slopes_and_every_mark_stands_the_audit(
    machine, qtbot, size, tmp_path, monkeypatch
):
    width, height, scale, dark = size
    with Desk(machine, qtbot, (width, height), dark, scale) as desk:
        desk.window.go("Ledger")
        desk.settle()
        ledger = desk.window.stations.currentWidget()
        newest, older = ledger.visits[:2]
        QTest.mouseClick(newest, Qt.MouseButton.LeftButton)
        older.setFocus()
        QTest.keyClick(older, Qt.Key.Key_Space)
        desk.settle()
        page = ledger.comparing
        assert ledger.pages.currentWidget() is page
        texts = " ".join(t.text for t in page.slopes.texts)
        assert "+80 MB" in texts
        wrong = audit(desk.window)
        assert wrong == [], "\n".join(wrong)
        wanted = tmp_path / "out.json"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(wanted), "Comparison (*.json)"))
        page.write_button.click()
        assert json.loads(wanted.read_text())["changes"][0]["id"] == machine.grown.id
        page.over.buttons["over 100 MB"].click()
        assert page.changes == [] and page._nothing.isVisible()
        page.over.buttons["all that changed"].click()
        page.slopes.setFocus()
        QTest.keyClick(page.slopes, Qt.Key.Key_Return)
        desk.settle()
        assert (
            desk.session.selected == machine.grown.id
            and desk.window.stations.currentWidget() is desk.window.survey
        )
        desk.window.go("Ledger")
        page.back_button.click()
        assert ledger.pages.currentIndex() == 0 and not any(v.isChecked() for v in ledger.visits)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "low and large"])
def test_the_sentence_above_the_survey_leads_where_its_parts_speak_of(machine, qtbot, size):
    width, height, scale, dark = size
    with Desk(machine, qtbot, (width, height), dark, scale) as desk:
        desk.window.go("Survey")
        desk.settle()
        station = desk.window.survey
        assert "% full" in station.why.accessibleDescription()
        assert "Since" in station.why.accessibleDescription()
        wrong = audit(desk.window)
        assert wrong == [], "\n".join(wrong)
        at = station.why.place_of("where:unused=1y needed=no protected=no")
        QTest.mouseClick(station.why, Qt.MouseButton.LeftButton, pos=at.center().toPoint())
        desk.settle()
        assert station.find_field.text() == "unused=1y needed=no protected=no"
        station.why.setFocus()
        QTest.keyClick(station.why, Qt.Key.Key_Return)
        station.why.taken.emit("where:registry=left")
        desk.settle()
        assert station.find_field.text() == "registry=left" and station.lens_pages.currentIndex() == 1
        assert {e.id.split(":")[0] for e in station.list.entries} == {"left"}
        station.find_field.clear()
        station.why.taken.emit(f"line:{machine.grown.id}")
        assert desk.session.selected == machine.grown.id and station.lens_pages.currentIndex() == 0
        station.why.taken.emit("stores")
        desk.settle()
        assert station.lens_pages.currentIndex() == 2 and station.places.in_hand
        station.why.taken.emit("line:nothing of the kind")
