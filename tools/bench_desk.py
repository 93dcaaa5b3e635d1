"""The desk under 1,000 applications: the longest event of each act beside one of Qt's own. Part of `make bench`.

The peer is a plain QTableWidget of as many rows that is filled and painted once: what a window of Qt's takes at its best."""

from __future__ import annotations

import os
import random
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QTableWidget, QTableWidgetItem

KINDS = ("program", "support", "preferences", "cache", "state", "log")


class Probe(QApplication):
    """Takes the time of every event."""

    longest = 0.0

    def notify(self, receiver: QObject, event: QEvent) -> bool:
        began = time.perf_counter()
        done = super().notify(receiver, event)
        self.longest = max(self.longest, time.perf_counter() - began)
        return done


def many(survey, count: int):
    """The survey with `count` applications, of sizes as on real computers."""
    r, apps = random.Random(3), []
    for i in range(count):
        base = survey.applications[i % len(survey.applications)]
        share = r.lognormvariate(17.5, 1.6) / max(1, base.bytes.total)
        kinds = replace(base.bytes, **{k: int(getattr(base.bytes, k) * share) for k in KINDS})
        id = f"{base.id}x{i}" if i >= len(survey.applications) else base.id
        apps.append(replace(base, id=id, name=f"{base.name} {i}", bytes=kinds))
    return replace(survey, applications=apps)


def desk(count: int = 1000) -> None:
    from deskwork import Desk
    from helpers import Job, built

    app = Probe.instance() or Probe([])
    assert isinstance(app, Probe)

    class Until:
        def waitUntil(self, condition: Callable[[], bool], timeout: int) -> None:
            until = time.monotonic() + timeout / 1000
            while not condition():
                assert time.monotonic() < until
                app.processEvents()
                time.sleep(0.002)

    def timed(act: Callable[[], object]) -> float:
        app.longest, began = 0.0, time.perf_counter()
        act()
        called = time.perf_counter() - began
        for _ in range(6):
            app.processEvents()
        return max(called, app.longest)

    def plain() -> None:
        table = QTableWidget(count, 4)
        for i in range(count):
            for j in range(4):
                table.setItem(i, j, QTableWidgetItem(f"{i} {j}"))
        table.resize(900, 400)
        table.grab()
        table.deleteLater()

    plain()
    peer = timed(plain)
    with tempfile.TemporaryDirectory() as folder:
        machine = built(1).copy(Path(folder) / "machine")
        Job(machine)
        with Desk(machine, Until()) as open_desk:
            s, survey = open_desk.session, open_desk.window.survey
            object.__setattr__(s.surveyed, "survey", many(s.survey, count))
            apps = s.survey.applications
            s.surveyed_changed.emit()
            open_desk.settle()
            acts: dict[str, Callable[[], object]] = {
                "a survey comes": s.surveyed_changed.emit,
                "a letter in the find field": lambda: QTest.keyClick(survey.find_field, "w"),
                "the find field emptied": survey.find_field.clear,
                "an application in hand": lambda: s.select(apps[3].id),
                "a verdict": lambda: s.ordering.set_verdict(apps[3].id, "remove"),
                "its neighbour": lambda: QTest.keyClick(survey.shelves, Qt.Key.Key_Right),
                "the list": lambda: survey.take_lens("List"),
                "a verdict in the list": lambda: s.ordering.set_verdict(apps[7].id, "remove"),
                "a letter, with the list": lambda: QTest.keyClick(survey.find_field, "w"),
                "the shelves again": lambda: survey.take_lens("Shelves"),
                "another size": lambda: open_desk.window.resize(1200, 780),
                "a verdict for ten": lambda: s.ordering.set_verdicts([a.id for a in apps[10:20]], "remove"),
            }
            for words, act in acts.items():
                longest = timed(act)
                open_desk.settle()
                print(
                    f"{f'{count} applications: {words}':<46}{longest * 1000:9.0f} ms {'a plain table':<30}{peer * 1000:9.0f} ms   "
                    f"{longest / peer:5.2f} x   (at most 40 ms)",
                    flush=True,
                )


if __name__ == "__main__":
    desk()
