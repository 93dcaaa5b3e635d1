"""What could not go while the computer was in use is finished once, when it starts next, if somebody asked for that."""

from __future__ import annotations

import shlex
import shutil
import subprocess

import pytest

from helpers import cli
from swept_shelf.at_start import UNIT, AtStart
from swept_shelf.core.documents.errors import Refused

HERO = ("map", "7")


@pytest.fixture
def skipped(job):
    """One line with a folder that somebody has a file open in; (job, the folder, a way to let go)."""
    app = job.app(job.machine.id(*HERO))
    folder = next(
        job.machine.root / b.path[1:]
        for b in app.belongings
        if b.ticked and b.identity and b.identity.type == "folder" and "/home/" in b.path
    )
    file = next(p for p in folder.rglob("*") if p.is_file())
    holder = subprocess.Popen(["sleep", "600"], stdin=file.open())
    yield job, folder, holder.terminate
    holder.kill()
    holder.wait()


def carried(job):
    run = job.carry(job.prepare(job.order(job.machine.id(*HERO))))
    return run, [r for r in job.row().result.unfinished]


def test_what_was_skipped_is_finished_by_what_the_unit_calls_and_nothing_twice(skipped):
    job, _, let_go = skipped
    run, left = carried(job)
    held = job.machine.root / left[0].where[1:]
    assert held.exists() and "held open" in left[0].note
    assert job.shop.orders.unfinished("latest")[1].id == run.id
    let_go()
    done = cli("--root", str(job.machine.folder), "at-start", "--now", "1")
    assert done.returncode == 0, done.stdout + done.stderr
    assert not held.exists()
    again = cli("--root", str(job.machine.folder), "at-start", "--now", "1")
    assert again.returncode == 2 and "nothing of visit 1 was skipped" in again.stderr


def test_another_root_than_this_computers_own_plans_nothing(skipped):
    job, folder, _ = skipped
    carried(job)
    said = cli("--root", str(job.machine.folder), "at-start")
    assert said.returncode == 2 and "not the computer's own root" in said.stderr
    assert folder.exists()


@pytest.mark.skipif(shutil.which("systemctl") is None, reason="no systemd is here")
def test_the_unit_is_one_that_systemd_takes_and_is_gone_when_it_is_called_off(tmp_path):
    units = tmp_path / "etc/systemd/system"
    start = AtStart(units, ("systemctl", f"--root={tmp_path}"), tmp_path)
    run, ledger = tmp_path / "runs/a 1%", tmp_path / 'le"d ger.sqlite'
    start.plan(run, ledger, "3")
    assert start.planned
    text = (units / UNIT).read_text()
    command = next(line for line in text.splitlines() if line.startswith("ExecStart="))
    words = shlex.split(command.removeprefix("ExecStart="))
    assert words[-6:] == ["swept_shelf", "--ledger", str(ledger), "at-start", "--now", "3"]
    assert "a 1%%" in text and "Before=systemd-user-sessions.service" in text
    if shutil.which("systemd-analyze"):
        told = subprocess.run(
            ["systemd-analyze", "verify", str(units / UNIT)], capture_output=True, text=True, timeout=60
        )
        mine = [line for line in told.stderr.splitlines() if UNIT in line]
        assert not mine, mine
    start.drop()
    assert not start.planned and not list(units.rglob("*swept*"))
    start.drop()


def test_what_systemd_does_not_take_leaves_nothing_behind(tmp_path):
    start = AtStart(tmp_path / "units", ("false",), tmp_path)
    with pytest.raises(Refused, match="systemd does not take"):
        start.plan(tmp_path, tmp_path / "l", "1")
    assert not list((tmp_path / "units").iterdir())
    assert AtStart(booted=tmp_path / "none").why_not(True) == "systemd does not manage this computer"


def test_it_is_finished_before_services_of_its_applications_run_again_where_they_can_wait(tmp_path):
    manager = tmp_path / "manager"
    manager.write_text(
        "#!/bin/sh\ncase \"$*\" in *' lamp.service') echo sysinit.target basic.target;; *early*) echo -.mount;; esac\n"
    )
    manager.chmod(0o755)
    start = AtStart(tmp_path / "units", (str(manager),), tmp_path)
    start.plan(
        tmp_path,
        tmp_path / "l",
        "1",
        ["lamp.service", "early.service", "lamp.service", "x y.service", "-p.service"],
    )
    said = (tmp_path / "units" / UNIT).read_text()
    assert "\nBefore=systemd-user-sessions.service lamp.service\n" in said


def test_the_services_of_an_order_are_those_of_its_lines(job):
    app = next(
        a for a in job.surveyed.survey.applications if any(s.path.endswith(".service") for s in a.starts)
    )
    order = job.order(app.id, verdict="stop_starting")
    services = job.shop.orders.services_of(order)
    assert services and all(any(s.path.endswith(f"/{name}") for s in app.starts) for name in services)
