"""Every registry beside Debian's: all in one list, made by the real tools; broken ones are named and the rest is complete."""

from __future__ import annotations

import json
import os
import shutil
import socket
import threading
import time
from dataclasses import replace
from itertools import permutations
from pathlib import Path

import pytest

import registries as made
from helpers import make_ours, picture
from swept_shelf.core.demo.snap_service import serve
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.machine import open_machine
from swept_shelf.core.registries.launchers import LauncherFile, main_launcher
from swept_shelf.core.survey.take import take_survey

EXPECTED = {
    "rpm:inkwell.noarch": "Inkwell",
    "rpm:ruler.noarch": "ruler",
    "flatpak:system:org.test.Drawers/x86_64/1": "Drawers",
    "flatpak:otto:org.test.Drawers/x86_64/1": "Drawers",
    "snap:abacus": "Abacus",
    "snap:abacus/40": "Abacus, older revision 40",
    "appimage:/home/vera/Applications/lathe.AppImage": "lathe",
    "pipx:vera/gauge": "gauge",
    "pip:vera/tally": "tally",
    "npm:system/@test/hem": "@test/hem",
    "cargo:otto/awl": "awl",
    "gem:system/seam": "seam",
    "game:otto/Paper Harbour": "Paper Harbour",
    "wine:/home/otto/.wine": "Wine prefix wine",
    "wine:/home/otto/.wine/drive_c/Program Files/Loupe": "Loupe for Plates",
    "files:/opt/sundial": "Sundial",
    "files:/opt/vise": "vise",
    "files:/usr/local/bin/plumb": "plumb",
    "files:/home/otto/.local/opt/trowel-2.1": "trowel",
}


@pytest.fixture(scope="module")
def workshop(tmp_path_factory):
    """(root with everything, pristine) made once."""
    work = tmp_path_factory.mktemp("tools")
    root = made.bare_root(work / "root")
    made.add_rpms(root, work)
    made.add_flatpaks(root, work)
    made.add_snaps(root, work)
    made.add_appimage(root, work, f"{made.VERA}/Applications/lathe.AppImage", "lathe")
    made.add_pip(root, work)
    made.add_receipts(root)
    made.add_games(root)
    made.add_unregistered(root)
    os.symlink("42", root / made.VERA / "snap/abacus/current")
    for path, at in (
        (".var/app/org.test.Drawers/cache/tmp/x", 1_700_000_000),
        (".var/app/org.test.Drawers/.ld.so/active", 1_690_000_000),
    ):
        made.write(root, f"{made.VERA}/{path}", "")
        os.utime((root / made.VERA / path).parent, (at, at))
    return root


@pytest.fixture(scope="module")
def survey(workshop, tmp_path_factory):
    (make_ours(workshop) / "run").mkdir(exist_ok=True)  # on another's disk nobody would speak to the service
    before = picture(workshop)
    with serve(workshop / "run", made.SNAPS):
        found = take_survey(open_machine(workshop), str(tmp_path_factory.mktemp("out")), [])
    assert {k: v for k, v in picture(workshop).items() if k != "/run"} == {
        k: v for k, v in before.items() if k != "/run"
    }
    return found


def test_all_registries_are_in_one_list_without_duplicates(survey):
    assert {a.id: a.name for a in survey.applications} == EXPECTED
    assert len(survey.applications) == len(EXPECTED)
    assert survey.not_read == []


def app(survey, id):
    return next(a for a in survey.applications if a.id == id)


def test_what_each_registry_says_is_kept(survey):
    inkwell = app(survey, "rpm:inkwell.noarch")
    assert (inkwell.version, inkwell.publisher, inkwell.homepage) == (
        "3.1-2",
        "Test Works",
        "https://inkwell.example/",
    )
    assert (
        inkwell.packages == ["inkwell.noarch", "libinkwell.noarch"] == inkwell.own_packages
        and inkwell.installed.last
    )
    drawers = app(survey, "flatpak:system:org.test.Drawers/x86_64/1")
    assert (drawers.version, drawers.publisher, drawers.origin.source, drawers.origin.reinstallable) == (
        "5.2",
        "Test Works",
        "Flatpak from shelf",
        True,
    )
    assert drawers.packages == ["org.test.Drawers/x86_64/1", "org.test.Base/x86_64/1"]
    abacus = app(survey, "snap:abacus")
    assert (abacus.version, abacus.type, abacus.installed.first.isoformat()) == (
        "8.1",
        "desktop",
        "2026-03-02T08:11:12.123456+00:00",
    )
    lathe = app(survey, "appimage:/home/vera/Applications/lathe.AppImage")
    assert (lathe.version, lathe.icon, lathe.summary) == ("7.7", "wheel", "for the test")
    tally = app(survey, "pip:vera/tally")
    assert tally.own_packages == ["tally", "tallylib"] and tally.executables == [
        "/home/vera/.local/bin/tally"
    ]


def test_sizes_are_what_lies_there_and_nothing_counts_twice(survey, workshop):
    def allocated(*places):
        return sum(
            p.lstat().st_blocks * 512
            for place in places
            for p in [workshop / place, *(workshop / place).rglob("*")]
        )

    assert app(survey, "game:otto/Paper Harbour").bytes.program == allocated(
        f"{made.OTTO}/.local/share/Steam/steamapps/common/PaperHarbour",
        f"{made.OTTO}/.local/share/Steam/steamapps/appmanifest_77.acf",
    )
    image = "var/lib/snapd/snaps/abacus_{}.snap".format
    assert app(survey, "snap:abacus").bytes.program == allocated(
        image(41), "var/lib/snapd/desktop/applications/abacus_abacus.desktop"
    )
    assert app(survey, "snap:abacus/40").bytes.program == allocated(image(40))
    prefix, inside = (
        app(survey, "wine:/home/otto/.wine"),
        app(survey, "wine:/home/otto/.wine/drive_c/Program Files/Loupe"),
    )
    assert prefix.bytes.program + inside.bytes.program == allocated(f"{made.OTTO}/.wine")
    assert prefix.needed_by == [inside.id]
    paths = [b.path for a in survey.applications for b in a.belongings if b.kind == "program"]
    assert len(paths) == len(set(paths))


def test_data_folders_that_a_registry_gives_are_registered_belongings(survey):
    kinds = {
        b.path: (b.kind, b.proof, b.person)
        for b in app(survey, "flatpak:system:org.test.Drawers/x86_64/1").belongings
    }
    assert kinds["/home/vera/.var/app/org.test.Drawers/cache"] == ("cache", "registered", "vera")
    assert kinds["/home/vera/.var/app/org.test.Drawers/config"] == ("preferences", "registered", "vera")
    snap = {b.path: b.kind for b in app(survey, "snap:abacus").belongings}
    assert snap["/home/vera/snap/abacus/common"] == "support" and snap["/var/snap/abacus/common"] == "state"


def test_what_flatpak_and_snap_leave_at_each_start_are_signs_of_use(survey):
    found = {
        s.source: s
        for s in app(survey, "flatpak:system:org.test.Drawers/x86_64/1").last_use.signs
        if s.kind == "started in its box"
    }
    assert found["/home/vera/.var/app/org.test.Drawers/cache/tmp"].at.timestamp() == 1_700_000_000
    assert {s.person for s in found.values()} == {"vera"}
    snap = [s for s in app(survey, "snap:abacus").last_use.signs if s.kind == "started in its box"]
    assert snap and snap[0].source.startswith("/home/vera/snap/abacus/current")


def test_the_same_program_registered_twice_is_said(survey):
    assert app(survey, "flatpak:system:org.test.Drawers/x86_64/1").other_versions == [
        "flatpak:otto:org.test.Drawers/x86_64/1"
    ]


def test_an_unregistered_program_is_its_folder_its_links_and_its_launcher(survey):
    assert {b.path for b in app(survey, "files:/opt/sundial").belongings} == {
        "/opt/sundial",
        "/usr/local/share/applications/sundial.desktop",
    }
    vise = app(survey, "files:/opt/vise")
    assert vise.type == "terminal" and {b.path for b in vise.belongings} == {
        "/opt/vise",
        "/usr/local/bin/vise",
    }
    assert vise.executables == ["/opt/vise/libexec/vise"]


def _surveyed(root, tmp_path):
    return take_survey(open_machine(root), str(tmp_path), [])


def test_without_its_service_a_snap_is_read_from_its_files(workshop, tmp_path):
    found = _surveyed(workshop, tmp_path)
    abacus = app(found, "snap:abacus")
    assert (abacus.name, abacus.version, abacus.summary) == ("Abacus", "8.1", "counts beads")
    assert not any(a.id == "snap:ground" for a in found.applications) and found.not_read == []


BREAKS = {
    "rpm": ("var/lib/rpm/rpmdb.sqlite", b"SQLite format 3\0 and then nothing", "rpm:"),
    "flatpak": (
        "var/lib/flatpak/app/org.test.Drawers/x86_64/1/active/metadata",
        b"\xff\xfe[Applic",
        "flatpak:system:",
    ),
    "flatpak remotes": ("var/lib/flatpak/repo/config", b"no section\n", None),
    "appimage": (f"{made.VERA}/Applications/lathe.AppImage", None, None),
    "pipx": (f"{made.VERA}/.local/share/pipx/venvs/gauge/pipx_metadata.json", b'{"main_package": ', "pipx:"),
    "npm": ("usr/local/lib/node_modules/@test/hem/package.json", b"[1, 2]", "npm:"),
    "cargo": (f"{made.OTTO}/.cargo/.crates2.json", b'{"installs": {"awl": 3}}', "cargo:"),
    "pip": (
        f"{made.VERA}/.local/lib/python3.11/site-packages/tally-1.4.dist-info/METADATA",
        b"\xff\xfe\0T",
        "pip:",
    ),
    "gem": ("var/lib/gems/3.1.0/specifications/seam-1.2.gemspec", b"Gem\xff\xfe", "gem:"),
    "wine": (f"{made.OTTO}/.wine/system.reg", b"\0\xff" * 30, "wine:"),
    "game": (f"{made.OTTO}/.local/share/Steam/steamapps/appmanifest_77.acf", b"\0" * 50, "game:"),
    "snap image": ("var/lib/snapd/snaps/abacus_41.snap", b"hsqs" + b"\xff" * 8000, None),
}


def _copy(root: Path, to: Path) -> Path:
    return Path(shutil.copytree(root, to, symlinks=True))


@pytest.mark.parametrize("which", BREAKS)
def test_a_broken_registry_is_named_and_the_rest_is_complete(workshop, tmp_path, which):
    path, content, lost = BREAKS[which]
    root = _copy(workshop, tmp_path / "root")
    whole = (root / path).read_bytes()
    target = (root / path).resolve()
    target.write_bytes(whole[: len(whole) - 4000] if content is None else content)
    (tmp_path / "out").mkdir()
    found = _surveyed(root, tmp_path / "out")
    named = [
        n for n in found.not_read if n.path.endswith(path.rsplit("/", 1)[1]) or n.path in ("/var/lib/rpm",)
    ]
    assert named and all(n.reason for n in named) and not found.complete
    left = {i for i in EXPECTED if lost is None or not i.startswith(lost)}
    assert left <= {a.id for a in found.applications}


def test_a_snap_service_that_hangs_or_talks_nonsense_is_named_and_its_files_are_read(
    workshop, tmp_path, monkeypatch
):
    from swept_shelf.core.registries.snap import read as snap

    monkeypatch.setattr(snap, "_TIMEOUT", 0.3)
    root = make_ours(_copy(workshop, tmp_path / "root"))
    (root / "run").mkdir(exist_ok=True)
    fd = os.open(root / "run", os.O_PATH)
    listening = socket.socket(socket.AF_UNIX)
    listening.bind(f"/proc/self/fd/{fd}/snapd.socket")
    listening.listen(1)
    for answer in (
        None,
        b"HTTP/1.0 200 OK\r\n\r\nnot json",
        b"HTTP/1.0 200 OK\r\n\r\n" + json.dumps({"type": "error", "result": {"message": "no"}}).encode(),
    ):

        def say(answer=answer):
            taken, _ = listening.accept()
            taken.recv(4096)
            if answer:
                taken.sendall(answer)
                taken.close()
            else:
                time.sleep(1)

        threading.Thread(target=say, daemon=True).start()
        out = tmp_path / f"out-{len(answer or b'')}"
        out.mkdir()
        found = _surveyed(root, out)
        assert any(
            n.path == "/run/snapd.socket" and "its folders were read" in n.reason for n in found.not_read
        )
        assert app(found, "snap:abacus").version == "8.1"
    os.close(fd)


def test_an_rpm_root_is_surveyed_by_the_worker_in_its_own_namespaces(workshop, tmp_path):
    """Where everything but its own folder is read-only, also for rpm itself."""
    from swept_shelf.worker.client import run_worker

    out = tmp_path / "out"
    out.mkdir(mode=0o700)
    before = picture(workshop)
    run_worker({"do": "survey", "root": str(workshop), "folder": str(out)})
    found = read_document(Survey, (out / "survey.json").read_bytes(), "x")
    assert {i for i in EXPECTED if i.startswith("rpm:")} <= {a.id for a in found.applications}
    assert not [n for n in found.not_read if "rpm" in n.path or "temporary" in n.reason]
    assert picture(workshop) == before


def test_a_missing_or_hanging_rpm_command_is_named(workshop, tmp_path, monkeypatch):
    from swept_shelf.core.machine import commands

    bin = tmp_path / "bin"
    for name in ("find", "grep"):
        bin.mkdir(exist_ok=True)
        (bin / name).symlink_to(shutil.which(name))
    monkeypatch.setitem(commands._ENVIRONMENT, "PATH", str(bin))
    (tmp_path / "a").mkdir()
    missing = _surveyed(workshop, tmp_path / "a")
    assert any(n.path == "/var/lib/rpm" and "rpm" in n.reason for n in missing.not_read)
    (bin / "rpm").write_text("#!/bin/sh\nexec sleep 600\n")
    (bin / "rpm").chmod(0o755)
    (bin / "sleep").symlink_to(shutil.which("sleep"))
    monkeypatch.setattr(commands, "TIME_LIMIT", 1.0)
    (tmp_path / "b").mkdir()
    hanging = _surveyed(workshop, tmp_path / "b")
    assert any(n.path == "/var/lib/rpm" and "time" in n.reason for n in hanging.not_read)
    assert {i for i in EXPECTED if not i.startswith("rpm:")} <= {a.id for a in hanging.applications}


def test_a_flatpak_for_one_person_is_that_persons(survey):
    mine = app(survey, "flatpak:otto:org.test.Drawers/x86_64/1")
    assert {b.person for b in mine.belongings if b.kind == "program"} == {"otto"}


SHOWN = [  # package, its launchers as (file, command, categories), the one that shows what it is
    (
        "quill",
        [("quill-edit", "quill-edit", ""), ("quill-gui", "quill", ""), ("quill-view", "quill-view", "")],
        "quill-gui",
    ),
    ("drawer", [("drawer-bulk", "drawer", ""), ("drawer", "drawer", "")], "drawer"),
    (
        "drawerfm",
        [("drawerfm-desktop-pref", "drawerfm", "Settings"), ("drawerfm", "drawerfm", "")],
        "drawerfm",
    ),
    (
        "pad",
        [("org.example.pad-settings", "pad", "Settings"), ("org.example.pad", "pad", "")],
        "org.example.pad",
    ),
    ("ink-gtk", [("ink-term", "ink", ""), ("ink", "ink", "")], "ink"),
    ("panel", [("settings-of-panel", "panel", "Settings")], "settings-of-panel"),
    (
        "org.example.Chest",
        [("org.example.Chest.Other", "a", ""), ("org.example.Chest", "b", "")],
        "org.example.Chest",
    ),
]


@pytest.mark.parametrize(("name", "launchers", "shown"), SHOWN)
def test_of_several_launchers_the_one_that_is_called_like_it_shows_it(name, launchers, shown):
    made = [
        LauncherFile(
            f"/a/{file}.desktop",
            f"{file}.desktop",
            file,
            "",
            f"/usr/bin/{command}",
            "",
            (category,),
            True,
            False,
            "",
        )
        for file, command, category in launchers
    ]
    for order in permutations(made):
        assert main_launcher(order, name).name == shown
    assert main_launcher([replace(lf, visible=False) for lf in made], name) is None
