"""Snaps, by a service that speaks the public interface: removed, kept with what their publisher signed, put back, gone for good."""

from __future__ import annotations

import copy
import subprocess
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, make_ours, picture
from kills import sampled, under_injection
from swept_shelf.core.demo.snap_service import serve
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.orders import Choice

ABACUS = "snap:abacus"
IMAGE = "var/lib/snapd/snaps/abacus_{}.snap".format
LAUNCHER = "var/lib/snapd/desktop/applications/abacus_abacus.desktop"
CARRYING = [
    "renameat2:1",
    "renameat2:2",
    "renameat2:4",
    "renameat2:6",
    "linkat:2",
    "sendto:2",
    "sendto:5",
    "connect:3",
]
RETURNING = ["renameat2:1", "renameat2:2", "sendto:2", "sendto:5", "connect:3"]
SHARED, OWN = "var/snap/abacus", f"{made.VERA}/snap/abacus"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    work = tmp_path_factory.mktemp("snaps")
    root = made.bare_root(work / "root")
    made.add_snaps(root, work)
    (root / "run").mkdir(exist_ok=True)
    return root


@pytest.fixture
def service(built, tmp_path):
    """(root, what the service knows) while it answers."""
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    rows = [r | {"id": "a" * 32} for r in copy.deepcopy(made.SNAPS)]
    with serve(tmp_path / "root/run", rows) as told:
        yield SimpleNamespace(root=tmp_path / "root", rows=rows, told=told)


@pytest.fixture
def job(service):
    return Job(SimpleNamespace(folder=make_ours(service.root)))


def installed(service):
    return {(r["name"], r["revision"], r["status"]) for r in service.rows}


def standing(root):
    """The picture of it without the folder that the service's socket stands in."""
    return {k: v for k, v in picture(root).items() if not k.startswith("/run")}


def sheet(run):
    return [(o.event, o.note) for o in run.state.operations.values()]


def test_it_goes_with_its_revisions_and_data_is_clear_and_comes_back_as_it_was(job, service):
    root, rows = service.root, installed(service)
    before = standing(root)
    run = job.carry(job.prepare(job.order(ABACUS)))
    assert {event for event, _ in sheet(run)} == {"done"}, sheet(run)
    assert installed(service) == {("ground", "7", "active")}
    assert not any(
        (root / p).exists() for p in (IMAGE(41), IMAGE(40), LAUNCHER, SHARED + "/common", OWN + "/common")
    )
    cells = {c.family: c for c in job.clearance().lines[0].cells}
    assert cells["registry"].state == "clear" and cells["files"].state == "clear"
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    made_again = (
        IMAGE(41),
        IMAGE(40),
        LAUNCHER,
        "var/lib/snapd",
        f"{SHARED}:",
        f"{SHARED}/4",
        "var/lib/snapd/desktop",
    )
    changed = [
        d for d in differences(before, standing(root)) if not d.startswith(tuple(f"/{m}" for m in made_again))
    ]
    assert changed == []  # what the service makes itself bears its own times
    assert (root / IMAGE(41)).read_bytes() and (root / IMAGE(40)).read_bytes()


def test_data_that_is_to_stay_stays_though_the_service_takes_all_of_it(job, service):
    root = service.root
    kept = {f"/{OWN}/common", f"/{SHARED}/common"}
    order = job.order(ABACUS, unticked=frozenset(kept))
    before = {k: v for k, v in standing(root).items() if any(k.startswith(p) for p in kept)}
    job.carry(job.prepare(order))
    assert not (root / IMAGE(41)).exists()
    assert {k: v for k, v in standing(root).items() if any(k.startswith(p) for p in kept)} == before
    assert not [
        p for p in (*(root / "var/snap").iterdir(), *(root / OWN).parent.iterdir()) if p.name.startswith(".")
    ]


def test_what_the_service_refuses_is_said_in_its_words_and_all_of_it_stays(job, service):
    run = job.prepare(job.order(ABACUS))
    service.rows.append(
        {"name": "tally", "base": "abacus", "revision": "1", "status": "active", "type": "app", "apps": []}
    )
    before = standing(service.root)
    run = job.carry(run)
    assert any("what tally run on" in note for _, note in sheet(run)), sheet(run)
    assert job.put_back()["why"] == []  # its older revision, which went alone
    assert [
        d
        for d in differences(before, standing(service.root))
        if "abacus_40" not in d and "snapd" not in d and "/var/snap/abacus" not in d
    ] == []


def test_another_revision_than_was_surveyed_is_not_touched(job, service):
    run = job.prepare(job.order(ABACUS))
    for row in service.rows:
        row["revision"] = {"41": "43", "40": "42"}.get(row["revision"], row["revision"])
    run = job.carry(run)
    assert any("another revision by now: survey again" in note for _, note in sheet(run))
    assert (service.root / IMAGE(41)).exists()


def test_without_the_service_nothing_is_planned_to_go(built, tmp_path):
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    job = Job(SimpleNamespace(folder=make_ours(tmp_path / "root")))
    with pytest.raises(Refused, match="the snap service does not answer here"):
        job.prepare(job.order(ABACUS))


def test_what_is_installed_again_meanwhile_is_not_overwritten(job, service):
    run = job.carry(job.prepare(job.order(ABACUS)))
    assert run
    service.rows.append(made.SNAPS[0] | {"revision": "44"})
    left = job.put_back()
    assert any("revision 44 by now" in x["why"] for x in left["why"])


def test_emptied_it_is_gone_for_good(job, service):
    job.carry(job.prepare(job.order(ABACUS)))
    job.empty()
    assert not job.shop.shelves.waiting() and not (service.root / ".swept-shelf").exists()


OLDER = f"{ABACUS}/40"


def each_has_its_own(root, older, active):
    """The service puts a copy of one revision's data in the place of the other's."""
    for place in (SHARED, OWN):
        assert (root / f"{place}/{older}/old.txt").read_text() == "as it was"
        assert (root / f"{place}/{active}/now.txt").read_text() == "as it is"
        assert len(list((root / place).glob("*/*.txt"))) == 2


def test_revisions_from_files_come_back_by_the_numbers_that_the_service_gives_and_with_their_data(
    job, service
):
    numbers = {"41": "x3", "40": "x1"}
    for row in service.rows:
        if new := numbers.get(row["revision"]):
            (service.root / IMAGE(row["revision"])).rename(service.root / IMAGE(new))
            row |= {"revision": new, "id": ""}
    for place in (SHARED, OWN):
        made.write(service.root, f"{place}/x1/old.txt", "as it was")
        made.write(service.root, f"{place}/x3/now.txt", "as it is")
    rows = installed(service)
    job.survey()
    job.carry(job.prepare(job.order(ABACUS)))
    assert installed(service) == {("ground", "7", "active")} and not (service.root / SHARED).exists()
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    each_has_its_own(service.root, "x1", "x3")


def test_a_snap_that_came_from_files_too_often_is_left_and_said(job, service):
    (service.root / IMAGE("41")).rename(service.root / IMAGE("x41"))
    for row in service.rows:
        row |= {"revision": "x41", "id": ""} if row["revision"] == "41" else {}
    service.rows[:] = [r for r in service.rows if r["revision"] != "40"]
    job.survey()
    job.carry(job.prepare(job.order(ABACUS)))
    assert any("would come back as another revision" in x["why"] for x in job.put_back()["why"])
    assert installed(service) == {("ground", "7", "active")} and job.shop.shelves.waiting()


def test_services_of_a_snap_begin_anew_on_its_own_data_when_it_comes_back(service, job):
    for row in service.rows:
        row["apps"] = [a | {"daemon": "simple", "active": True} for a in row["apps"]]
    job.carry(job.prepare(job.order(ABACUS)))
    assert job.put_back()["why"] == [] and service.told.restarted == ["abacus"]


@pytest.fixture
def with_copies(service):
    """What the service copied for the revision that is not in use any more."""
    for place in (SHARED, OWN):
        made.write(service.root, f"{place}/40/old.txt", "as it was")
        made.write(service.root, f"{place}/41/now.txt", "as it is")


def test_an_older_revision_is_a_line_of_its_own_that_goes_and_comes_back_beside_the_one_in_use(
    job, service, with_copies
):
    root, rows, before = service.root, installed(service), standing(service.root)
    older = next(a for a in job.survey().survey.applications if a.id == OLDER)
    assert {b.path for b in older.belongings if b.is_path and b.ticked} == {
        f"/{IMAGE(40)}", f"/{SHARED}/40", f"/{OWN}/40",
    }  # fmt: skip
    run = job.carry(job.prepare(job.order(OLDER)))
    assert {event for event, _ in sheet(run)} == {"done"}, sheet(run)
    assert installed(service) == rows - {("abacus", "40", "installed")}
    assert not any((root / p).exists() for p in (IMAGE(40), f"{SHARED}/40", f"{OWN}/40"))
    assert (root / f"{OWN}/41/now.txt").exists() and (root / IMAGE(41)).exists()
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    assert [
        d
        for d in differences(before, standing(root))
        if not d.startswith((f"/{IMAGE(40)}", f"/{LAUNCHER}", "/var/lib/snapd"))
    ] == []


def test_the_application_takes_its_older_revision_along_and_both_come_back(job, service, with_copies):
    rows, before = installed(service), standing(service.root)
    job.survey()
    order = job.order(ABACUS)
    assert {line.id for line in order.lines} == {ABACUS, OLDER}
    job.carry(job.prepare(order))
    assert not (service.root / OWN).exists() and not (service.root / SHARED).exists()
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    assert {p for p in before if "snap/abacus" in p} == {
        p for p in standing(service.root) if "snap/abacus" in p
    }
    each_has_its_own(service.root, "40", "41")
    with pytest.raises(Refused, match="takes it along with Abacus"):
        job.shop.orders.draw(*job.shop.latest(), Choice({ABACUS: "remove", OLDER: "keep"}))


def test_an_older_revision_that_came_into_use_or_whose_snap_is_gone_is_left_and_said(job, service):
    run = job.prepare(job.order(OLDER))
    for row in service.rows:
        row["status"] = {"40": "active", "41": "installed"}.get(row["revision"], row["status"])
    run = job.carry(run)
    assert any("revision in use by now" in note for _, note in sheet(run)), sheet(run)
    for row in service.rows:
        row["status"] = {"41": "active", "40": "installed"}.get(row["revision"], row["status"])
    job.survey()
    job.carry(job.prepare(job.order(OLDER)))
    service.rows[:] = [r for r in service.rows if r["name"] != "abacus"]
    assert any("does not come back alone" in x["why"] for x in job.put_back()["why"])


@pytest.mark.parametrize(("task", "call", "when"), [
    ("carry_out", "sendto", 3), ("carry_out", "connect", 3), ("put_back", "sendto", 4), ("put_back", "connect", 4),
    ("put_back", "connect", 5), ("put_back", "connect", 6), ("put_back", "renameat2", 1),
])  # fmt: skip
def test_a_revision_cut_off_anywhere_goes_and_comes_back_and_the_other_stays_in_use(
    job, service, with_copies, task, call, when
):
    rows = installed(service)
    job.survey()
    run = job.prepare(job.order(OLDER))
    if task == "put_back":
        job.carry(run)
    request = (
        job.shop.orders.carry_request(run)
        if task == "carry_out"
        else job.shop.shelves.request(task, job.row(), [])
    )
    under_injection(request, call, when)
    if task == "carry_out":
        job.carry(run)
        assert installed(service) == rows - {("abacus", "40", "installed")}
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    assert (service.root / f"{OWN}/40/old.txt").read_text() == "as it was"


@pytest.mark.parametrize(
    ("task", "point"), sampled([("carry_out", p) for p in CARRYING] + [("put_back", p) for p in RETURNING], 5)
)
def test_cut_off_anywhere_it_is_finished_and_comes_back(job, service, task, point):
    root, rows = service.root, installed(service)
    run = job.prepare(job.order(ABACUS))
    if task == "put_back":
        job.carry(run)
    call, _, when = point.partition(":")
    request = (
        job.shop.orders.carry_request(run)
        if task == "carry_out"
        else job.shop.shelves.request(task, job.row(), [])
    )
    assert under_injection(request, call, int(when)).died
    if task == "carry_out":
        job.carry(run)
        assert installed(service) == {("ground", "7", "active")}
    assert job.put_back()["why"] == []
    assert installed(service) == rows
    assert (root / f"{OWN}/common/beads.bin").read_text() == "b" * 9000
    assert (root / f"{SHARED}/common/state").read_text() == "s" * 200
    assert not [
        p for p in (*(root / "var/snap").iterdir(), *(root / OWN).parent.iterdir()) if p.name.startswith(".")
    ]
