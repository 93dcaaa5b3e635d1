"""A runtime of Flatpak that several applications use: it goes after the last of them, with what extends it, and not before."""

from __future__ import annotations

import shutil
import subprocess
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, make_ours, picture
from swept_shelf.core.machine import open_machine
from swept_shelf.core.orders.draw import Choice
from swept_shelf.core.registries.flatpak import change

SYSTEM = "var/lib/flatpak"
PERSONAL = f"{made.OTTO}/.local/share/flatpak"
BASE, WORDS = "org.test.Base/x86_64/1", "org.test.Base.Words/x86_64/1"
RUNTIME = f"flatpak:system:{BASE}"
DRAWERS, CHEST = "flatpak:system:org.test.Drawers/x86_64/1", "flatpak:system:org.test.Chest/x86_64/1"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    work = tmp_path_factory.mktemp("shared")
    root = made.bare_root(work / "root")
    made.add_flatpaks(root, work, ["Chest"])
    shutil.rmtree(work / "repo")
    return root


@pytest.fixture
def job(built, tmp_path):
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    return Job(SimpleNamespace(folder=make_ours(tmp_path / "root")))


def deployed(root, place=SYSTEM):
    return {
        str(p.parent.relative_to(root / place)).partition("/")[2]
        for p in (root / place).glob("*/*/x86_64/1/active")
    }


def test_it_is_a_line_of_its_own_that_those_need_who_use_it(job):
    runtime = job.app(RUNTIME)
    assert runtime.type == "runtime" and sorted(runtime.needed_by) == [CHEST, DRAWERS]
    assert runtime.own_packages == [BASE, WORDS] and runtime.comes_back > 49_000
    assert job.app(DRAWERS).own_packages == ["org.test.Drawers/x86_64/1"]
    asked = [s for s in job.order(RUNTIME).settle if s.question == "needed_by"]
    assert [(s.line, s.answers) for s in asked] == [(RUNTIME, ["remove_both", "leave_out"])]
    both = job.order(RUNTIME, answers={f"needed_by:{RUNTIME}": "remove_both"})
    assert [line.id for line in both.lines][-1] == RUNTIME and len(both.lines) == 3


def test_with_one_of_them_it_stays_with_all_of_them_it_goes_last_and_all_comes_back(job):
    root = job.machine.folder
    before = picture(root)
    alone = job.order(DRAWERS)
    assert [line.id for line in alone.lines] == [DRAWERS]
    order = job.order(CHEST, DRAWERS)
    assert [line.id for line in order.lines][-1] == RUNTIME
    assert not order.settle
    run = job.carry(job.prepare(order))
    assert {(o.event, o.note) for o in run.state.operations.values()} == {("done", "")}
    assert deployed(root) == set() and deployed(root, PERSONAL) != set()
    cells = [c for line in job.clearance().lines for c in line.cells if c.family in ("registry", "files")]
    assert {c.state for c in cells} == {"clear"}
    assert job.put_back()["why"] == []
    assert not differences(before, picture(root)), "\n".join(differences(before, picture(root)))


def test_one_alone_comes_back_with_what_it_runs_on_and_the_other_one_after_it(job):
    root = job.machine.folder
    before = picture(root)
    job.carry(job.prepare(job.order(CHEST, DRAWERS)))
    assert job.put_back([CHEST])["why"] == []
    assert deployed(root) == {BASE, WORDS, "org.test.Chest/x86_64/1"}
    assert job.put_back([DRAWERS])["why"] == []
    assert not differences(before, picture(root), times=False)


def test_kept_by_hand_or_left_with_one_that_is_left_out_it_stays(job):
    visit, surveyed = job.shop.latest()
    verdicts = {CHEST: "remove", DRAWERS: "remove", RUNTIME: "keep"}
    order = job.shop.orders.draw(visit, surveyed, Choice(verdicts))
    assert {line.id: line.verdict for line in order.lines} == verdicts
    job.shop.ledger.add_order(visit.id, order)
    job.carry(job.prepare(order))
    assert deployed(job.machine.folder) == {BASE, WORDS}


def test_installed_meanwhile_what_uses_it_keeps_it(job):
    """Who looks once more, before anything is taken, is flatpak itself."""
    root = job.machine.folder
    order = job.order(CHEST, DRAWERS)
    run = job.prepare(order)
    third = root / SYSTEM / "app/org.test.Till/x86_64/1"
    shutil.copytree(root / SYSTEM / "app/org.test.Chest/x86_64/1", third, symlinks=True)
    metadata = third / "active/metadata"
    metadata.write_text(metadata.read_text().replace("org.test.Chest", "org.test.Till"))
    run = job.carry(run)
    left = [o.note for o in run.state.operations.values() if o.event != "done"]
    assert len(left) == 1 and "applications using the runtime org.test.Base" in left[0]
    assert deployed(root) == {BASE, WORDS, "org.test.Till/x86_64/1"}


def test_what_a_persons_own_application_runs_on_is_not_unused(job):
    root = job.machine.folder
    shutil.rmtree(root / PERSONAL / "runtime")
    for id in ("Drawers", "Chest"):
        shutil.rmtree(root / SYSTEM / f"app/org.test.{id}")
    job.survey()
    assert job.app(RUNTIME).needed_by == ["flatpak:otto:org.test.Drawers/x86_64/1"]
    assert [line.id for line in job.order(job.app(RUNTIME).needed_by[0]).lines][-1] == RUNTIME


def test_a_part_that_another_runtime_has_too_stays_with_that(job):
    root = job.machine.folder
    other = root / SYSTEM / "runtime/org.test.Other/x86_64/1"
    shutil.copytree(root / SYSTEM / "runtime/org.test.Base/x86_64/1", other, symlinks=True)
    metadata = (other / "active").resolve() / "metadata"
    metadata.write_text(metadata.read_text().replace("name=org.test.Base\n", "name=org.test.Other\n"))
    job.survey()
    assert job.app(RUNTIME).own_packages == [BASE]


def test_a_manifest_of_before_knows_of_no_need(job):
    machine = open_machine(job.machine.folder)
    run = job.carry(job.prepare(job.order(CHEST, DRAWERS)))
    assert run.state.operations
    (slot,) = [s for s in job.shop.shelves.waiting() if s.manifest.get("line") == CHEST]
    op = SimpleNamespace(refs=slot.manifest["refs"], place="/" + SYSTEM)
    assert change.lacking(machine, op, slot.manifest["kept"]) == [f"runtime/{BASE}"]
    assert change.lacking(machine, op, [{"ref": "app/x/x86_64/1"}, {"needs": "runtime/../.."}]) == []
