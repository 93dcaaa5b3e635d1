"""The worker: JSON lines in and out; whoever listens may go, may ask it to stop, may ask nonsense."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job, differences, dpkg_status, picture
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.errors import CouldNotRead, Interrupted, Refused
from swept_shelf.core.documents.operations import KeepOriginal, PurgePackages, RemovePackages, Shelve
from swept_shelf.worker import client
from swept_shelf.worker.client import ready_worker, run_worker, worker_command
from swept_shelf.worker.events import Heard
from swept_shelf.worker.ready import READY


def raw(text: bytes) -> tuple[int, list[dict]]:
    done = subprocess.run(worker_command(), input=text, capture_output=True, timeout=60)
    return done.returncode, [json.loads(x) for x in done.stdout.splitlines()]


def test_nonsense_is_answered_with_a_clear_failure():
    status, events = raw(b'{"do": "dance"}\n')
    assert status == 2 and events[-1]["event"] == "failed" and "dance" in events[-1]["reason"]
    status, events = raw(b'{"do": "survey", "root": "/no/such/root", "folder": "/tmp"}\n')
    assert events[-1]["kind"] == "Refused" and events[-1]["path"] == "/no/such/root"


@given(st.integers(1, 40))
def test_a_workers_end_is_its_result_its_own_error_or_cut_off_however_its_words_arrive(size):
    """In pieces, between lines that are none, the last of them without an end."""

    def ended(status, *events):
        said = b"warning\n[1]\n" + b"\n".join(json.dumps(e).encode() for e in events)
        heard = Heard()
        told = [e for i in range(0, len(said), size) for e in heard.take(said[i : i + size])]
        assert told == list(events[:-1])
        return heard.outcome(status)

    begun = {"event": "progress"}
    assert ended(0, begun, {"event": "result", "left": 0})["left"] == 0
    with pytest.raises(CouldNotRead, match="x: because"):
        ended(2, {"event": "failed", "kind": "CouldNotRead", "reason": "because", "path": "x"})
    with pytest.raises(Interrupted, match="status -9"):
        ended(-9, begun)
    with pytest.raises(Interrupted, match="status -9"):
        ended(-9, begun, {"event": "result"}, begun)


def test_progress_is_told_in_things_done(made_up):
    job = Job(made_up, survey=False)
    told: list[dict] = []
    run_worker(job.shop.survey_request(), told.append)
    steps = [(e["done"], e["total"]) for e in told if e["event"] == "progress"]
    assert steps == sorted(steps) and steps[-1][0] == steps[-1][1] == 7


def test_what_is_done_here_meanwhile_is_done_once_when_more_than_half_of_the_steps_are_behind(made_up):
    job, told = Job(made_up, survey=False), list[object]()
    run_worker(job.shop.survey_request(), told.append, lambda: told.append("meanwhile"))
    at = told.index("meanwhile")
    done = [e["done"] / e["total"] for e in told[:at] if e["event"] == "progress"]
    assert told.count("meanwhile") == 1 and done[-1] > 0.5 >= max(done[:-1])
    assert told[-1]["event"] == "result" and at < len(told) - 1


def test_a_carrier_whose_listener_goes_away_works_on_to_the_end(job):
    run = job.prepare(job.order(job.machine.id("map", "7")))
    reader, writer = os.pipe()
    process = subprocess.Popen(worker_command(), stdin=subprocess.PIPE, stdout=writer, start_new_session=True)
    os.close(writer)
    process.stdin.write(json.dumps(job.shop.orders.carry_request(run)).encode() + b"\n")
    process.stdin.close()
    os.read(reader, 10)
    os.close(reader)
    process.wait(60)
    state = open_run(run.folder).state
    assert (state.mode, state.ended) == ("carry_out", True)
    assert {r.state for r in records_of(open_run(run.folder))} == {"done"}


def test_stop_after_this_one_stops_between_operations_and_the_rest_is_carried_out_on_request(job):
    hero = job.machine.id("map", "7")
    order = job.order(hero)
    run = job.prepare(order)
    asked = False

    def tell(event: dict) -> None:
        nonlocal asked
        if event["event"] == "done" and not asked:
            asked = True
            (run.folder / "stop").touch()

    result = run_worker(job.shop.orders.carry_request(run), tell)
    job.shop.ledger.take_in()
    states = [r.state for r in records_of(open_run(run.folder))]
    assert result["state"] == "stopped" and 0 < states.count("done") < len(states) and "waits" in states
    again = job.shop.orders.again(order)
    job.carry(again)
    assert {r.state for r in records_of(open_run(run.folder))} == {"done"}
    assert dpkg_status(job.machine, hero.removeprefix("debian:")) == "not-installed"


def test_a_run_that_was_stopped_can_be_put_back_as_it_stands(job):
    before = picture(job.machine.root)
    run = job.prepare(job.order(job.machine.id("map", "7")))
    done = 0

    def tell(event: dict) -> None:
        nonlocal done
        done += event["event"] == "done"
        if done == 9:
            (run.folder / "stop").touch()

    run_worker(job.shop.orders.carry_request(run), tell)
    job.shop.ledger.take_in()
    assert job.put_back()["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_a_looking_worker_killed_leaves_no_survey_in_the_ledger(made_up):
    job = Job(made_up, survey=False)
    request = job.shop.survey_request()
    process = subprocess.Popen(worker_command(), stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    process.stdin.write(json.dumps(request).encode() + b"\n")
    process.stdin.flush()
    process.stdout.readline()
    process.kill()
    process.wait()
    job.shop.drop_survey(request)
    assert job.shop.ledger.visits() == []
    with pytest.raises(Refused, match="survey it first"):
        job.shop.latest()


def test_rights_are_known_before_the_first_step(job):
    """What the caller may not do is said by operation; root may do everything."""
    order = job.order(job.machine.id("map", "7"))
    plan = job.shop.orders.rehearse(order, "x").plan
    assert {type(op) for op in plan.operations} >= {KeepOriginal, RemovePackages, Shelve, PurgePackages}
    assert not any(module_of(op).why_not_mine(op, job.shop.machine) for op in plan.operations)
    rights = {op.rights for op in plan.operations if isinstance(op, Shelve) and op.path.startswith("/home")}
    assert rights <= set(job.machine.truth["people"])
    assert {op.rights for op in plan.operations if isinstance(op, RemovePackages)} == {"administrator"}


@pytest.mark.skipif(os.geteuid() != 0, reason="drops to an ordinary user, which only root can")
def test_an_order_beyond_the_callers_rights_is_refused_before_the_first_step(job):
    from helpers import as_user, open_to_all

    order = job.order(job.machine.id("map", "7"))
    plan = job.shop.orders.rehearse(order, "x").plan
    open_to_all(job.machine.folder)
    machine = job.shop.machine
    lacking = as_user(
        1002, lambda: [n for n, op in enumerate(plan.operations) if module_of(op).why_not_mine(op, machine)]
    )
    kinds = {type(plan.operations[n]) for n in lacking}
    assert RemovePackages in kinds and Shelve in kinds and KeepOriginal not in kinds
    own = [
        n
        for n, op in enumerate(plan.operations)
        if isinstance(op, Shelve) and op.rights == job.machine.truth["people"][1]
    ]
    assert own and not set(own) & set(lacking)


def test_python_is_the_one_that_started_it():
    assert worker_command()[0] == sys.executable


def test_the_computer_stays_awake_while_a_carrier_lives_and_no_longer(tmp_path):
    """In a private mount namespace the inhibitor is a stand-in that notes when it is asked and when it ends."""
    stand_in = (
        f'#!/bin/sh\necho "$1 $4 $5" >> {tmp_path}/notes\nshift 4\n"$@"\necho ended >> {tmp_path}/notes\n'
    )
    script = f"""
mount -t tmpfs tmpfs /usr/local/bin && mount -t tmpfs tmpfs /run && mkdir -p /run/systemd/system
printf '%s' '{stand_in}' > /usr/local/bin/systemd-inhibit && chmod +x /usr/local/bin/systemd-inhibit
"$0" -c 'import os, signal
from swept_shelf.core.machine.awake import kept_awake
import time
with kept_awake("work") as held:
    assert held
    time.sleep(0.3)
    os.kill(os.getpid(), signal.SIGKILL)' || true
sleep 0.3
"""
    subprocess.run(
        [
            "unshare",
            *([] if os.geteuid() == 0 else ["--user", "--map-root-user"]),
            "--mount",
            "sh",
            "-ec",
            script,
            sys.executable,
        ],
        check=True,
    )
    assert (tmp_path / "notes").read_text().splitlines() == ["--what=sleep:idle --mode=block cat", "ended"]


def test_what_ends_before_it_is_told_anything_is_a_sentence_of_ours(monkeypatch):
    monkeypatch.setattr(
        "swept_shelf.worker.client.rights_command", lambda kind: ["/bin/sh", "-c", "exec 0<&-; exit 127"]
    )
    for _ in range(5):
        for do in ("survey", "put_back"):
            request = {
                "do": do,
                "by_rights": True,
                "run": "x",
                "folder": "/nowhere",
                "lines": ["x" * 200_000],
            }
            with pytest.raises(Refused, match="nobody could be asked"):
                run_worker(request)


def test_a_worker_started_early_looks_the_same_and_one_that_nobody_needs_is_ended(made_up):
    job = Job(made_up, survey=False)
    seen = []
    for early in (False, True):
        with ready_worker() if early else contextlib.nullcontext():
            request = job.shop.survey_request(whole=True)
            seen.append(job.shop.keep_survey(request, run_worker(request)).survey)
            assert not client._ready
    first, second = ({a.id: (a.bytes, a.last_use.at) for a in s.applications} for s in seen)
    assert first == second
    with ready_worker():
        unused = client._ready[0]
    assert unused.returncode is not None
    idle = subprocess.run(
        [*worker_command(), READY], stdin=subprocess.DEVNULL, capture_output=True, timeout=60
    )
    assert (idle.returncode, idle.stdout) == (0, b"")
