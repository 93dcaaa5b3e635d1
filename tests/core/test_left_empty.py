"""A folder that an order leaves empty goes last, and only empty; it comes back with whatever comes back first."""

from __future__ import annotations

import os
import stat

import pytest

from helpers import Job, built, differences, picture
from kills import sampled, under_injection
from swept_shelf.core.documents.operations import LEFT_EMPTY, Shelve

MAKERS = "home/isolde/.cache/woadtally-tiles"


@pytest.fixture
def job(tmp_path):
    return Job(built(1).copy(tmp_path / "machine"))


@pytest.fixture
def both(job):
    """The two programs of one maker, in one order."""
    ids = [a.id for a in job.surveyed.survey.applications if a.name in ("Woadtally 7", "Woadtally 9")]
    assert len(ids) == 2
    answers = {f"needed_by:{i}": "remove_both" for i in ids}
    return job.prepare(job.order(*ids, answers=answers))


def husks(run):
    return [op.path for op in run.plan.operations if isinstance(op, Shelve) and op.why == LEFT_EMPTY]


@pytest.mark.parametrize("turn", [0, 1])
def test_a_makers_folder_goes_with_the_last_of_its_programs_and_comes_back_with_either_first(job, both, turn):
    root = job.machine.root
    before = picture(root)
    assert f"/{MAKERS}" in husks(both)
    job.carry(both)
    assert not (root / MAKERS).exists() and (root / MAKERS).parent.is_dir()
    ids = [line.id for line in both.order.lines if line.packages and line.id != "freed"]
    for id in (ids[turn], ids[1 - turn]):
        assert job.put_back([id])["why"] == []
        assert (root / MAKERS).is_dir()
    job.put_back()
    assert differences(before, picture(root, shelf=True)) == []


def test_what_somebody_put_there_meanwhile_stays_with_its_folder(job, both):
    (job.machine.root / MAKERS / "mine.txt").write_text("later")
    run = job.carry(both)
    assert (job.machine.root / MAKERS / "mine.txt").read_text() == "later"
    assert any(o.note == "something lies in it" for o in run.state.operations.values())


def test_a_folder_that_somebody_made_anew_keeps_what_is_in_it(job, both):
    root = job.machine.root
    before = picture(root)
    owner = (root / MAKERS).stat().st_uid
    job.carry(both)
    (root / MAKERS).mkdir(mode=0o777)
    (root / MAKERS / "mine.txt").write_text("later")
    assert job.put_back()["why"] == []
    now = (root / MAKERS).stat()
    assert now.st_uid == owner and stat.S_IMODE(now.st_mode) == stat.S_IMODE(before[f"/{MAKERS}"][0])
    assert (root / MAKERS / "mine.txt").read_text() == "later"
    assert {d.split(": ")[0] for d in differences(before, picture(root), times=False)} == {
        f"/{MAKERS}/mine.txt"
    }


def test_a_folder_that_somebody_made_anew_for_themselves_gets_no_more_rights(job, both):
    job.carry(both)
    (job.machine.root / MAKERS).mkdir(mode=0o700)
    assert job.put_back()["why"] == []
    assert stat.S_IMODE((job.machine.root / MAKERS).stat().st_mode) == 0o700


def test_a_folder_of_another_where_nobody_of_it_owns_the_one_above_is_left(job, both):
    place = job.machine.root / MAKERS
    owner = place.stat().st_uid
    job.carry(both)
    place.mkdir()
    for other in (place, place.parent):
        os.chown(other, owner + 7, owner + 7)
    left = job.put_back()
    assert [x["why"] for x in left["why"]] == ["something newer stands there; it was not overwritten"]
    assert place.stat().st_uid == owner + 7


def test_a_file_or_a_link_in_its_place_is_not_overwritten(job, both):
    root = job.machine.root
    job.carry(both)
    rights = (root / "etc").stat()
    (root / MAKERS).symlink_to("/etc")
    left = job.put_back()
    now = (root / "etc").stat()
    assert (now.st_mode, now.st_uid, now.st_gid) == (rights.st_mode, rights.st_uid, rights.st_gid)
    assert "something newer stands there; it was not overwritten" in {x["why"] for x in left["why"]}
    assert any(x["path"].startswith(f"/{MAKERS}") for x in left["why"])
    assert os.readlink(root / MAKERS) == "/etc" and not any(
        "tile" in n.lower() for n in os.listdir(root / "etc")
    )


def test_no_folder_that_is_everybodys_goes_though_nothing_is_left_in_it(job):
    """Whatever goes together: base folders of a home, and folders of a standard, stay."""
    everybodys = (".config", ".cache", ".local", ".local/share", ".local/state", ".local/share/applications")
    ids = [a.id for a in job.surveyed.survey.applications if a.registry == "debian" and not a.protected]
    answers = {f"needed_by:{i}": "remove_both" for i in ids} | {f"running:{i}": "when_ended" for i in ids}
    found = husks(job.prepare(job.order(*ids, answers=answers)))
    assert found and not any(p.endswith(tuple(f"/{e}" for e in everybodys)) for p in found)
    assert not any(p.startswith(("/usr/", "/etc/systemd", "/var/lib/dpkg")) for p in found)


@pytest.mark.parametrize(
    ("task", "nth"), sampled([(t, n) for t in ("carry_out", "put_back") for n in range(1, 24)], 8)
)
def test_cut_off_at_any_rename_it_is_finished_and_comes_back(job, both, task, nth):
    before = picture(job.machine.root)
    if task == "put_back":
        job.carry(both)
    request = (
        job.shop.orders.carry_request(both)
        if task == "carry_out"
        else job.shop.shelves.request(task, job.row(), [])
    )
    under_injection(request, "renameat2", nth)
    if task == "carry_out":
        job.carry(both)
        assert not (job.machine.root / MAKERS).exists()
    assert job.put_back()["why"] == []
    assert differences(before, picture(job.machine.root, shelf=True)) == []
