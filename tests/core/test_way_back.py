"""The way back where packages and files are not as they usually are: other names, diversions, daemons, overlays, kills in dpkg."""

from __future__ import annotations

import compileall
import functools
import os
import resource
import subprocess
import sys
from datetime import UTC
from pathlib import Path

import pytest

import swept_shelf
from helpers import Job, cli, differences, dpkg_status, picture, run_forked
from kills import sampled, under_injection, wait_for_orphans
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.zone import zone
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointee, Pointees

root_only = pytest.mark.skipif(os.geteuid() != 0, reason="owners and mounts need root")


def program(job: Job, id: str) -> Path:
    return job.machine.root / "usr/bin" / id.removeprefix("debian:")


def test_a_program_with_a_second_name_comes_back_as_one_file_with_its_rights(job):
    hero = job.machine.id("map", "7")
    mine, other = program(job, hero), job.machine.root / "srv/kept-name"
    mine.chmod(0o4755)
    other.parent.mkdir(exist_ok=True)
    os.link(mine, other)
    job.survey()
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(hero, answers={f"pointed_at:{hero}": "they_stay"})))
    assert not mine.exists() and other.exists()
    assert job.put_back()["left"] == 0
    assert mine.stat().st_ino == other.stat().st_ino and mine.stat().st_mode & 0o7777 == 0o4755
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_a_diverted_file_is_kept_and_comes_back_where_it_stands(job):
    hero = job.machine.id("map", "7")
    mine = program(job, hero)
    away = mine.with_name(mine.name + ".distrib")
    mine.rename(away)
    mine.write_text("another package's\n")
    diversions = job.machine.root / "var/lib/dpkg/diversions"
    kept = diversions.read_text() if diversions.exists() else ""
    path = "/" + str(mine.relative_to(job.machine.root))
    diversions.write_text(f"{kept}{path}\n{path}.distrib\nroombase\n")
    job.survey()
    before = picture(job.machine.root)
    run = job.carry(job.prepare(job.order(hero)))
    assert {r.state for r in records_of(run)} == {"done"}
    assert not away.exists() and mine.read_text() == "another package's\n"
    assert job.put_back()["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_what_a_package_script_leaves_running_holds_nobody(job, tmp_path):
    hero = job.machine.id("map", "7")
    script = job.machine.root / f"var/lib/dpkg/info/{hero.removeprefix('debian:')}.postrm"
    text = script.read_text() if script.exists() else "#!/bin/sh\n"
    script.write_text(text.replace("#!/bin/sh\n", f"#!/bin/sh\nsleep 300 & echo $! >{tmp_path}/pid\n", 1))
    script.chmod(0o755)
    job.survey()
    run = job.carry(job.prepare(job.order(hero)))
    pid = int((tmp_path / "pid").read_text())
    try:
        assert Path(f"/proc/{pid}").exists(), "it ended by itself: this proves nothing"
        assert {r.state for r in records_of(run)} == {"done"}
    finally:
        os.kill(pid, 9)


@pytest.mark.parametrize(
    ("mode", "call", "nth"),
    sampled(
        [
            (mode, *p)
            for mode in ("carry_out", "put_back")
            for p in (("rename", 3), ("rmdir", 31), ("rename", 15))
        ],
        2,
    ),
)
def test_killed_inside_the_registry_the_registry_is_whole_after_the_next_try(job, mode, call, nth):
    """dpkg itself is killed at its renames, in removal, purge and installation."""
    hero = job.machine.id("map", "7")
    before = picture(job.machine.root)
    status = (job.machine.root / "var/lib/dpkg/status").read_text()
    run = job.prepare(job.order(hero))
    if mode == "put_back":
        job.carry(run)
        request = job.shop.shelves.request("put_back", job.shop.shelves.orphan_row(run.id), [])
    else:
        request = job.shop.orders.carry_request(run)
    under_injection(request, call, nth)
    wait_for_orphans(job.machine.root)
    again = run_forked(request)
    assert again["left"] == 0, again
    if mode == "carry_out":
        assert dpkg_status(job.machine, hero.removeprefix("debian:")) == "not-installed"
        assert job.put_back()["left"] == 0
    audit = subprocess.run(["dpkg", f"--root={job.machine.root}", "--audit"], capture_output=True, text=True)
    assert audit.stdout == ""
    assert (job.machine.root / "var/lib/dpkg/status").read_text() == status
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_what_cannot_be_configured_is_removed_again_and_comes_back_once_it_can(job, tmp_path):
    hero = job.machine.id("map", "7")
    name, root = hero.removeprefix("debian:"), job.machine.root
    needed = tmp_path / "teasel.deb"
    (tmp_path / "teasel/DEBIAN").mkdir(parents=True)
    control = "Package: teasel\nVersion: 1\nArchitecture: all\nMaintainer: T <t@test.example>\nDescription: made up\n"
    (tmp_path / "teasel/DEBIAN/control").write_text(control)
    subprocess.run(
        ["dpkg-deb", "--root-owner-group", "-b", tmp_path / "teasel", needed], check=True, capture_output=True
    )
    dpkg = ["dpkg", f"--root={root}", f"--log={root}/var/log/dpkg.log", "--force-not-root"]
    subprocess.run([*dpkg, "-i", needed], check=True, capture_output=True)
    status = root / "var/lib/dpkg/status"
    head = f"Package: {name}\n"
    text = status.read_text()
    begin = text.index(head)
    stanza = text[begin : text.index("\n\n", begin)]
    assert "\nDepends: " in stanza
    status.write_text(text.replace(stanza, stanza.replace("\nDepends: ", "\nDepends: teasel, ")))
    job.survey()
    before = picture(root)
    job.carry(job.prepare(job.order(hero)))
    subprocess.run([*dpkg, "-r", "teasel"], check=True, capture_output=True)
    left = job.put_back()
    assert left["left"] and "teasel" in left["why"][0]["why"]
    audit = subprocess.run([*dpkg, "--audit"], capture_output=True, text=True)
    assert audit.stdout == "" and dpkg_status(job.machine, name) in ("not-installed", "config-files")
    subprocess.run([*dpkg, "-i", needed], check=True, capture_output=True)
    assert job.put_back()["left"] == 0
    mine = ("/var/lib/dpkg", "/var/log/dpkg.log")  # written by the tool that took and gave the other package
    assert [d for d in differences(before, picture(root, shelf=True)) if not d.startswith(mine)] == []


def test_a_list_that_scripts_add_their_lines_to_has_its_old_order_again(job):
    """The line of a shell, say: taken by the removal, added at the end when its package is installed back."""
    hero = job.machine.id("map", "7")
    info = job.machine.root / "var/lib/dpkg/info" / hero.removeprefix("debian:")
    shells = job.machine.root / "etc/shells"
    shells.write_text("# shells\n/bin/sh\n/usr/bin/hero\n/bin/other\n")
    for script, act in (
        ("postinst", 'grep -q hero "$f" || echo /usr/bin/hero >>"$f"'),
        ("prerm", 'grep -v hero "$f" >"$f.new"; cat "$f.new" >"$f"; rm "$f.new"'),
    ):
        path = info.with_name(f"{info.name}.{script}")
        text = path.read_text() if path.exists() else "#!/bin/sh\n"
        path.write_text(text.replace("#!/bin/sh\n", f'#!/bin/sh\nf="$DPKG_ROOT/etc/shells"; {act}\n', 1))
        path.chmod(0o755)
    job.survey()
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(hero)))
    assert "hero" not in shells.read_text()
    with open(shells, "a") as handle:
        handle.write("/bin/newer\n")
    assert job.put_back()["left"] == 0
    assert (
        shells.read_text() == "# shells\n/bin/sh\n/bin/other\n/bin/newer\n/usr/bin/hero\n"
    )  # its owner wrote too
    shells.write_text("# shells\n/bin/sh\n/usr/bin/hero\n/bin/other\n")
    os.utime(shells, ns=(before["/etc/shells"][3],) * 2)
    job.survey()
    job.carry(job.prepare(job.order(hero)))
    assert job.put_back()["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


@pytest.mark.parametrize("nth", [10, 12])
def test_cut_off_inside_a_removal_and_put_back_at_once_what_scripts_made_meanwhile_is_in_nobodys_way(
    job, nth
):
    """The packages were made whole from their originals by then, and their scripts had made what waits on the shelf."""
    before = picture(job.machine.root)
    run = job.prepare(job.order(job.machine.id("map", "7")))
    under_injection(job.shop.orders.carry_request(run), "unlink", nth)
    wait_for_orphans(job.machine.root)
    result = run_forked(job.shop.shelves.request("put_back", job.shop.shelves.orphan_row(run.id), []))
    assert result["left"] == 0, result["why"]
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_units_that_cannot_be_read_are_said(made_up):
    folder = made_up.root / "etc/systemd/system"
    folder.mkdir(parents=True, exist_ok=True)
    os.mkfifo(folder / "odd.service")
    to = Pointees([Pointee("it", units=("x.service",))])
    found = find_references(open_machine(made_up.folder), [], {}, to)
    said = [(n.path, n.reason) for n in found.not_read["startup"]]
    assert said == [("/etc/systemd/system/odd.service", "is not a regular file")]


def test_a_machines_logs_are_read_in_its_own_time_zone(made_up):
    from swept_shelf.core.registries.debian.history import dpkg_history

    log = made_up.root / "var/log/dpkg.log"
    log.write_text("2026-07-01 12:00:00 install somewhat:all <none> 1.0\n")
    (made_up.root / "etc/timezone").write_text("Pacific/Auckland\n")
    machine = open_machine(made_up.folder)
    assert [e.at.hour for e in dpkg_history(machine, []) if e.package == "somewhat:all"] == [0]
    (made_up.root / "etc/timezone").write_text("Nowhere/At/All\n")
    assert zone(machine) is UTC


@functools.cache
def byte_code_written() -> None:
    """So that no process writes any while it is limited: a file of it cut short would stand in the way of all that come after."""
    compileall.compile_dir(Path(swept_shelf.__file__).parent, quiet=2)


@pytest.mark.parametrize("most", sampled([40_000, 0], 2))
def test_a_ledger_that_cannot_grow_is_a_sentence(job, most):
    """Every write fails beyond a size, as on a full disk: no traceback, and nothing of the machine changes."""
    byte_code_written()
    order = job.order(job.machine.id("map", "7"))
    path = job.machine.folder / "order.json"
    from swept_shelf.core.documents.wire import to_json

    path.write_bytes(to_json(order))
    before = picture(job.machine.root, shelf=True)
    at = ["--root", str(job.machine.folder)]

    def limited() -> None:
        resource.setrlimit(resource.RLIMIT_FSIZE, (most, most))

    for words in (["visits"], ["order", job.machine.id("map", "7")], ["carry-out", str(path)], ["survey"]):
        said = cli(
            *at,
            *words,
            preexec_fn=limited,
            env=os.environ | {"PYTHONDONTWRITEBYTECODE": "1"},
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            capture_output=False,
        )
        assert "Traceback" not in said.stderr, (words, said.stderr[-800:])
        assert said.returncode in (0, 1, 2), (words, said.returncode)
    assert differences(before, picture(job.machine.root, shelf=True), times=False) == []


def test_two_commands_that_write_one_ledger_wait_for_each_other(job):
    hero = job.machine.id("map", "7")
    words = [
        sys.executable,
        "-m",
        "swept_shelf",
        "--root",
        str(job.machine.folder),
        "order",
        hero,
        "--settle",
        f"personal:{hero}=they_stay",
    ]
    both = [
        subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) for _ in range(3)
    ]
    for process in both:
        _, err = process.communicate(timeout=120)
        assert process.returncode == 0 and "Traceback" not in err, err


def test_a_run_folder_that_is_damaged_is_named_and_stops_nobody(job):
    first, second = job.machine.id("match"), job.machine.id("map", "7")
    run = job.carry(job.prepare(job.order(first)))
    (run.folder / "run.json").write_text("{}")
    job.shop = type(job.shop)(str(job.machine.folder))
    assert [p for p, _ in job.shop.orders.damaged_runs()] == [run.folder]
    job.survey()
    other = job.carry(job.prepare(job.order(second)))
    assert {r.state for r in records_of(other)} == {"done"}
    said = cli("--root", str(job.machine.folder), "visits")
    assert said.returncode == 0 and str(run.folder) in said.stderr and "left alone" in said.stderr


def test_a_run_that_was_cut_off_and_put_back_lets_its_visit_close(job):
    run = job.prepare(job.order(job.machine.id("map", "7")))
    assert under_injection(job.shop.orders.carry_request(run), "renameat2", 6).died
    wait_for_orphans(job.machine.root)
    at = ["--root", str(job.machine.folder)]
    assert cli(*at, "visits", "--close", "latest").returncode == 2
    assert cli(*at, "resume", "7").returncode == 2  # no such visit
    assert cli(*at, "resume", "1", "--put-back").returncode == 0
    assert cli(*at, "visits", "--close", "latest").returncode == 0
