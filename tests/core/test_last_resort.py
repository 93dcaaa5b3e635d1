"""Packages that would not go: what their registry refused once may go without its own scripts, and comes back as it stood."""

from __future__ import annotations

import subprocess

import pytest

from helpers import Job, built, cli, differences, picture
from kills import sampled, under_injection, wait_for_orphans
from stiff import ID, STUBBORN, half_installed, package
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.carry.sheet import records_of


@pytest.fixture
def stubborn(tmp_path):
    return Job(package(tmp_path, built(1).copy(tmp_path / "machine"), STUBBORN))


@pytest.fixture
def half(tmp_path):
    return Job(half_installed(tmp_path, built(1).copy(tmp_path / "machine")))


def known(machine):
    """What the registry says of it, and which files of its own it keeps."""
    told = subprocess.run(
        ["dpkg-query", f"--admindir={machine.root}/var/lib/dpkg", "-W", "-f", "${Status}", "stiff"],
        capture_output=True,
        text=True,
    )
    info = machine.root / "var/lib/dpkg/info"
    said = told.stdout.removeprefix(
        "unknown ok not-installed"
    )  # a registry that was cut off says it, and forgets it next time
    return said, {p.name: (p.read_bytes(), p.stat().st_mode) for p in info.glob("stiff.*")}


def refused_once(job):
    records = records_of(job.carry(job.prepare(job.order(ID))))
    assert "left" in {r.state for r in records} or "skipped" in {r.state for r in records}
    return records


def test_what_its_registry_refused_is_asked_about_and_goes_without_its_scripts(stubborn):
    root = stubborn.machine.root
    before, stood = picture(root), known(stubborn.machine)
    assert f"scripts:{ID}" not in {
        q.id for q in stubborn.order(ID).settle
    }  # nothing says yet that it would not go
    refused_once(stubborn)
    assert (root / "usr/bin/stiff").exists() and known(stubborn.machine)[1] == stood[1]
    stubborn.put_back()
    stubborn.survey()
    (question,) = [q for q in stubborn.order(ID).settle if q.id == f"scripts:{ID}"]
    assert "dpkg left stiff" in question.evidence and question.answers[0] == "by_its_scripts"
    order = stubborn.order(ID, answers={question.id: "without_scripts"})
    assert not stubborn.shop.orders.rehearse(order, "the order").problems
    run = stubborn.carry(stubborn.prepare(order))
    records = records_of(run)
    assert {r.state for r in records} == {"done"}
    assert any("last resort" in r.what for r in records)
    assert not (root / "usr/bin/stiff").exists() and known(stubborn.machine) == ("", {})
    assert stubborn.clearance().lines[0].cells[0].state == "clear"
    assert stubborn.put_back()["left"] == 0
    assert known(stubborn.machine) == stood
    assert not differences(before, picture(root))


def test_what_is_half_installed_goes_as_it_is_and_comes_back_as_broken_as_it_was(half):
    root = half.machine.root
    before, stood = picture(root), known(half.machine)
    (question,) = [q for q in half.order(ID).settle if q.id == f"scripts:{ID}"]
    assert "half-installed" in question.evidence
    order = half.order(ID, answers={question.id: "without_scripts"})
    run = half.carry(half.prepare(order))
    assert {r.state for r in records_of(run)} == {"done"}
    assert known(half.machine) == ("", {}) and not (root / "usr/share/stiff").exists()
    assert half.put_back()["left"] == 0
    assert known(half.machine) == stood and stood[0] == "install reinstreq half-installed"
    assert not differences(before, picture(root))


def test_unanswered_nothing_is_carried_out_and_left_out_it_stays(half):
    order = half.order(ID)
    assert [q.id for q in order.unsettled] == [f"scripts:{ID}"]
    left = half.order(ID, answers={f"scripts:{ID}": "leave_out"})
    assert [(line.id, line.verdict) for line in left.lines] == [(ID, "keep")]


def test_it_is_asked_and_answered_on_the_command_line(half, tmp_path):
    folder, out = str(half.machine.folder), tmp_path / "order.json"
    said = cli("--root", folder, "order", ID, "--output", str(out))
    assert said.returncode == 0 and f"scripts:{ID}" in said.stdout + said.stderr
    done = cli(
        "--root", folder, "order", ID, "--settle", f"scripts:{ID}=without_scripts", "--output", str(out)
    )
    assert done.returncode == 0, done.stderr
    shown = cli("--root", folder, "rehearse", str(out))
    assert "without its own scripts: last resort" in shown.stdout
    assert cli("--root", folder, "carry-out", str(out)).returncode == 0
    assert not (half.machine.root / "usr/bin/stiff").exists()


POINTS = [(call, n) for call in ("unlink", "rename", "fsync") for n in (1, 2, 4, 7, 11, 16, 22, 30, 40)]


@pytest.mark.parametrize(("call", "nth"), sampled(POINTS, every=10))
def test_killed_anywhere_it_is_finished_and_comes_back(half, call, nth):
    root = half.machine.root
    before, stood = picture(root), known(half.machine)
    run = half.prepare(half.order(ID, answers={f"scripts:{ID}": "without_scripts"}))
    under_injection(half.shop.orders.carry_request(run), call, nth)
    wait_for_orphans(root)
    half.carry(open_run(run.folder))
    assert known(half.machine) == ("", {}) and not (root / "usr/bin/stiff").exists()
    assert half.put_back()["left"] == 0
    assert known(half.machine) == stood and not differences(before, picture(root))
