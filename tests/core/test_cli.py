"""The command line as a person in a hurry uses it: clear words, right exit status, documents alone on stdout."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from helpers import MadeUp, cli, dpkg_status
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.wire import read_document


@pytest.fixture
def at(made_up: MadeUp):
    def call(*arguments: str, **more) -> subprocess.CompletedProcess[str]:
        return cli(arguments[0], "--root", str(made_up.folder), *arguments[1:], **more)

    call.machine = made_up  # type: ignore[attr-defined]
    return call


def test_the_whole_job_on_the_command_line(at, tmp_path):
    machine, order = at.machine, str(tmp_path / "order.json")
    name = machine.id("map", "7").removeprefix("debian:")
    said = at("survey", "--format", "json")
    assert said.returncode == 0 and read_document(Survey, said.stdout.encode(), "x").complete
    assert name in at("show", name).stdout
    drawn = at("order", name, "--settle", f"personal:debian:{name}=they_stay", "-o", order)
    assert drawn.returncode == 0 and "come back" in drawn.stderr and drawn.stdout == ""
    rehearsed = at("rehearse", order)
    assert rehearsed.returncode == 0 and "dpkg was asked" in rehearsed.stdout
    assert json.loads(at("rehearse", order, "--format", "json").stdout)["operations"]
    assert dpkg_status(machine, name) == "installed"
    assert at("carry-out", order).returncode == 0
    assert dpkg_status(machine, name) == "not-installed"
    proof = at("clearance")
    assert proof.returncode == 0 and "clear" in proof.stdout
    assert "found" not in proof.stdout
    for kind in ("html", "json"):
        assert at("report", "-o", str(tmp_path / f"r.{kind}")).returncode == 0
    page = (tmp_path / "r.html").read_text()
    assert (
        "Reading-room desk" in page and "<script" not in page and "http" not in page.replace("http-equiv", "")
    )
    assert json.loads((tmp_path / "r.json").read_text())["clearance"]["lines"]
    assert at("put-back").returncode == 0 and dpkg_status(machine, name) == "installed"
    again = at("carry-out", order)
    assert again.returncode == 2 and "was put back" in again.stderr
    assert at("resume").returncode == 0 and "nothing was interrupted" in at("resume").stderr
    assert at("visits", "--close", "latest").returncode == 0
    assert json.loads(at("visits", "--format", "json").stdout)[0]["closed_at"]


def test_a_run_killed_from_outside_is_named_and_resumed(at, tmp_path):
    order, name = str(tmp_path / "o.json"), at.machine.id("map", "7").removeprefix("debian:")
    at("survey")
    at("order", name, "--settle", f"personal:debian:{name}=they_stay", "-o", order)
    inject = [
        "strace",
        "-f",
        "-qqq",
        "-o",
        "/dev/null",
        "-e",
        "trace=renameat2",
        "-e",
        "inject=renameat2:signal=SIGKILL:when=7",
    ]
    cut = subprocess.run(
        [*inject, sys.executable, "-m", "swept_shelf", "carry-out", "--root", str(at.machine.folder), order],
        capture_output=True,
        text=True,
    )
    assert cut.returncode == 2 and "resume --finish" in cut.stderr
    said = at("carry-out", order)
    assert said.returncode == 2 and "resume" in said.stderr
    assert "resume --put-back" in at("put-back").stderr
    assert at("resume").returncode == 2
    assert at("resume", "--finish").returncode == 0
    assert dpkg_status(at.machine, name) == "not-installed"
    assert at("empty").returncode == 0
    assert at("put-back").returncode == 2


def test_an_ambiguous_name_is_refused_with_the_ids(at):
    at("survey")
    scan = at.machine.truth["app"]["scan"].lower()
    said = at("show", scan)
    assert said.returncode == 2 and f"debian:{scan}2" in said.stderr and f"debian:{scan}4" in said.stderr
    assert at("show", "nothing-like-this").returncode == 2


def test_an_order_that_names_etc_passwd_is_refused(at, tmp_path):
    order, name = tmp_path / "o.json", at.machine.id("match").removeprefix("debian:")
    at("survey")
    at("order", name, "-o", str(order))
    plain = json.loads(order.read_text())
    plain["lines"][0]["ticks"].append("/etc/passwd")
    order.write_text(json.dumps(plain))
    for command in ("rehearse", "carry-out"):
        said = at(command, str(order))
        assert said.returncode == 2 and str(order) in said.stderr and "/etc/passwd" in said.stderr
    assert (at.machine.root / "etc/passwd").exists() and dpkg_status(at.machine, name) == "installed"


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (None, "is not there"),
        (b"", "is empty"),
        ("cut", "end of file|may be cut off"),
        (b"Package: x\nRubbish\n", "dpkg could not read it"),
    ],
)
def test_a_missing_empty_or_cut_off_status_file_is_named_and_the_rest_goes_on(at, content, words):
    import re

    status = at.machine.root / "var/lib/dpkg/status"
    if content is None:
        status.unlink()
    else:
        status.write_bytes(status.read_bytes()[:9000] if content == "cut" else content)
    said = at("survey", "--format", "json")
    assert said.returncode == 1
    assert re.search(f"/var/lib/dpkg/status: .*({words})", said.stderr), said.stderr
    assert any(a["registry"] == "files" for a in json.loads(said.stdout)["applications"])


@pytest.mark.parametrize("where", ["in a word", "in the last entry after a line", "after an entry"])
def test_a_status_file_cut_off_anywhere_is_never_taken_for_whole(at, where):
    status = at.machine.root / "var/lib/dpkg/status"
    text = status.read_bytes()
    ends = {
        "in a word": 4003,
        "in the last entry after a line": text.rindex(b"Description"),
        "after an entry": text.index(b"\n\n", 6000) + 2,
    }
    status.write_bytes(text[: ends[where]])
    assert at("survey").returncode == 1


def test_a_launcher_with_bad_bytes_is_named_with_its_line(at):
    bad = at.machine.root / "usr/local/share/applications/bad.desktop"
    bad.write_bytes(b"[Desktop Entry]\nType=Application\nName=\xff\xfe\n")
    said = at("survey")
    assert said.returncode == 1 and "bad.desktop: is not UTF-8 in line 3" in said.stderr


def test_broken_recent_documents_are_could_not_look_never_clear(at, tmp_path):
    name = at.machine.id("match").removeprefix("debian:")
    recent = next(at.machine.root.glob("home/*/.local/share/recently-used.xbel"))
    recent.write_text("<xbel><bookmark>")
    assert at("survey").returncode == 1
    at("order", name, "-o", str(tmp_path / "o"))
    at("carry-out", str(tmp_path / "o"))
    found = json.loads(at("clearance", "--format", "json").stdout)
    assert {c["family"]: c["state"] for c in found["lines"][0]["cells"]}["recents"] == "could_not_look"


def test_names_with_new_lines_loops_and_bytes_that_are_no_text_are_survived(at):
    home = next(p for p in (at.machine.root / "home").iterdir())
    (home / ".config/two\nlines").mkdir()
    os.symlink("loop", home / ".config/loop")
    Path(os.fsdecode(os.fsencode(home / ".config") + b"/\xff\xfe")).write_text("x")
    said = at("survey")
    assert said.returncode == 0, said.stderr
    assert at("survey", "--format", "json").returncode == 0


def test_a_root_that_is_not_there_is_said(tmp_path):
    said = cli("survey", "--root", str(tmp_path / "nowhere"))
    assert said.returncode == 2 and "nowhere: no root to look at: is not there" in said.stderr
    (tmp_path / "file").touch()
    assert cli("survey", "--root", str(tmp_path / "file")).returncode == 2


def test_a_machine_description_that_is_broken_or_a_ledger_that_is_none_is_named(at, tmp_path):
    (tmp_path / "l").write_text("this is not a database, by a long way, and long enough to be looked at" * 20)
    said = at("visits", "--ledger", str(tmp_path / "l"))
    assert said.returncode == 1 and "is not a ledger" in said.stderr
    (at.machine.folder / "machine.json").write_text("{")
    said = at("survey")
    assert said.returncode == 1 and "machine.json does not carry this person’s seal" in said.stderr


def test_without_a_visit_or_an_order_the_commands_say_what_to_do_first(at, tmp_path):
    assert "survey it first" in at("order", "x").stderr
    assert (
        at("clearance").returncode == 2
        and at("put-back").returncode == 2
        and at("report", "-o", "x.html").returncode == 2
    )
    at("survey")
    assert at("rehearse", str(tmp_path / "none")).returncode == 2
    assert at("order").returncode == 2
    assert at("report", "-o", "x.txt").returncode == 2


def test_the_desk_without_a_display_says_so():
    environment = {
        k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    }
    said = cli(env=environment)
    assert said.returncode == 2 and "no display here" in said.stderr


def test_a_root_cannot_ask_for_its_scripts_to_run_here(at):
    """Only a description sealed by this person's own builder may: another one is an ordinary foreign root."""
    from swept_shelf.core.machine import open_machine

    assert open_machine(at.machine.folder).chrootless
    plain = json.loads((at.machine.folder / "machine.json").read_text())
    (at.machine.folder / "machine.json").write_text(json.dumps(plain | {"seal": "0" * 64}))
    assert not open_machine(at.machine.folder).chrootless


def test_links_never_lead_out_of_the_root(at, tmp_path):
    from swept_shelf.core.machine import open_machine

    (tmp_path / "secret").write_text("outside")
    root = at.machine.root
    os.symlink(tmp_path / "secret", root / "etc/out")
    os.symlink("../../../../../../../../../../etc/passwd", root / "etc/up")
    machine = open_machine(at.machine.folder)
    assert machine.read_text("/etc/out", default="none") == "none"
    assert (
        "Reading" not in machine.read_text("/etc/up")
        and machine.read_text("/etc/up") == (root / "etc/passwd").read_text()
    )
    with pytest.raises(OSError), machine.folder("/etc/out"):
        pass


def test_the_demo_runs_the_whole_job_without_a_window(tmp_path):
    said = cli("demo", "--headless", "--at", str(tmp_path / "d"), "--seed", "2")
    assert said.returncode == 0, said.stderr
    for word in (
        "1. Look",
        "2. Inventory",
        "3. Decide",
        "4. Prepare",
        "5. Remove",
        "6. Prove: 0 findings",
        "7. Report",
        "promised",
    ):
        assert word in said.stdout
    assert cli("demo", "--at", str(tmp_path)).returncode == 2


def test_help_names_every_command():
    said = cli("--help")
    for name in (
        "demo",
        "survey",
        "show",
        "order",
        "rehearse",
        "carry-out",
        "resume",
        "clearance",
        "put-back",
        "empty",
        "report",
        "visits",
    ):
        assert name in said.stdout


def test_a_restart_that_packages_asked_for_is_said_once_at_the_end(made_up, tmp_path):
    (made_up.root / "run").mkdir(exist_ok=True)
    (made_up.root / "run/reboot-required").touch()
    (made_up.root / "run/reboot-required.pkgs").write_text("vellumcote\nvellumcote\nlibcote1\n")
    root = ("--root", str(made_up.folder))
    cli(*root, "survey")
    assert cli(*root, "order", "debian:vellumcote", "-o", str(tmp_path / "o.json")).returncode == 0
    said = cli(*root, "carry-out", str(tmp_path / "o.json"))
    assert said.stderr.count("a restart is needed (libcote1, vellumcote)") == 1
