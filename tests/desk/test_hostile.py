"""What a machine's names and a foreign shelf may do on the desk: be read, and nothing else."""

from __future__ import annotations

import json
import os

import pytest
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QAbstractItemView, QApplication, QLabel, QToolTip

from deskwork import Desk
from helpers import slot_manifest
from swept_shelf.desk.parts.tips import as_markup

EVIL = "<img src='file:///etc/passwd'><b>bold</b>"


@pytest.fixture
def desk(job, qtbot):
    with Desk(job.machine, qtbot) as open_desk:
        yield open_desk


def test_every_text_of_the_window_is_plain(desk):
    for label in desk.window.findChildren(QLabel):
        assert label.textFormat() == Qt.TextFormat.PlainText, label.text()


def test_a_tool_tip_shows_markup_as_the_letters_it_is(desk):
    assert "&lt;img" in as_markup(EVIL) and "<img" not in as_markup(EVIL) and as_markup("") == ""
    widget = desk.window.survey.find_field
    widget.setToolTip(EVIL)
    shown: list[str] = []
    real = QToolTip.showText
    try:
        QToolTip.showText = lambda at, text, *_: shown.append(text)  # type: ignore[method-assign]
        QApplication.sendEvent(
            widget, QHelpEvent(QEvent.Type.ToolTip, QPoint(2, 2), widget.mapToGlobal(QPoint(2, 2)))
        )
        for view in desk.window.findChildren(QAbstractItemView):
            if view.model() is not None and view.model().rowCount():
                at = view.visualRect(view.model().index(0, 0)).center()
                QApplication.sendEvent(
                    view.viewport(), QHelpEvent(QEvent.Type.ToolTip, at, view.viewport().mapToGlobal(at))
                )
    finally:
        QToolTip.showText = real  # type: ignore[method-assign]
    assert shown and all(
        text.startswith("<p style='white-space: pre-wrap'>") and "<img" not in text and "<b>" not in text
        for text in shown
    )


@pytest.mark.skipif(os.geteuid() != 0, reason="the shelf of a machine that root services")
def test_a_shelf_without_our_seal_is_shown_and_offers_nothing(desk):
    run = desk.machine.root / ".swept-shelf/0b5fd6a8-93d6-4b0e-9d2a-1a52a1c0aaaa"
    slot = run / "0001"
    slot.mkdir(parents=True)
    for place in (run.parent, run, slot):
        place.chmod(0o700)
    (slot / "item").write_text("x")
    manifest = slot_manifest(
        1, "shelve", path="/usr/bin/x", identity={}, parent={}, copied=False, surveyed_mode=0
    ) | {"run": run.name, "name": EVIL, "bytes": 10**6}
    (slot / "manifest.json").write_text(json.dumps({"content": manifest, "seal": ""}))
    desk.session.standing.look()
    desk.settle()
    desk.session.station_wanted.emit("Ledger")
    desk.settle()
    ledger = desk.window.ledger
    assert ledger.table.model().rowCount() == 1
    assert not ledger.back_button.isEnabled() and not ledger.empty_button.isEnabled()
    ledger._work("put_back")
    desk.settle()
    assert (slot / "item").exists() and not (desk.machine.root / "usr/bin/x").exists()
    (slot / "manifest.json").write_text(json.dumps({"content": manifest | {"at": "yesterday"}, "seal": ""}))
    desk.session.standing.look()
    desk.settle()
    desk.settle()
    assert ledger.table.model().rowCount() == 0
