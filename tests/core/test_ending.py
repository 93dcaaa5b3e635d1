"""In use: who has it open is said; it is asked to end, ended on request, and nothing of it goes while it runs."""

from __future__ import annotations

import shutil
import subprocess
import time

import pytest

from helpers import Job, picture
from swept_shelf.core.machine.commands import CHANGE, run
from swept_shelf.core.machine.ending import Service, service_in

STUBBORN = "trap '' TERM; echo ready; while :; do /bin/sleep 0.05; done"


@pytest.fixture
def running(made_up):
    """Starts the program of an application, as it stands in the root; ends it afterwards."""
    started = []

    def start(script):
        program = made_up.root / Job(made_up).app(made_up.id("quest")).executables[0][1:]
        program.unlink()
        shutil.copy("/bin/sh", program)
        process = subprocess.Popen([program, "-c", script], stdout=subprocess.PIPE)
        started.append(process)
        assert process.stdout.readline() == b"ready\n"
        return process

    yield start
    for process in started:
        process.kill()
        process.wait()


def ordered(made_up, answer):
    job, id = Job(made_up), made_up.id("quest")
    assert [r.pid for r in job.app(id).running]
    return job, job.order(id, answers={f"running:{id}": answer})


def gone(process, seconds=20.0):
    until = time.monotonic() + seconds
    while process.poll() is None and time.monotonic() < until:
        time.sleep(0.02)
    return process.poll() is not None


def test_it_is_asked_to_end_and_goes(made_up, running):
    process = running("echo ready; while :; do /bin/sleep 0.05; done")
    job, order = ordered(made_up, "end_it")
    rehearsed = job.shop.orders.rehearse(order, "the order")
    assert not rehearsed.problems and any(f"process {process.pid}" in n for n in rehearsed.notes)
    run = job.carry(job.prepare(order))
    assert gone(process) and process.returncode == -15
    first = run.state.operations[1]
    assert {o.event for o in run.state.operations.values()} == {"done"} and str(process.pid) in first.note


def test_what_does_not_end_is_left_with_all_that_is_its(made_up, running):
    process = running(STUBBORN)
    job, order = ordered(made_up, "end_it")
    before = picture(made_up.root)
    run = job.carry(job.prepare(order))
    assert process.poll() is None and picture(made_up.root) == before
    assert "did not end" in " ".join(o.note for o in run.state.operations.values())


def test_it_is_ended_in_any_case_where_that_was_the_answer(made_up, running):
    process = running(STUBBORN)
    job, order = ordered(made_up, "end_hard")
    run = job.carry(job.prepare(order))
    assert gone(process) and process.returncode == -9
    assert {o.event for o in run.state.operations.values()} == {"done"}


def test_without_that_answer_nothing_of_what_runs_is_touched(made_up, running):
    process = running("echo ready; while :; do /bin/sleep 0.05; done")
    job, order = ordered(made_up, "when_ended")
    problems = job.shop.orders.rehearse(order, "the order").problems
    assert "is running" in " ".join(problems.values()) and process.poll() is None


def test_what_runs_from_a_folder_that_is_the_program_is_in_use_too(made_up):
    """A helper beside the program that its launcher starts: of what no package tool removes, the whole folder is it."""
    helper = made_up.root / "opt/madderhelp/libexec/helper"
    program = made_up.root / "opt/madderhelp/bin/madderhelp"
    for path in (helper, program):
        path.parent.mkdir(parents=True)
        shutil.copy("/bin/sh", path)
    process = subprocess.Popen(
        [helper, "-c", "echo ready; while :; do /bin/sleep 0.05; done"], stdout=subprocess.PIPE
    )
    try:
        assert process.stdout.readline() == b"ready\n"
        job, id = Job(made_up), "files:/opt/madderhelp"
        order = job.order(id, answers={f"running:{id}": "when_ended"})
        assert "is running" in job.shop.orders.rehearse(order, "the order").problems[id]
        run = job.carry(job.prepare(job.order(id, answers={f"running:{id}": "end_it"})))
        assert {o.event for o in run.state.operations.values()} == {"done"}
        assert gone(process) and process.returncode == -15 and not helper.exists()
    finally:
        process.kill()
        process.wait()


@pytest.mark.parametrize(
    "groups, service",
    [
        ("0::/system.slice/lamp.service\n", Service("lamp.service")),
        (
            "12:cpu:/\n1:name=systemd:/system.slice/system-lamp.slice/lamp@2.service\n",
            Service("lamp@2.service"),
        ),
        ("0::/system.slice/lamp.service/worker\n", Service("lamp.service")),
        (
            "0::/user.slice/user-1000.slice/user@1000.service/app.slice/lamp.service\n",
            Service("lamp.service", 1000),
        ),
        ("0::/user.slice/user-1000.slice/session-3.scope\n", None),
        ("0::/user.slice/user-1000.slice/user@1000.service/app.slice/app-lamp-7.scope\n", None),
    ],
)
def test_the_service_of_a_process_stands_in_its_group(groups, service):
    assert service_in(groups) == service


def test_no_person_gives_a_service_of_the_system_away_by_how_a_group_is_called():
    mine = "/user.slice/user-1000.slice/user@1000.service"
    for made in ("/system.slice/door.service", "/user.slice/user-0.slice/user@0.service/door.service"):
        found = service_in(f"0::{mine}{made}\n")
        assert found is None or found.uid == 1000


def test_services_are_only_ever_stopped():
    for words in (
        ("start", "--", "x"),
        ("--user", "mask", "--", "x"),
        ("stop", "x"),
        ("--root=/x", "stop", "--", "x"),
    ):
        with pytest.raises(AssertionError):
            run("systemctl", *words, as_=CHANGE)
