"""The desk's own thread touches no file and no process and asks no ledger: what it shows was read behind it."""

from __future__ import annotations

import sys
import threading
from collections import Counter

import pytest
from PySide6.QtWidgets import QLabel
from sqlalchemy import event
from sqlalchemy.engine import Engine

from deskwork import Desk
from swept_shelf.core.documents.errors import Refused
from swept_shelf.desk.session.standing import Stand

TOUCHES = ("open", "os.listdir", "os.scandir", "os.mkdir", "os.rename", "os.remove", "os.rmdir", "os.chmod")
STARTS = ("subprocess.Popen", "os.fork", "os.exec", "os.posix_spawn", "sqlite3.connect")


class Watch:
    """Counts what is touched from the desk's own code on its own thread, by what and where."""

    def __init__(self) -> None:
        self.on = False
        self.seen: Counter[str] = Counter()
        sys.addaudithook(self._heard)  # stays for ever: it looks at `on` first
        event.listen(Engine, "before_cursor_execute", lambda *a: self._note("ledger"))

    def _heard(self, name: str, _args: object) -> None:
        if self.on and name in (*TOUCHES, *STARTS):
            self._note(name)

    def _note(self, what: str) -> None:
        if not self.on or threading.current_thread() is not threading.main_thread():
            return
        frame, ours = sys._getframe(1), []
        while frame is not None:
            if "importlib" in frame.f_code.co_filename:
                return  # code that is read when it is first needed
            if "swept_shelf" in frame.f_code.co_filename:
                ours.append(f"{frame.f_code.co_filename.rsplit('swept_shelf/')[-1]}:{frame.f_code.co_name}")
            frame = frame.f_back
        if any(x.startswith("desk/") for x in ours):
            self.seen[f"{what} in {ours[0]} for {next(x for x in ours if x.startswith('desk/'))}"] += 1


@pytest.fixture(scope="module")
def watch():
    return Watch()


def test_a_whole_visit_is_made_without_a_touch(made_up, qtbot, watch):
    hero = made_up.id("map", "7")
    with Desk(made_up, qtbot) as desk:
        s = desk.session
        try:
            watch.on = True
            desk.survey()
            s.select(hero)
            s.ordering.set_verdict(hero, "remove")
            s.ordering.answer([f"personal:{hero}"], "they_stay")
            for station in ("Order", "Survey", "Ledger", "Order"):
                desk.window.go(station)
                desk.settle()
            desk.window.survey.find_field.setText("qqqx")
            desk.window.survey.find_field.clear()
            s.carrying.carry_out()
            desk.wait(lambda: s.proving.clearance is not None and not s.busy)
            desk.window.go("Clearance")
            s.proving.look_again()
            desk.wait(lambda: not s.busy)
            s.proving.look_for("qqqx")
            desk.wait(lambda: s.proving.trace is not None and not s.busy)
            desk.window.go("Ledger")
            s.shelf.resume()
            desk.wait(lambda: not s.busy and not s.shelf.waiting())
        finally:
            watch.on = False
    assert watch.seen == {}


def test_the_watch_sees_what_it_is_for(watch, made_up, qtbot, monkeypatch):
    with Desk(made_up, qtbot) as desk:
        window = desk.window

        def touched(*_: object) -> None:
            open(made_up.root / "etc/passwd").close()
            desk.session.shop.ledger.visits()

        from swept_shelf.desk.stations import ledger

        code = compile("def act():\n    touched()\n", ledger.__file__, "exec")
        room: dict[str, object] = {"touched": touched}
        exec(code, room)
        before = dict(watch.seen)
        watch.on = True
        room["act"]()  # type: ignore[operator]
        watch.on = False
        new = {k.split(" ")[0] for k in watch.seen if k not in before}
        watch.seen = Counter(before)
        assert new == {"open", "ledger"} and window.isVisible()


def test_a_ledger_that_cannot_take_a_run_in_is_said_and_the_run_has_ended(made_up, qtbot, monkeypatch):
    hero = made_up.id("map", "7")
    with Desk(made_up, qtbot) as desk:
        s, said = desk.session, []
        desk.survey()
        s.ordering.set_verdict(hero, "remove")
        s.ordering.answer([f"personal:{hero}"], "they_stay")
        desk.settle()

        def full() -> None:
            raise OSError(28, "No space left on device")

        monkeypatch.setattr(s.shop.ledger, "take_in", full)
        s.said.connect(said.append)
        s.carrying.carry_out()
        desk.wait(lambda: s.carrying.state == "ended" and not s.busy)
        assert any("could not take it in" in w and "No space left" in w for w in said)
        assert {r.state for r in s.carrying.records} == {"done"}


def test_what_cannot_be_read_of_the_ledger_is_said_where_it_would_stand(looked, qtbot, monkeypatch):
    with Desk(looked.machine, qtbot) as desk:
        monkeypatch.setattr(
            desk.session.shop.shelves, "waiting", lambda: (_ for _ in ()).throw(Refused("is locked", "/l"))
        )
        desk.session.standing.now = Stand()
        desk.session.standing.look()
        desk.settle()
        words = {x.text() for x in desk.window.ledger.side.findChildren(QLabel)}
        assert any("is locked" in w for w in words) and not any("not been visited" in w for w in words)


def test_two_looks_asked_for_at_once_are_one(made_up, qtbot):
    with Desk(made_up, qtbot) as desk:
        s, said, started = desk.session, [], []
        desk.survey()
        start = s.start_worker
        s.start_worker = lambda *a: (started.append(a[0]["do"]), start(*a))  # type: ignore[method-assign]
        s.said.connect(said.append)
        s.looking.take_survey()
        s.looking.take_survey()
        s.proving.look_for("qqqx")
        desk.wait(lambda: not s.busy and s.looking.progress is None)
        assert started == ["survey"] and any("wait until it has ended" in w for w in said)
