"""An error that nobody foresaw: written down whole, said in a sentence, and the work goes on."""

from __future__ import annotations

import json
import subprocess
import sys

from helpers import cli
from swept_shelf.core.machine.own_folders import own_folder
from swept_shelf.workshop import Workshop


def logged() -> list[dict]:
    return [json.loads(line) for line in (own_folder("state") / "log.jsonl").read_text().splitlines()]


def test_the_desk_says_it_once_offers_the_details_and_goes_on():
    """In a desk of its own: what a test's own loop catches never reaches the person."""
    code = """
import os, sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from swept_shelf.desk.mishap import Mishap, tell_of_mishaps
from swept_shelf.desk.window import Window
app = QApplication([])
window = Window()
window.show()
tell_of_mishaps(window)
def fail():
    raise ZeroDivisionError("of this test")
def look():
    (told,) = window.findChildren(Mishap)
    told.copy_button.click()
    print(told.isVisible(), "ZeroDivisionError" in app.clipboard().text(), "of this test" in app.clipboard().text())
    told.close_button.click()
    print(told.isVisible(), flush=True)
    os._exit(0)
QTimer.singleShot(0, fail)
QTimer.singleShot(20, fail)
QTimer.singleShot(200, look)
app.exec()
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
    assert done.stdout.split() == ["True", "True", "True", "False"], done.stdout + done.stderr
    assert "of this test" in logged()[-1]["traceback"]


def test_the_command_line_says_it_in_one_sentence(made_up, monkeypatch):
    def fail(*_: object) -> None:
        raise ZeroDivisionError("of that test")

    monkeypatch.setattr(Workshop, "__init__", fail)
    said = cli("--root", str(made_up.folder), "visits")
    assert said.returncode == 1 and len(said.stderr.splitlines()) == 1 and "log.jsonl" in said.stderr
    assert "of that test" in logged()[-1]["traceback"]
