"""What an application holds is what it would be missed for; and what was left behind has evidence of who left it."""

from __future__ import annotations

from pathlib import Path

import pytest

from evidence import DESKTOP, Room, ago, launcher, write
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.tree.index import Index

BIG = "x" * 3_000_000


def entry(survey: Survey, name: str):
    found = survey.find(f"debian:{name}")
    assert found is not None
    return found


def owner(tmp_path: Path, path: str) -> str:
    row = Index(tmp_path / "out/survey.index").row(path)
    assert row is not None
    return row.owner


def test_what_only_a_text_in_its_program_names_counts_in_no_sum(room, look, tmp_path):
    """A tool whose text names a person's language environment, and another program's plug-ins, holds neither."""
    program = '#!/bin/sh\nx=".shimwood"\nx="/opt/graftworks"\n'
    room.packages({"gatewatch": {"usr/bin/gatewatch": program}})
    room.home("vera", ".shimwood/versions/one/lib", BIG, ago(3))
    write(room.root, "opt/graftworks/plug", BIG)
    app = entry(look(), "gatewatch")
    places = {b.path: b for b in app.belongings}
    for path in ("/home/vera/.shimwood", "/opt/graftworks"):
        assert path in places and not places[path].certain and not places[path].ticked
        assert owner(tmp_path, path) != app.id
    assert app.bytes.total < 100_000 < 6_000_000 <= app.named
    assert sum(b.bytes for b in app.bytes_by) == app.bytes.total
    assert app.comes_back < 100_000


def test_its_own_name_at_the_place_and_in_its_program_counts(room, look, tmp_path):
    room.packages({"fernlight": {"usr/bin/fernlight": '#!/bin/sh\nx=".config/fernlight"\n'}})
    room.home("vera", ".config/fernlight/big", BIG, ago(3))
    app = entry(look(), "fernlight")
    place = {b.path: b for b in app.belongings}["/home/vera/.config/fernlight"]
    assert place.certain and place.ticked and app.bytes.preferences >= 3_000_000 and app.named == 0
    assert owner(tmp_path, "/home/vera/.config/fernlight") == app.id


def test_what_its_unit_keeps_counts_and_so_does_what_a_technician_said(room, look):
    unit = "[Service]\nExecStart=/usr/sbin/tidewatchd\nStateDirectory=tidewatch-store\n"
    room.packages(
        {
            "tidewatch": {
                "usr/sbin/tidewatchd": "#!/bin/sh\n",
                "usr/lib/systemd/system/tidewatch.service": unit,
            }
        }
    )
    write(room.root, "var/lib/tidewatch-store/data", BIG)
    app = entry(look(), "tidewatch")
    assert {b.path: b for b in app.belongings}["/var/lib/tidewatch-store"].certain
    assert app.bytes.state >= 3_000_000


@pytest.mark.parametrize(
    "path",
    [
        "tmp/oddwork/notes.txt",
        "var/tmp/oddwork/notes.txt",
        "srv/oddwork/notes.txt",
        "home/vera/.oddwork/.git/config",
        "home/vera/.local/share/oddwork/pyvenv.cfg",
        "home/vera/.cache/oddwork/inner/CMakeCache.txt",
        "var/lib/oddroot/etc/notes.txt",
    ],
)
def test_what_stands_in_a_workshop_says_nothing_of_whose_it_is(room, look, path):
    """Temporary places, working copies, environments, build folders, unpacked roots: mentioning a program is no ownership."""
    write(room.root, path, f"/usr/bin/{DESKTOP}\n/usr/bin/plumbago\n")
    if "oddroot" in path:
        for name in ("bin", "usr", "lib"):
            write(room.root, f"var/lib/oddroot/{name}/x", "x")
    top = "/" + path[: path.index("odd")] + ("oddroot" if "oddroot" in path else "oddwork")
    survey = look()
    assert not [b.path for a in survey.applications for b in a.belongings if b.path.startswith(top)]
    assert [e.name for e in survey.left_behind] == []


@pytest.mark.parametrize("where", [".config/plumbago", ".plumbago", ".local/share/plumbago-data"])
def test_a_place_for_applications_that_is_called_like_a_program_it_names_and_that_is_gone_was_left_behind(
    room, look, where
):
    room.home("vera", f"{where}/x.ini", "last=/usr/bin/plumbago\n", ago(700))
    (left,) = look().left_behind
    assert left.name == "plumbago" and [b.path for b in left.belongings] == [f"/home/vera/{where}"]
    assert not left.belongings[0].ticked and left.bytes.total > 0


@pytest.mark.parametrize("launched", [True, False])
def test_a_name_alone_is_no_evidence_of_a_former_application(room, look, launched):
    room.home("vera", ".config/mossgrid/x.ini", "a=1\n", ago(700))
    if launched:
        room.home("vera", ".local/share/applications/grid.desktop", launcher("Grid", "mossgrid"), ago(700))
    assert [e.name for e in look().left_behind] == (["mossgrid"] if launched else [])


def test_what_is_shown_says_what_counts_in_no_sum(room, look):
    from swept_shelf.core.survey.facts import about

    room.packages({"gatewatch": {"usr/bin/gatewatch": '#!/bin/sh\nx=".shimwood"\n'}})
    room.home("vera", ".shimwood/lib", BIG, ago(3))
    survey = look()
    lines = about(survey, entry(survey, "gatewatch"))
    assert any("named in 3.0 MB more, which count in no sum: /home/vera/.shimwood" in line for line in lines)


def large_program(room: Room) -> None:
    """A program of 70 MiB whose text names a folder at its very end."""
    room.packages({"hugeloom": {"usr/bin/hugeloom": "#!/bin/sh\n", "usr/lib/hugeloom/engine": "x"}})
    with open(room.root / "usr/lib/hugeloom/engine", "r+b") as engine:
        engine.truncate(70 << 20)
        engine.seek(0, 2)
        engine.write(b"\0.config/hugeloom\0.threadstore\0")
    (room.root / "usr/lib/hugeloom/engine").chmod(0o755)
    room.home("vera", ".config/hugeloom/x", "a=1\n", ago(3))
    room.home("vera", ".threadstore/x", "a=1\n", ago(3))


def test_programs_over_64_mib_are_searched_where_they_lie(room, look):
    large_program(room)
    for _ in range(2):
        survey = look()
        places = {b.path: b for b in entry(survey, "hugeloom").belongings}
        assert places["/home/vera/.config/hugeloom"].certain and places["/home/vera/.config/hugeloom"].ticked
        assert not places["/home/vera/.threadstore"].certain
        assert not [x for x in survey.programs_not_read if "hugeloom" in x.path]


def test_what_the_time_for_large_programs_does_not_reach_is_said_every_time(room, look, monkeypatch):
    monkeypatch.setattr("swept_shelf.core.belongings.program_texts._BUDGET", 0.0)
    large_program(room)
    for _ in range(2):
        survey = look()
        (said,) = [x for x in survey.programs_not_read if "hugeloom" in x.path]
        assert said.reason == "is larger than 64 MiB, and the 0 s for such files were over"
        assert not {b.path for b in entry(survey, "hugeloom").belongings} & {"/home/vera/.threadstore"}


@pytest.mark.parametrize(
    ("folder", "standard"),
    [
        ("/opt", True),
        ("/usr/share/icons/hicolor/48x48/apps", True),
        ("/etc/xdg/autostart", True),
        ("/usr/lib/x86_64-linux-gnu", True),
        ("/usr/share/locale/de/LC_MESSAGES", True),
        ("/var/lib", True),
        ("/usr/local/share/applications", True),
        ("/opt/lonepaint", False),
        ("/usr/share/lonepaint", False),
        ("/usr/share/icons/Lonepaint", False),
        ("/etc/lonepaint", False),
        ("/var/lib/lonepaint", False),
        ("/usr/lib/x86_64-linux-gnu/lonepaint", False),
    ],
)
def test_standard_folders_are_nobodys_however_few_list_them(room, look, folder, standard):
    room.packages(
        {"lonepaint": {"usr/bin/lonepaint": "#!/bin/sh\n", f"{folder[1:]}/lonepaint.dat": "x" * 9000}}
    )
    own = {b.path for b in entry(look(), "lonepaint").belongings}
    assert (folder in own) != standard
    assert f"{folder}/lonepaint.dat" in own if standard else True
    assert not any(folder.startswith(path + "/") for path in own)


def test_a_program_below_opt_is_seen_though_a_package_lists_opt(room, look, tmp_path):
    room.packages({"lonepaint": {"usr/bin/lonepaint": "#!/bin/sh\n", "opt/lonepaint/x": "x"}})
    code = Path("/bin/true").read_bytes()
    for path in ("opt/boxtool/bin/boxtool", "opt/boxtool/lib/x.so"):
        write(room.root, path, code).chmod(0o755)
    room.home(
        "vera",
        ".local/share/applications/boxtool.desktop",
        launcher("Boxtool", "/opt/boxtool/bin/boxtool"),
        ago(3),
    )
    survey = look()
    assert survey.find("files:/opt/boxtool") is not None
    assert owner(tmp_path, "/opt/boxtool/lib/x.so") == "files:/opt/boxtool"
