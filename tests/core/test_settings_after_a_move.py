"""Data that moved: settings of its own say where it is now, byte for byte as before apart from that, and say the old place again
when it is put back."""

from __future__ import annotations

import os
from dataclasses import replace

import pytest

from helpers import cli, differences, picture
from kills import sampled, under_injection
from staging import copied, staged
from swept_shelf.core.documents.operations import EditLines
from swept_shelf.core.orders.moving import movable, named_anew, settings_of_its_own, target
from swept_shelf.core.references.cutting import without

INTO = "/srv/large"
SETTINGS = (
    "[data]\nplates={place}/plates\nlast=~/{below}/plates/7.xml;/srv/x\nother={place}-old\n[view]\nzoom=2\n"
)


def one(job):
    """(id, its folder of data, a folder of its settings) of an application that has both in one home."""
    for app in job.surveyed.survey.applications:
        for data in movable(app):
            for path in settings_of_its_own(app):
                same = path.split("/")[:3] == data.path.split("/")[:3] and path.startswith("/home/")
                if same and not app.running and not app.protected and (job.machine.root / path[1:]).is_dir():
                    return app.id, data.path, path
    raise AssertionError("the machine has none")


def stock(job):
    _, place, settings = one(job)
    below = place.split("/", 3)[3]
    (job.machine.root / place[1:] / "plates").mkdir()
    (job.machine.root / place[1:] / "plates/all.bin").write_bytes(os.urandom(2_000_000))
    folder = job.machine.root / settings[1:]
    (folder / "places.conf").write_text(SETTINGS.format(place=place, below=below))
    (folder / "state.bin").write_bytes(b"\0\1" + place.encode() + b"\0")
    (job.machine.root / INTO[1:]).mkdir(parents=True)
    job.survey()


@pytest.fixture
def stocked(tmp_path):
    job = copied(staged(stock), tmp_path / "machine")
    id, place, settings = one(job)
    return job, id, place, job.machine.root / settings[1:] / "places.conf"


def order(job, id):
    return job.order(id, verdict="move_data", to={id: INTO})


def said(place, now):
    below = place.split("/", 3)[3]
    text = SETTINGS.format(place=place, below=below)
    return text.replace(f"plates={place}", f"plates={now}").replace(f"~/{below}", now)


def test_they_name_the_new_place_and_the_old_one_again(stocked):
    job, id, place, file = stocked
    before, mode = picture(job.machine.root), file.stat().st_mode
    run = job.carry(job.prepare(order(job, id)))
    assert {o.event for o in run.state.operations.values()} == {"done"}, run.state.operations
    assert file.read_text() == said(place, target(INTO, place)) and file.stat().st_mode == mode
    assert os.readlink(job.machine.root / place[1:]) == target(INTO, place)
    assert [op.path for op in run.plan.operations if isinstance(op, EditLines)] == [
        "/" + str(file.relative_to(job.machine.root))
    ]
    assert job.put_back()["why"] == []
    assert [d for d in differences(before, picture(job.machine.root)) if not d.startswith(f"{INTO}:")] == []


def test_what_the_program_wrote_there_since_stays_and_the_place_is_the_old_one_again(stocked):
    job, id, place, file = stocked
    job.carry(job.prepare(order(job, id)))
    file.write_text("[new]\nx=1\n" + file.read_text().replace("zoom=2", "zoom=3"))
    assert job.put_back()["why"] == []
    assert file.read_text() == "[new]\nx=1\n" + said(place, place).replace(
        f"last={place}", f"last=~/{place.split('/', 3)[3]}"
    ).replace("zoom=2", "zoom=3")


def test_settings_that_changed_since_they_were_looked_at_are_left_and_the_link_leads_there(stocked):
    job, id, place, file = stocked
    run = job.prepare(order(job, id))
    file.write_text("plates=" + place + "\n")
    run = job.carry(run)
    assert sorted(o.event for o in run.state.operations.values()) == ["done", "skipped"]
    assert file.read_text() == f"plates={place}\n" and os.path.islink(job.machine.root / place[1:])


def test_the_rehearsal_says_which_settings_change(stocked, tmp_path):
    job, id, _, file = stocked
    root = ("--root", str(job.machine.folder))
    assert cli(*root, "order", "--move-data", f"{id}={INTO}", "-o", str(tmp_path / "o.json")).returncode == 0
    words = " ".join(cli(*root, "rehearse", str(tmp_path / "o.json")).stdout.split())
    assert "Change 2 settings" in words and f"/{file.relative_to(job.machine.root)}, lines 2, 3" in words


@pytest.mark.parametrize(
    ("task", "call", "nth"),
    sampled([("carry_out", "renameat2", n) for n in range(1, 5)], 3)
    + sampled([("put_back", "renameat2", n) for n in (1, 2)], 2),
)
def test_cut_off_anywhere_it_is_finished_or_put_back(stocked, task, call, nth):
    job, id, place, file = stocked
    before = picture(job.machine.root)
    run = job.prepare(order(job, id))
    request = job.shop.orders.carry_request(run)
    if task == "put_back":
        job.carry(run)
        request = job.shop.shelves.request(task, job.row(), [])
    assert under_injection(request, call, nth).died
    if task == "carry_out":
        job.carry(run)
        assert file.read_text() == said(place, target(INTO, place))
    assert job.put_back()["why"] == []
    assert [d for d in differences(before, picture(job.machine.root)) if not d.startswith(f"{INTO}:")] == []


@pytest.mark.parametrize(
    ("text", "left"),
    [
        ("a=/h/e/p\n", "a=/n/h/e/p\n"),
        ("a='~/p/x' b=$HOME/p:${HOME}/p/y\n", "a='/n/h/e/p/x' b=/n/h/e/p:/n/h/e/p/y\n"),
        ("file:///h/e/p/x", "file:///n/h/e/p/x"),
        ('{"a": "/h/e/p", "b": ["/h/e/p/q"]}', '{"a": "/n/h/e/p", "b": ["/n/h/e/p/q"]}'),
        ("a=/h/e/p2 b=/x/h/e/p c=/h/e/p.old d=/h/e/p-x e=x~/p f=~/pp", "same"),
        ("a=/h/e/p\0", "same"),
    ],
)
def test_only_the_place_itself_is_named_anew(text, left):
    assert without(text, named_anew(text, {"/h/e/p": "/n/h/e/p"}, "/h/e")) == (
        text if left == "same" else left
    )


def test_a_place_that_settings_might_have_to_write_otherwise_is_left_to_the_link():
    assert named_anew("a=/h/p q\n", {"/h/p q": "/n/h/p q"}, "") == []


def test_files_that_name_no_place_of_it_are_left_without_a_word(stocked):
    job, id, place, file = stocked
    (file.parent / "state.bin").write_bytes(b"written since")
    drawn = order(job, id)
    run = job.prepare(drawn)
    assert [x.path for x in run.plan.left_alone] == []
    file.write_text(f"plates={place}\n")
    again = job.prepare(order(job, id))
    mine = "/" + str(file.relative_to(job.machine.root))
    assert [(x.path, "survey again" in x.why) for x in again.plan.left_alone] == [(mine, True)]


def test_settings_of_which_it_is_not_certain_whose_they_are_are_not_written_to(stocked):
    job, id, *_ = stocked
    app = job.app(id)
    unsure = replace(app, belongings=[replace(b, certain=False) for b in app.belongings])
    assert list(settings_of_its_own(app)) and not list(settings_of_its_own(unsure))
