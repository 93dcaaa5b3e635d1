"""Work behind the desk: what is started there lives on, and whoever answers finds whom to answer."""

from __future__ import annotations

import ctypes
import signal
import subprocess
import sys

from swept_shelf.desk.behind import Behind

_PDEATHSIG = (
    1  # PR_SET_PDEATHSIG (prctl(2)), as pkexec sets it: a signal when the thread that started it ends
)


def _asks_somebody():
    ctypes.CDLL(None).prctl(_PDEATHSIG, signal.SIGTERM)


def test_what_asks_for_a_password_is_not_ended_when_nothing_more_is_done_behind(qtbot):
    behind, begun = Behind(), []
    command = [sys.executable, "-c", "import time; time.sleep(60)"]
    # a pool ends its threads when they had nothing to do for this long, half a minute where nobody says otherwise
    assert behind._pool.expiryTimeout() < 0
    behind.do("ask", lambda: subprocess.Popen(command, preexec_fn=_asks_somebody), begun.append, print)
    qtbot.waitUntil(lambda: not behind.busy)
    (process,) = begun
    try:
        qtbot.wait(300)
        assert process.poll() is None
    finally:
        behind.end()  # which ends the thread, and so may end what asks: at the end of the desk nobody is asked any more
        process.kill()
        process.wait()


def test_many_answers_come_in_turn_and_none_after_the_end(qtbot):
    behind, heard = Behind(), []
    for number in range(300):
        behind.do("count", lambda number=number: number, heard.append, print)
    qtbot.waitUntil(lambda: not behind.busy)
    assert heard == list(range(300))
    behind.do("late", lambda: 300, heard.append, print)
    behind.end()
    qtbot.wait(50)
    assert 300 not in heard
