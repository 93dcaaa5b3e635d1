"""The whole job on real packages: remove completely, prove it, put it back exactly, or give the space back."""

from __future__ import annotations

import pytest

from helpers import Job, built, differences, dpkg_status, picture
from swept_shelf.core.carry.journal import check, read_journal
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.clearance import FAMILIES
from swept_shelf.core.machine.volumes import free_bytes


@pytest.fixture(
    scope="module", params=[1, pytest.param(2, marks=pytest.mark.sweep)], ids=["first seed", "second seed"]
)
def circle(request, tmp_path_factory):
    """The job carried out once and put back, with pictures of the root at each stage."""
    machine = built(request.param).copy(tmp_path_factory.mktemp("circle") / "machine")
    before = picture(machine.root)
    job = Job(machine)
    looked = picture(machine.root)
    hero = machine.id("map", "7")
    order = job.order(hero)
    run = job.carry(job.prepare(order))
    gone = picture(machine.root)
    on_shelf = picture(machine.root, shelf=True)
    clearance = job.clearance()
    back = job.put_back()
    return {
        "job": job,
        "machine": machine,
        "hero": hero,
        "order": order,
        "run": run,
        "before": before,
        "looked": looked,
        "gone": gone,
        "on_shelf": on_shelf,
        "clearance": clearance,
        "back": back,
        "after": picture(machine.root, shelf=True),
    }


def test_the_removed_application_has_belongings_and_references_of_every_kind(circle):
    app = circle["job"].app(circle["hero"])
    assert {b.kind for b in app.belongings} == {"program", "support", "preferences", "cache", "state", "log"}
    assert {r.family for r in app.pointers} == {
        "startup",
        "launchers",
        "schedules",
        "file_types",
        "shell",
        "services",
        "recents",
    }


def test_every_belonging_that_is_its_alone_was_found(circle):
    found = {b.path for b in circle["job"].app(circle["hero"]).belongings if b.ticked}
    assert set(circle["machine"].truth["map_sole"]) <= found


def test_nothing_of_it_is_left_in_the_root(circle):
    truth, name = circle["machine"].truth, circle["hero"].removeprefix("debian:")
    kept = truth["personal"] + truth["shared"] + truth["decoys"] + truth["others"]
    left = [
        p
        for p in circle["gone"]
        if name in p
        and not p.startswith("/var/lib/dpkg")
        and not any(p.startswith(k) or k.startswith(p) for k in kept)
    ]
    assert [p for p in left if f"{name}er" not in p] == []
    assert dpkg_status(circle["machine"], name) == "installed"  # after putting back
    assert any(name in p for p in circle["on_shelf"] if ".swept-shelf" in p)


def test_decoys_and_what_is_personal_shared_or_of_others_are_as_before(circle):
    truth = circle["machine"].truth
    for group in ("personal", "shared", "decoys", "others", "left"):
        for top in truth[group]:
            inside = [p for p in circle["before"] if p == top or p.startswith(top + "/")]
            assert inside, f"{group}: {top} is not in the machine"
            assert [p for p in inside if circle["before"][p] != circle["gone"].get(p)] == []


def test_only_the_lines_that_point_at_it_went(circle):
    root, name = circle["machine"].root, circle["hero"].removeprefix("debian:")
    cron = (root / "etc/cron.d/room-jobs").read_text().splitlines()
    edit = next(
        o for o in circle["run"].plan.operations if o.do == "edit_lines" and o.path == "/etc/cron.d/room-jobs"
    )
    assert [cron[c.line - 1] for c in edit.cuts] == [f"5 2 * * * root /usr/bin/{name} --tiles >/dev/null"]
    assert all(r.state == "put_back" or r.what.startswith("Keep") for r in records_of(circle["run"]))


def test_the_clearance_is_all_clear_in_every_family_that_is_looked_at(circle):
    line = circle["clearance"].lines[0]
    assert {c.family: c.state for c in line.cells} == {family: "clear" for family in FAMILIES}


def test_put_back_restores_the_root_exactly(circle):
    assert circle["back"]["left"] == 0
    assert differences(circle["before"], circle["after"]) == []


def test_the_journal_holds_its_invariants(circle):
    assert check(read_journal(circle["run"].journal_path)) == []


def test_a_survey_changes_nothing_in_the_root(circle):
    assert differences(circle["before"], circle["looked"]) == []


def test_emptying_gives_back_what_was_promised(circle):
    job = circle["job"]
    job.survey()
    order = job.order(circle["hero"])
    before = free_bytes(job.shop.machine)
    job.carry(job.prepare(order))
    assert job.empty()["left"] == 0
    after = free_bytes(job.shop.machine)
    for part in order.comes_back:
        gained = after[part.volume] - before[part.volume]
        assert abs(gained - part.now - part.when_emptied) <= 64 << 10, part
    assert not [p for p in picture(circle["machine"].root, shelf=True) if ".swept-shelf" in p]
    assert dpkg_status(circle["machine"], circle["hero"].removeprefix("debian:")) == "not-installed"
