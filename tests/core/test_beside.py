"""Work in a process beside this one: its answer, and what becomes of it when either process ends early."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.beside import Beside


def test_work_sees_what_stood_when_it_was_begun_and_answers_from_another_process():
    seen = ["before"]
    work = Beside(lambda: (os.getpid(), list(seen)))
    seen.append("after")
    pid, there = work.result()
    assert pid != os.getpid() and there == ["before"]


def test_where_its_process_is_ended_the_work_is_done_here():
    here = os.getpid()

    def work() -> str:
        if os.getpid() != here:
            os.kill(os.getpid(), signal.SIGKILL)
        return "done"

    assert Beside(work).result() == "done"


def test_what_the_work_raises_is_raised_where_its_answer_is_asked_for():
    def work() -> None:
        raise CouldNotRead("the disk is full", "/survey.index")

    begun = Beside(work)
    with pytest.raises(CouldNotRead, match="the disk is full"):
        begun.result()


def test_it_ends_with_the_process_that_began_it(tmp_path):
    code = f"""
import os, time
from swept_shelf.core.machine.beside import Beside
def work():
    open({str(tmp_path / "pid")!r}, "w").write(str(os.getpid()))
    time.sleep(60)
Beside(work)
time.sleep(60)
"""
    parent = subprocess.Popen([sys.executable, "-c", code])
    until = time.monotonic() + 20
    while not ((tmp_path / "pid").exists() and (tmp_path / "pid").read_text()):
        assert time.monotonic() < until
        time.sleep(0.02)
    child = int((tmp_path / "pid").read_text())
    parent.kill()
    parent.wait()
    while os.path.exists(f"/proc/{child}") and "\nState:\tZ" not in Path(f"/proc/{child}/status").read_text():
        assert time.monotonic() < until
        time.sleep(0.02)
