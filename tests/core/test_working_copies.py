"""What version control keeps in a working copy is the copy's, whoever's program wrote it: it is never that program's to take along."""

from __future__ import annotations

import pytest

from evidence import add_program
from evidence import belongings_of as of
from registries import write

PLACES = (
    "home/vera/.{0}",
    "home/vera/.teasel/.{0}",
    "home/vera/.config/zsh/.{0}",
    "home/vera/.local/share/moor/.{0}",
    "opt/moor/.{0}",
)


@pytest.mark.parametrize("tool", ["git", "hg", "svn", "bzr"])
def test_the_store_of_a_working_copy_is_not_the_tools(room, look, tool):
    add_program(room, tool)
    for place in PLACES:
        for path in ("config", "logs/HEAD", "objects/1"):
            write(room.root, f"{place.format(tool)}/{path}", f"[core]\n# {tool}\n")
        write(room.root, f"{place.format(tool).rpartition('/')[0]}/notes.txt", "x\n")
    write(room.root, f"home/vera/.config/{tool}/ignore", "*.o\n")
    survey = look()
    for app in survey.applications:
        inside = [b.path for b in app.belongings if f"/.{tool}/" in f"{b.path}/"]
        assert not inside, (app.id, inside)
    assert f"/home/vera/.config/{tool}" in of(survey, tool)
