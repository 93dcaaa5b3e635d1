"""Many lines in one order: what one does to a file, a package or a folder spoils no other; what the rehearsal says is what happens."""

from __future__ import annotations

import contextlib
import subprocess
import sys
from dataclasses import replace

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from debs import install
from helpers import Job, built, differences, dpkg_status, picture, run_forked, running_now
from swept_shelf.core.carry.run import carrier_lock, open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.operations import EditLines, RemovePackages, Shelve
from swept_shelf.core.documents.order import FREED
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.orders import Choice
from swept_shelf.workshop import Workshop


def removable(job: Job) -> list[str]:
    applications = [
        a.id
        for a in job.surveyed.survey.applications
        if a.registry in ("debian", "files") and not a.protected
    ]
    return [*applications, *(e.id for e in job.surveyed.survey.left_behind if e.was.registry != "debian")]


def settled(job: Job, ids: list[str]) -> dict[str, str]:
    return {f"needed_by:{i}": "remove_both" for i in ids} | {f"running:{i}": "when_ended" for i in ids}


def states(run) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    for r in records_of(open_run(run.folder)):
        found.setdefault(r.line, set()).add(r.state)
    return found


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    """Everything that can go in one order, carried out, looked at, one line of the middle back, then the rest."""
    job = Job(built(1).copy(tmp_path_factory.mktemp("many") / "machine"))
    ids = removable(job)
    before = picture(job.machine.root)
    order = job.order(*ids, answers=settled(job, ids))
    rehearsal = job.shop.orders.rehearse(order, "the order")
    run = job.carry(job.prepare(order))
    clearance = job.clearance()
    middle = [line.id for line in order.lines if line.packages and line.id != FREED][len(order.lines) // 2]
    one = job.put_back([middle])
    installed = dpkg_status(job.machine, middle.removeprefix("debian:"))
    rest = job.put_back()
    after = picture(job.machine.root, shelf=True)
    return locals()


@pytest.mark.xdist_group("many")
def test_everything_in_one_order_is_done_as_rehearsed_and_found_clear(whole):
    assert whole["rehearsal"].problems == {} and whole["rehearsal"].refused == ""
    records = records_of(whole["run"])
    assert len({r.line for r in records}) > 20 and len(records) > 100
    assert whole["clearance"].findings == 0
    shared = [op.path for op in whole["run"].plan.operations if isinstance(op, EditLines)]
    assert len(shared) > len(set(shared)), "no two lines edit one file: this proves nothing"


@pytest.mark.xdist_group("many")
def test_one_application_of_the_middle_comes_back_then_the_rest_and_all_is_as_it_was(whole):
    assert whole["one"]["left"] == 0 and whole["installed"] == "installed" and whole["rest"]["left"] == 0
    assert differences(whole["before"], whole["after"]) == []


@pytest.mark.xdist_group("many")
def test_what_several_lines_free_goes_last_and_every_line_takes_its_own_package(whole):
    order, operations = whole["order"], whole["run"].plan.operations
    assert order.lines[-1].id == FREED and order.lines[-1].packages
    for line in order.lines:
        entry = whole["job"].surveyed.survey.find(line.id)
        if isinstance(entry, Application) and entry.registry == "debian":
            assert entry.own_packages[0] in line.packages and line.comes_back > 0
    removals = [op for op in operations if isinstance(op, RemovePackages)]
    assert removals[-1].line == FREED
    assert sorted(p for op in removals for p in op.packages) == sorted(order.packages)


# -- lines that cannot go ---------------------------------------------------------------------------------------


def test_a_line_that_stays_shrinks_what_was_to_be_freed_and_all_others_go(job):
    """The picture library is freed by its two users together; one of them runs, so it stays, and goes with the next try."""
    first, second = job.machine.id("scan", "4"), job.machine.id("match")
    ids = [first, second, job.machine.id("scan", "2"), job.machine.id("label"), job.machine.id("desk")]
    order = job.order(*ids, answers=settled(job, ids) | {f"personal:{job.machine.id('desk')}": "they_stay"})
    assert "libawn1" in next(line for line in order.lines if line.id == FREED).packages
    run = job.prepare(order)
    with running_now(job, first):
        job.carry(run)
    assert states(run)[first] == {"left"}
    assert "is running" in next(r.note for r in records_of(run) if r.line == first)
    assert dpkg_status(job.machine, "libawn1") == "installed"
    assert dpkg_status(job.machine, second.removeprefix("debian:")) == "not-installed"
    job.carry(job.shop.orders.again(order))
    assert {s for line in states(run).values() for s in line} == {"done"}
    assert dpkg_status(job.machine, "libawn1") == "not-installed"


@contextlib.contextmanager
def locked_now(job: Job):
    """Another package tool has the registry in hand."""
    lock = job.machine.root / "var/lib/dpkg/lock-frontend"
    code = f"import fcntl, time; f = open({str(lock)!r}, 'w'); fcntl.lockf(f, fcntl.LOCK_EX); print(flush=True); time.sleep(60)"
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE) as process:
        process.stdout.readline()
        try:
            yield
        finally:
            process.kill()


def test_a_line_put_back_brings_what_it_needs_of_others_and_nothing_more(job):
    ids = [
        job.machine.id("scan", "4"),
        job.machine.id("match"),
        job.machine.id("scan", "2"),
        job.machine.id("label"),
        job.machine.id("desk"),
    ]
    before = picture(job.machine.root)
    order = job.order(*ids, answers=settled(job, ids) | {f"personal:{job.machine.id('desk')}": "they_stay"})
    freed = next(line for line in order.lines if line.id == FREED).packages
    job.carry(job.prepare(order))
    assert job.put_back([ids[0]])["left"] == 0
    assert dpkg_status(job.machine, "libawn1") == "installed"
    assert dpkg_status(job.machine, ids[1].removeprefix("debian:")) == "not-installed"
    back = [p for p in freed if dpkg_status(job.machine, p) == "installed"]
    assert "libawn1" in back
    assert job.put_back()["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_what_is_gone_already_is_done_and_its_line_goes_on(job):
    hero = job.machine.id("map", "7")
    run = job.prepare(job.order(hero))
    moved = [op for op in run.plan.operations if isinstance(op, Shelve)]
    subprocess.run(["rm", "-rf", str(job.machine.root / moved[0].path[1:])], check=True)
    edited = next(op for op in run.plan.operations if isinstance(op, EditLines))
    (job.machine.root / edited.path[1:]).unlink()
    job.carry(run)
    said = {r.where: (r.state, r.note) for r in records_of(run)}
    assert said[moved[0].path] == ("done", "was gone already")
    assert ("done", "was gone already") in [v for k, v in said.items() if k.startswith(edited.path)]
    assert {s for line in states(run).values() for s in line} == {"done"}


def test_only_the_references_of_the_order_are_taken_out(job):
    hero = job.machine.id("map", "7")
    order = job.order(hero)
    references = {r.id: r for r in job.app(hero).references if r.kind == "file type"}
    keep = next(iter(references))
    plain = order.lines[0]
    assert keep in plain.references
    less = replace(order, lines=[replace(plain, references=[r for r in plain.references if r != keep])])
    job.carry(job.prepare(less))
    text = (job.machine.root / references[keep].path[1:]).read_text().split("\n")
    assert references[keep].text.split("=")[0] in "\n".join(text)
    assert any(f.path == references[keep].path for c in job.clearance().lines[0].cells for f in c.findings)


def test_a_kept_application_that_would_go_along_is_refused(job):
    label, desk = job.machine.id("label"), job.machine.id("desk")
    visit, surveyed = job.shop.latest()
    choice = Choice({label: "remove", desk: "keep"})
    with pytest.raises(Refused, match="is to be kept"):
        job.shop.orders.draw(visit, surveyed, choice)
    out = job.shop.orders.draw(
        visit, surveyed, replace(choice, answers={f"needed_by:{label}": "remove_both"})
    )
    assert {line.id: line.verdict for line in out.lines} == {
        label: "keep",
        desk: "keep",
    } and out.packages == []
    drawn = job.order(label, answers={f"needed_by:{label}": "remove_both"})
    lines = [
        replace(line, verdict="keep", packages=[], ticks=[], references=[]) if line.id == desk else line
        for line in drawn.lines
    ]
    with pytest.raises(Refused):
        job.prepare(replace(drawn, lines=lines))


# -- the law: what the rehearsal says is what happens -----------------------------------------------------------


@settings(
    max_examples=4,
    phases=[Phase.generate],
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
    deadline=None,
)
@given(data=st.data())
def test_what_the_rehearsal_says_is_what_happens(tmp_path_factory, data):
    job = Job(built(1).copy(tmp_path_factory.mktemp("law") / "machine"))
    ids = sorted(data.draw(st.sets(st.sampled_from(removable(job)), min_size=1, max_size=7)))
    order = job.order(*ids, answers=settled(job, [a.id for a in job.surveyed.survey.applications]))
    trouble = data.draw(st.sampled_from(["none", "locked", "running", "another version"]))
    run = job.prepare(order)
    packaged = [line.id for line in order.lines if line.packages and line.id.startswith("debian:")]
    with contextlib.ExitStack() as stack:
        if trouble == "running" and packaged and (job.machine.root / "usr/bin" / packaged[0][7:]).exists():
            stack.enter_context(running_now(job, packaged[0]))
        elif trouble == "locked":
            stack.enter_context(locked_now(job))
        said = job.shop.orders.rehearse(order, "the order")
        assert said.lacking == [] and said.refused == ""
        if trouble == "locked":
            assert set(said.problems) == {
                line.id for line in order.lines if line.packages and line.packages[0] in order.packages
            }
            return
        job.carry(run)
    for line, seen in states(run).items():
        if line != FREED:  # asked again when it is known who went
            assert (seen == {"left"}) == (line in said.problems), (line, seen, said.problems)
            assert seen in ({"left"}, {"done"}), [r for r in records_of(run) if r.line == line]


def test_one_carrier_works_on_a_machine_whatever_ledger_or_path_names_it(job, tmp_path):
    (tmp_path / "other-way").symlink_to(job.machine.folder)
    other = Workshop(str(tmp_path / "other-way" / "root"), str(tmp_path / "other.sqlite"))
    run = job.prepare(job.order(job.machine.id("match")))
    with (
        carrier_lock(other.machine),
        pytest.raises(Refused, match="another carrier works on this machine: process"),
    ):
        run_forked(job.shop.orders.carry_request(run))
    assert run_forked(job.shop.orders.carry_request(run))["left"] == 0


def test_what_another_must_find_configured_before_it_is_unpacked_comes_back_first(job, tmp_path):
    """Pre-Depends, of what stands behind it by name; one that depends on both is configured last."""
    machine = job.machine
    head = "Version: 1\nArchitecture: all\nMaintainer: T <t@test.example>\nDescription: x\n"
    for name, needs in (
        ("zeta9", ""),
        ("mu9", "Pre-Depends: zeta9"),
        ("alpha9", "Pre-Depends: mu9"),
        ("quern9", "Depends: alpha9, mu9"),
    ):
        control = f"Package: {name}\n{head}{needs}\n" if needs else f"Package: {name}\n{head}"
        install(
            machine, tmp_path / name, name, "1", {"DEBIAN/control": control, f"usr/bin/{name}": "#!/bin/sh\n"}
        )
    with open(machine.root / "var/lib/apt/extended_states", "a") as marks:
        for name in ("zeta9", "mu9", "alpha9"):
            marks.write(f"\nPackage: {name}\nArchitecture: all\nAuto-Installed: 1\n")
    job.survey()
    before = picture(machine.root)
    order = job.order("debian:quern9")
    assert set(order.line("debian:quern9").packages) == {"quern9", "alpha9", "mu9", "zeta9"}
    job.carry(job.prepare(order))
    assert dpkg_status(machine, "zeta9") == "not-installed"
    assert job.put_back()["why"] == []
    assert {dpkg_status(machine, n) for n in order.packages} == {"installed"}
    assert not differences(before, picture(machine.root), times=False)
