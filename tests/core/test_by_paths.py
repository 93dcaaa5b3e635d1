"""Applications whose registry is receipts and books: what it lists goes to the shelf, its books are cut, and all of it comes back."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, picture
from swept_shelf.core.grammars.json_members import members
from swept_shelf.core.references.kinds import KINDS

VERA, OTTO = made.VERA, made.OTTO
GOING = {
    "appimage:/home/vera/Applications/lathe.AppImage",
    "pipx:vera/gauge",
    "pip:vera/tally",
    "npm:system/@test/hem",
    "cargo:otto/awl",
    "gem:system/seam",
    "game:otto/Paper Harbour",
    "game:otto/Reed Organ",
    "wine:/home/otto/.wine/drive_c/Program Files/Loupe",
}
CARGO_TOML = (
    '[v1]\n"awl 0.9.1 (registry+https://registry.example/index)" = ["awl"]\n'
    '"burin 2.0.0 (registry+https://registry.example/index)" = [\n    "burin",\n    "burin-mark",\n]\n'
)
BOOKS = f"{OTTO}/.config/legendary/installed.json"


@pytest.fixture(scope="module")
def root(tmp_path_factory):
    work = tmp_path_factory.mktemp("tools")
    root = made.bare_root(work / "root")
    made.add_appimage(root, work, f"{VERA}/Applications/lathe.AppImage", "lathe")
    made.add_pip(root, work)
    made.add_receipts(root)
    made.add_games(root)
    made.write(root, f"{OTTO}/.cargo/.crates.toml", CARGO_TOML)
    made.write(root, f"{OTTO}/.cargo/bin/burin", "program", 0o755)
    said = json.loads((root / OTTO / ".cargo/.crates2.json").read_text())
    said["installs"]["burin 2.0.0 (registry+https://registry.example/index)"] = {
        "bins": ["burin", "../../Documents/notes.txt"]
    }
    made.write(root, f"{OTTO}/.cargo/.crates2.json", json.dumps(said, separators=(",", ":")))
    made.write(root, f"{OTTO}/Documents/notes.txt", "of otto\n")
    games = {
        n: {"title": t, "install_path": f"/{OTTO}/Games/{t}", "app_name": n, "version": "1"}
        for n, t in (("r1", "Reed Organ"), ("r2", "Sedge Field"))
    }
    made.write(root, BOOKS, json.dumps(games, indent=4))
    for game in games.values():
        made.write(root, f"{game['install_path'][1:]}/play.pak", "p" * 30_000)
    for path in (
        "cache/seam-1.2.gem",
        "doc/seam-1.2/ri/x",
        "extensions/x86_64-linux/3.1.0/seam-1.2/gem.build_complete",
    ):
        made.write(root, f"var/lib/gems/3.1.0/{path}", "built")
    made.write(root, "usr/local/bin/gauge", "#!/bin/sh\n# of somebody else\n", 0o755)
    return root


@pytest.fixture
def job(root, tmp_path):
    subprocess.run(["cp", "-a", root, tmp_path / "root"], check=True)
    return Job(SimpleNamespace(folder=tmp_path / "root"))


def listed(root, person=VERA):
    site = next((root / person / ".local/lib").glob("python*/site-packages"))
    said = subprocess.run(
        [sys.executable, "-m", "pip", "list", "--path", site, "--format=json"],
        capture_output=True,
        check=True,
    )
    return {p["name"] for p in json.loads(said.stdout)}


def test_all_of_them_go_in_one_order_their_registries_forget_them_and_all_comes_back(job):
    root = job.machine.folder
    before = picture(root)
    assert {a.id for a in job.surveyed.survey.applications} >= GOING and listed(root) == {"tally", "tallylib"}
    run = job.carry(job.prepare(job.order(*GOING)))
    assert {(o.event, o.note) for o in run.state.operations.values()} == {("done", "")}
    assert listed(root) == set()
    assert (
        not list((root / "var/lib/gems/3.1.0").rglob("seam*"))
        and not (root / "usr/local/bin/hem").is_symlink()
    )
    assert not (root / "usr/local/lib/node_modules/@test").exists()
    installs = json.loads((root / OTTO / ".cargo/.crates2.json").read_text())["installs"]
    assert [k.split()[0] for k in installs] == ["burin"]
    assert '"burin-mark",\n]' in (root / OTTO / ".cargo/.crates.toml").read_text()
    assert "awl" not in (root / OTTO / ".cargo/.crates.toml").read_text()
    assert list(json.loads((root / BOOKS).read_text())) == ["r2"]
    assert "Loupe" not in (root / OTTO / ".wine/system.reg").read_text()
    for kept in ("Documents/notes.txt", "Games/Sedge Field/play.pak", ".cargo/bin/burin", ".wine/system.reg"):
        assert (root / OTTO / kept).exists()
    assert (root / "usr/local/bin/gauge").exists()
    clearance = job.clearance()
    cells = {line.id: {c.family: c for c in line.cells} for line in clearance.lines}
    assert set(cells) == GOING
    assert all(
        c.state in ("clear", "not_part")
        for line in cells.values()
        for c in line.values()
        if c.family != "processes"
    ), [
        (id, c.family, c.state, [f.path for f in c.findings], c.looked_at)
        for id, line in cells.items()
        for c in line.values()
        if c.state not in ("clear", "not_part")
    ]
    assert cells["cargo:otto/awl"]["registry"].state == "clear"
    assert cells["appimage:/home/vera/Applications/lathe.AppImage"]["registry"].state == "not_part"
    job.put_back()
    assert differences(before, picture(root)) == []


def test_what_its_registry_still_has_is_found(job):
    root = job.machine.folder
    job.carry(job.prepare(job.order("cargo:otto/awl", "pipx:vera/gauge")))
    made.write(root, f"{OTTO}/.cargo/bin/awl", "program", 0o755)
    installs = {"awl 0.9.1 (registry+https://registry.example/index)": {"bins": ["awl"]}}
    made.write(root, f"{OTTO}/.cargo/.crates2.json", json.dumps({"installs": installs}))
    made.write(root, f"{VERA}/.local/share/pipx/venvs/gauge/pipx_metadata.json", "{ broken")
    cells = {line.id: {c.family: c for c in line.cells} for line in job.clearance().lines}
    assert cells["cargo:otto/awl"]["registry"].state == "found"
    assert cells["pipx:vera/gauge"]["registry"].state == "could_not_look"


def test_a_receipt_is_not_believed_about_what_is_not_its_own(root, job):
    """A record that names a person's files, a folder several distributions share, a link somebody else made."""
    here = job.machine.folder
    site = next((here / VERA / ".local/lib").glob("python*/site-packages"))
    record = site / "tally-1.4.dist-info/RECORD"
    letter = made.write(here, f"{VERA}/Documents/letter.odt", "of vera")
    made.write(here, f"{VERA}/.local/share/keyrings/login.keyring", "secret")
    shared = made.write(here, f"{site.relative_to(here)!s}/plates/other/__init__.py", "another's")
    own = made.write(here, f"{site.relative_to(here)!s}/plates/tally/__init__.py", "its own")
    named = (letter, here / VERA / ".local/share/keyrings/login.keyring", own)
    record.write_text(record.read_text() + "".join(f"{os.path.relpath(p, site)},,\n" for p in named))
    (here / VERA / ".local/bin/gauge").unlink()
    made.write(here, f"{VERA}/.local/bin/gauge", "#!/bin/sh\n# by hand\n", 0o755)
    job.survey()
    job.carry(job.prepare(job.order("pip:vera/tally", "pipx:vera/gauge")))
    assert letter.exists() and named[1].exists() and shared.exists() and not own.exists()
    assert (here / VERA / ".local/bin/gauge").exists() and not (
        here / VERA / ".local/share/pipx/venvs/gauge"
    ).exists()


def test_what_somebody_made_with_a_game_or_in_a_windows_home_stays(job):
    here, otto = job.machine.folder, job.machine.folder / OTTO
    steam = ".local/share/Steam/steamapps"
    made.write(here, f"{OTTO}/{steam}/compatdata/77/pfx/drive_c/windows/x.dll", "of the library")
    theirs = (
        f"{steam}/compatdata/77/pfx/drive_c/users/steamuser/Documents/My Games/slot1.sav",
        f"{steam}/common/PaperHarbour/data/SaveGames/slot2.sav",
        ".wine/drive_c/users/otto/Desktop/letter.txt",
        ".wine/drive_c/Program Files/Loupe/saves/plate.dat",
    )
    for path in theirs:
        made.write(here, f"{OTTO}/{path}", "made by otto")
    job.survey()
    going = [
        "game:otto/Paper Harbour",
        "wine:/home/otto/.wine/drive_c/Program Files/Loupe",
        "wine:/home/otto/.wine",
    ]
    before = picture(here)
    answers = {f"needed_by:{going[2]}": "remove_both"}
    job.carry(job.prepare(job.order(*going, answers=answers)))
    assert all((otto / p).read_text() == "made by otto" for p in theirs)
    assert not (otto / f"{steam}/common/PaperHarbour/world.pak").exists()
    assert not (otto / f"{steam}/compatdata/77/pfx/drive_c/windows").exists()
    assert (
        not (otto / ".wine/drive_c/Program Files/Loupe/loupe.exe").exists()
        and not (otto / ".wine/system.reg").exists()
    )
    job.put_back()
    assert differences(before, picture(here)) == []


def test_what_others_need_is_asked_or_protected(root, job):
    here = job.machine.folder
    site = next((here / VERA / ".local/lib").glob("python*/site-packages")).relative_to(here)
    for name, commands in (("tallyview", "[console_scripts]\ntallyview = x:y\n"), ("tallyplug", "")):
        info = f"{site}/{name}-1.dist-info"
        made.write(
            here,
            f"{info}/METADATA",
            f"Metadata-Version: 2.1\nName: {name}\nVersion: 1\nRequires-Dist: tally\n",
        )
        made.write(here, f"{info}/RECORD", f"{name}-1.dist-info/METADATA,,\n{name}-1.dist-info/RECORD,,\n")
        made.write(here, f"{info}/entry_points.txt", commands)
    made.write(here, f"{site}/tally-1.4.dist-info/REQUESTED", "")
    job.survey()
    tally = job.app("pip:vera/tally")
    assert tally.needed_by == ["pip:vera/tallyview"] and "tallyplug" in tally.protected
    asked = {s.question for s in job.order("pip:vera/tally").settle}
    assert asked >= {"needed_by", "protected"}


@pytest.mark.parametrize(
    "text, gone, left",
    [
        ('{"installs":{"a 1 (x)":{"bins":["a"]},"b 1 (x)":{"bins":["b"]}}}', {0}, ["b 1 (x)"]),
        (
            '{ "installs" : {\n  "a 1 (x)" : {"bins":["a"]} ,\n  "b 1 (x)": {"bins":["b"]}\n } }\n',
            {1},
            ["a 1 (x)"],
        ),
        ('{"v":[1,"}",{"installs":2}],"installs":{"a 1 (x)":{"bins":["a"]}}}', {0}, []),
    ],
)
def test_a_member_is_cut_out_of_any_json_and_the_rest_stays_as_it_is_written(text, gone, left):
    from swept_shelf.core.references.cutting import without
    from swept_shelf.core.references.take_out import cut_of

    kind = KINDS["entry of cargo"]
    entries = list(kind.parse("/home/o/.cargo/.crates2.json", text))
    after = without(text, [cut_of(e) for i, e in enumerate(entries) if i in gone])
    assert list(json.loads(after)["installs"]) == left and kind.why_broken("x.json", text, after) == ""
    assert [m.key for m in members(after, "installs")] == left


def test_what_is_no_json_is_said():
    for text in ("", "{", '{"installs":{"a":1}', "[" * 100_000):
        with pytest.raises(ValueError):
            members(text, "installs")
