"""Rights are asked for by polkit, sudo or su, for real: a daemon, a bus and people of the test's own, in an image of this computer."""

from __future__ import annotations

import pytest

from boxed import boxed

_ASK = """
ASK = [PYTHON, "-I", "-c", '''
import sys
from swept_shelf.worker.client import run_worker
from swept_shelf.core.documents.errors import SweptShelfError
try:
    print(run_worker({"by_rights": True, "do": sys.argv[1], "run": "00000000-0000-4000-8000-000000000000", "folder": "/home/keeper/x"}))
except SweptShelfError as error:
    print(type(error).__name__, error)
''']

def before_an_agent(do, typed):
    # on a screen; somebody sits before an agent of polkit's own, on a terminal, and types
    words = "pkttyagent --process $$ & sleep 0.5; exec \\"$@\\" </dev/null"
    return on_terminal(["/bin/sh", "-c", words, "sh", *ASK, do], [("Password: ", typed)], seconds=180, shown=True)[1]
"""
_TRIED = """
found["no bus"] = keeper([*ASK, "clearance"], shown=True)[1]
daemon = polkit()
found["nobody to ask"] = keeper([*ASK, "clearance"], shown=True)[1]
found["no sudo for the keeper"] = keeper([*ASK, "clearance"])[1]
open("/usr/share/polkit-1/actions/org.sweptshelf.policy", "w").write(sh(f"{BIN}/swept-shelf rights --action-file"))
time.sleep(2)
found["message"] = before_an_agent("put_back", "wayfarer\\n")
found["look message"] = before_an_agent("clearance", "wayfarer\\n")
found["wrong"] = before_an_agent("put_back", "seafarer\\n")
found["cancelled"] = before_an_agent("put_back", "\\x04")
found["agent gone"] = before_an_agent("put_back", lambda pid: sh("pkill -KILL pkttyagent"))
found["never answered"] = before_an_agent("put_back", lambda pid: sh("sleep 3; pkill -TERM pkexec"))
# where its bus does not tell pkexec that nobody will answer, the person ends it
found["polkit gone"] = before_an_agent("put_back", lambda pid: (daemon.kill(), sh("sleep 5; pkill -TERM pkexec; true")))
open("/etc/sudoers.d/keeper", "w").write("keeper ALL=(root) NOPASSWD: ALL\\n")
found["by sudo"] = keeper([*ASK, "clearance"])[1]
found["words"] = keeper([f"{BIN}/swept-shelf", "rights"], shown=True)[1]
sh("rm /usr/bin/pkexec /usr/bin/sudo; echo root:kingcup | chpasswd")
by_su = lambda typed: on_terminal([*ASK, "clearance"], [("Password: ", typed)])[1]
found["by su"] = by_su("kingcup\\n")
found["by su, wrong"] = by_su("cowslip\\n")
found["by su, cancelled"] = by_su("\\x03")
found["no terminal for su"] = keeper([*ASK, "clearance"])[1]
os.chown(f"{BIN}/swept-shelf-helper", 1000, 1000)
found["somebody else's helper"] = keeper([*ASK, "clearance"], shown=True)[1]
"""
_RAN = "no run 00000000-0000-4000-8000-000000000000 was carried out with these rights"


@pytest.fixture(scope="module")
def asked(tmp_path_factory):
    """What was said each time the keeper asked for the administrator's rights, with and without somebody who answers."""
    return boxed(tmp_path_factory.mktemp("asked"), _ASK + _TRIED)


@pytest.mark.parametrize("how", ["message", "look message", "by sudo", "by su"])
def test_who_is_given_the_rights_gets_the_helpers_own_answer(asked, how):
    assert _RAN in asked[how]


def test_the_question_says_what_the_rights_are_for(asked):
    assert "Carry out an order: remove applications of this computer, or put them back" in asked["message"]
    assert "Look at all homes" in asked["look message"]


@pytest.mark.parametrize(
    "how",
    [
        "no bus",
        "nobody to ask",
        "no sudo for the keeper",
        "wrong",
        "cancelled",
        "agent gone",
        "never answered",
        "polkit gone",
        "by su, wrong",
    ],
)
def test_without_them_it_is_said_that_nothing_was_changed(asked, how):
    assert _RAN not in asked[how] and "Traceback" not in asked[how]
    assert "Refused" in asked[how] and "nothing was changed" in asked[how], asked[how]


def test_a_helper_that_others_could_change_is_never_started(asked):
    assert "swept-shelf-helper can be changed by others" in asked["somebody else's helper"]


def test_su_is_asked_on_a_terminal_alone_and_whoever_ends_it_changes_nothing(asked):
    assert _RAN not in asked["by su, cancelled"]
    assert "nor su on a terminal, is here to ask for them" in asked["no terminal for su"]
