"""A process beside this one that is asked several times: it keeps what it knows, and no question stays without an answer."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.partner import Partner

HERE = os.getpid()


class Counter:
    """What it was asked so far, and in which process."""

    def __init__(self, ends_at: int = 0) -> None:
        self.asked: list[int] = []
        self.ends_at = ends_at

    def __call__(self, question: int) -> tuple[int, list[int]]:
        if question == self.ends_at and os.getpid() != HERE:
            os.kill(os.getpid(), signal.SIGKILL)
        if question < 0:
            raise CouldNotRead("asked too much", "/x")
        self.asked.append(question)
        return os.getpid(), list(self.asked)


def test_it_remembers_from_one_question_to_the_next_and_this_process_learns_nothing_of_it():
    answers = Counter()
    with Partner(answers) as partner:
        partner.ask(1)
        first, known = partner.answer()
        partner.ask(2)
        second, more = partner.answer()
    assert first == second != HERE and (known, more) == ([1], [1, 2]) and not answers.asked


@pytest.mark.parametrize("ends_at", [1, 2, 3])
def test_where_it_is_ended_everything_it_was_asked_is_answered_here_in_turn(ends_at):
    with Partner(Counter(ends_at)) as partner:
        for question in (1, 2, 3):
            partner.ask(question)
            answer = partner.answer()[1]
    assert answer == [1, 2, 3]


def test_questions_may_be_asked_one_after_the_other_and_where_no_process_is_worth_it_all_is_answered_here():
    for beside in (True, False):
        with Partner(Counter(), beside) as partner:
            partner.ask(1)
            partner.ask(2)
            pid, known = partner.answer()
            assert known == [1, 2] and (pid == HERE) != beside
            partner.ask(3)
            assert partner.answer()[1] == [1, 2, 3]


def test_it_sees_what_stood_here_when_it_was_begun():
    seen = ["before"]
    with Partner(lambda _: list(seen)) as partner:
        seen.append("after")
        partner.ask(0)
        assert partner.answer() == ["before"]


def test_what_it_cannot_answer_is_raised_here():
    with Partner(Counter()) as partner:
        partner.ask(-1)
        with pytest.raises(CouldNotRead, match="asked too much"):
            partner.answer()


def test_it_is_gone_when_it_is_no_longer_asked_also_where_nobody_waits_for_its_answer():
    with Partner(Counter()) as partner:
        partner.ask(1)
        pid = partner.answer()[0]
        partner.ask(2)
    assert not os.path.exists(f"/proc/{pid}")
    with pytest.raises(KeyboardInterrupt), Partner(Counter()) as partner:
        partner.ask(1)
        pid = partner.answer()[0]
        raise KeyboardInterrupt
    assert not os.path.exists(f"/proc/{pid}")


def test_it_ends_with_the_process_that_began_it(tmp_path):
    code = f"""
import os, time
from swept_shelf.core.machine.partner import Partner
def work(_):
    open({str(tmp_path / "pid")!r}, "w").write(str(os.getpid()))
    time.sleep(60)
Partner(work).ask(0)
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
