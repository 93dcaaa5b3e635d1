"""A person carries an order out on a whole computer by the helper, from the first look to the empty shelf."""

from __future__ import annotations

import pytest

from boxed import boxed

pytestmark = pytest.mark.real

_SCRIPT = """
open("/etc/sudoers.d/keeper", "w").write("keeper ALL=(root) NOPASSWD: ALL\\n")
SS = f"{BIN}/swept-shelf"
state = lambda: sh("dpkg -l strace xdotool libxdo3 2>/dev/null | grep ^ii | wc -l; dpkg -V strace xdotool libxdo3 2>&1 || true")
found["before"] = state()
for name, words in (
    ("survey", ["survey", "--with-rights"]), ("order", ["order", "strace", "xdotool", "-o", "x.json"]),
    ("rehearse", ["rehearse", "x.json"]), ("carry", ["carry-out", "x.json"]), ("clearance", ["clearance"]),
    ("one back", ["put-back", "latest", "strace"]), ("all back", ["put-back"]),
):
    found[name] = keeper([SS, *words])
    found[f"after {name}"] = state()
sh("rm -rf /home/keeper/x.json")
keeper([SS, "survey", "--with-rights"]); keeper([SS, "order", "strace", "-o", "y.json"]); keeper([SS, "carry-out", "y.json"])
found["archived"] = keeper([SS, "archive", "y.tar.zst"])
found["emptied"] = keeper([SS, "empty"])
found["shelf"] = os.path.exists("/.swept-shelf")
found["gone"] = state()
found["restored"] = keeper([SS, "restore", "y.tar.zst"])
found["after restored"] = state()
found["theirs"] = sh("find /home/keeper -not -user keeper | head")
"""


def test_a_person_does_the_whole_job_with_rights_that_are_asked_for(tmp_path):
    found = boxed(tmp_path, _SCRIPT, 900)
    assert found["order"][0] == 0, (found["survey"], found["order"])
    assert found["carry"][0] == 0 and "operations done" in found["carry"][1], (
        found["rehearse"],
        found["carry"],
    )
    assert found["after carry"].startswith("0\n") and "0 findings" in found["clearance"][1]
    assert found["one back"][0] == 0 and found["after one back"].startswith("1\n")
    assert found["all back"][0] == 0 and found["after all back"] == found["before"]
    assert found["emptied"][0] == 0 and found["shelf"] is False and found["theirs"] == ""
    assert found["archived"][0] == 0 and found["restored"][0] == 0, (found["archived"], found["restored"])
    assert found["gone"].startswith("2\n") and found["after restored"] == found["before"]
