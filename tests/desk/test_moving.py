"""Data moved by the desk: a folder is asked for, what cannot go there is said, and it can be undone as a decision."""

from __future__ import annotations

import os

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from deskwork import Desk
from evidence import folder_of_data
from helpers import Job
from swept_shelf.core.orders.moving import target


def test_m_asks_where_to_and_the_data_stands_there_and_comes_back(made_up, qtbot, monkeypatch):
    id, path = folder_of_data(Job(made_up))
    (made_up.root / path[1:] / "plates.bin").write_bytes(os.urandom(2_000_000))
    (made_up.root / "srv/large").mkdir(parents=True)
    with Desk(made_up, qtbot) as desk:
        desk.survey()
        s, said = desk.session, []
        s.said.connect(said.append)
        s.select(id)
        desk.settle()
        answers = [str(made_up.root / "home"), str(made_up.folder), "", str(made_up.root / "srv/large")]
        monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: answers.pop(0))
        for words in ("same volume", "no folder of this machine", None, None):
            desk.window.survey.shelves.setFocus()
            QTest.keyClick(desk.window.survey.shelves, Qt.Key.Key_M)
            desk.settle()
            assert words is None or words in said[-1]
        assert s.ordering.verdict(id) == "move_data" and not answers
        desk.wait(lambda: s.ordering.order is not None and s.ordering.order.line(id).to == "/srv/large")
        s.ordering.undo()
        assert s.ordering.verdict(id) == ""
        s.ordering.redo()
        desk.wait(lambda: s.ordering.order is not None)
        desk.carry()
        assert os.readlink(made_up.root / path[1:]) == target("/srv/large", path)
        desk.window.go("Ledger")
        desk.click(desk.window.ledger.back_button)
        desk.wait(lambda: not s.busy and not s.shelf.waiting())
        assert not os.path.islink(made_up.root / path[1:])
