"""Data moved to another volume: copied, compared, a link in its place; what stands there by then comes back."""

from __future__ import annotations

import json
import os
import subprocess
import sys

import pytest

from evidence import folder_of_data
from helpers import cli, differences, picture
from kills import sampled, under_injection
from staging import copied, staged
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.orders.moving import target

INTO = "/srv/large"


def stock(job):
    """Two megabytes in a folder of an application's, and a folder on the root's volume to move to."""
    _, path = folder_of_data(job)
    folder = job.machine.root / path[1:]
    (folder / "large").mkdir()
    (folder / "large/plates.bin").write_bytes(os.urandom(2_000_000))
    os.link(folder / "large/plates.bin", folder / "large/again.bin")
    (folder / "large/latest").symlink_to("plates.bin")
    os.setxattr(folder / "large/plates.bin", "user.label", b"x")
    (job.machine.root / INTO[1:]).mkdir(parents=True)
    job.survey()


@pytest.fixture
def stocked(tmp_path):
    """(job, the application's id, its folder in a home) where there is something to move."""
    job = copied(staged(stock), tmp_path / "machine")
    return job, *folder_of_data(job)


def moved(job, id, **more):
    return job.order(id, verdict="move_data", to={id: INTO}, **more)


def changed(before, root):
    """All but the time of the folder that things were moved to, and back from."""
    return [d for d in differences(before, picture(root)) if not d.startswith(f"{INTO}:")]


def below(root, path):
    return {k[len(path) :]: v for k, v in picture(root).items() if k.startswith(path)}


def test_it_stands_on_the_other_volume_with_a_link_in_its_place_and_comes_back(stocked):
    job, id, path = stocked
    root = job.machine.root
    before = picture(root)
    order = moved(job, id)
    assert (
        order.line(id).ticks == [path]
        and order.line(id).to == INTO
        and order.line(id).comes_back >= 2_000_000
    )
    assert [(c.now, c.when_emptied >= 2_000_000) for c in order.comes_back] == [(0, True)]
    run = job.carry(job.prepare(order))
    assert [o.event for o in run.state.operations.values()] == ["done"], run.state.operations
    there = target(INTO, path)
    assert os.readlink(root / path[1:]) == there
    assert (root / there[1:] / "large/plates.bin").stat().st_nlink == 2
    assert os.getxattr(root / there[1:] / "large/plates.bin", "user.label") == b"x"
    assert (root / there[1:]).stat().st_uid == (root / path[1:]).parent.stat().st_uid
    assert job.put_back()["why"] == []
    assert changed(before, root) == []


def test_what_was_written_there_since_comes_back_not_what_was_kept(stocked):
    job, id, path = stocked
    root = job.machine.root
    job.carry(job.prepare(moved(job, id)))
    (root / target(INTO, path)[1:] / "large/new.txt").write_text("since")
    (root / target(INTO, path)[1:] / "large/plates.bin").write_text("changed")
    assert job.put_back()["why"] == []
    folder = root / path[1:]
    assert not folder.is_symlink() and (folder / "large/new.txt").read_text() == "since"
    assert (folder / "large/plates.bin").read_text() == "changed"
    assert not (root / INTO[1:] / "home").exists() and not job.shop.shelves.waiting()


def test_where_the_volume_is_not_mounted_nothing_old_is_put_back(stocked):
    job, id, path = stocked
    root = job.machine.root
    job.carry(job.prepare(moved(job, id)))
    (root / INTO[1:] / "home").rename(root / "srv/away")
    left = job.put_back()["why"]
    assert "is not there now: mount the volume" in left[0]["why"] and os.path.islink(root / path[1:])
    (root / "srv/away").rename(root / INTO[1:] / "home")
    assert job.put_back()["why"] == [] and not os.path.islink(root / path[1:])


def test_emptied_the_moved_data_stays_and_its_volume_has_the_room(stocked):
    job, id, path = stocked
    root = job.machine.root
    job.carry(job.prepare(moved(job, id)))
    job.empty()
    assert (
        not job.shop.shelves.waiting()
        and (root / target(INTO, path)[1:] / "large/plates.bin").stat().st_size == 2_000_000
    )


@pytest.mark.parametrize(
    ("to", "why"),
    [
        ("/home/elsewhere", "same volume"),
        ("/", "no folder"),
        ("srv", "no folder"),
        ("/srv/../home", "no folder"),
        ("", "nothing"),
    ],
)
def test_where_it_cannot_go_no_order_is_drawn(stocked, to, why):
    job, id, _ = stocked
    with pytest.raises(Refused, match=why):
        job.order(id, verdict="move_data", to={id: to})


def test_what_stands_there_already_or_is_gone_is_said_before_anything_is_done(stocked):
    job, id, path = stocked
    root = job.machine.root
    order = moved(job, id)
    place = root / target(INTO, path)[1:]
    place.mkdir(parents=True)
    with pytest.raises(Refused, match="something stands there already"):
        job.prepare(order)
    subprocess.run(["rm", "-r", root / INTO[1:]], check=True)
    with pytest.raises(Refused, match="is not there, or no folder"):
        job.prepare(order)
    (root / INTO[1:]).symlink_to("/tmp")
    with pytest.raises(Refused, match="is not there, or no folder"):
        job.prepare(order)
    assert not os.path.islink(root / path[1:])


def test_what_a_program_has_open_is_left(stocked):
    job, id, path = stocked
    root = job.machine.root
    run = job.prepare(moved(job, id))
    file = root / path[1:] / "large/plates.bin"
    holder = subprocess.Popen(
        [
            sys.executable,
            "-c",
            "import sys,time; f=open(sys.argv[1]); print(1, flush=True); time.sleep(60)",
            file,
        ],
        stdout=subprocess.PIPE,
    )
    try:
        holder.stdout.readline()
        run = job.carry(run)
        assert "held open by process" in next(iter(run.state.operations.values())).note
    finally:
        holder.kill()
        holder.wait()
    assert not os.path.islink(root / path[1:]) and list((root / INTO[1:]).iterdir()) == []


def test_a_forged_order_moves_nothing_that_is_not_its_data(stocked, tmp_path):
    job, id, path = stocked
    drawn = cli("--root", str(job.machine.folder), "order", "--move-data", f"{id}={INTO}")
    assert drawn.returncode == 0, drawn.stderr
    for change in (
        {"ticks": [path, "/etc/passwd"]},
        {"ticks": [path.rsplit("/", 1)[0]]},
        {"to": "/home"},
        {"to": "/srv/../etc"},
        {"verdict": "clear_cache"},
    ):
        order = json.loads(drawn.stdout)
        order["lines"][0] |= change
        file = tmp_path / "order.json"
        file.write_text(json.dumps(order))
        said = cli("--root", str(job.machine.folder), "carry-out", str(file))
        assert said.returncode == 2, (change, said.stderr)
    assert not os.path.islink(job.machine.root / path[1:])


def test_by_command_from_the_order_to_the_way_back(stocked, tmp_path):
    job, id, path = stocked
    root = ("--root", str(job.machine.folder))
    before = picture(job.machine.root)
    assert cli(*root, "order", "--move-data", f"{id}={INTO}", "-o", str(tmp_path / "o.json")).returncode == 0
    said = cli(*root, "rehearse", str(tmp_path / "o.json"))
    assert f"{path} → {target(INTO, path)}" in " ".join(said.stdout.split())
    assert cli(*root, "carry-out", str(tmp_path / "o.json")).returncode == 0
    assert os.path.islink(job.machine.root / path[1:])
    assert cli(*root, "put-back").returncode == 0
    assert changed(before, job.machine.root) == []
    assert cli(*root, "order", "--move-data", id).returncode == 2


CARRYING = [
    ("renameat2", 1),
    ("renameat2", 2),
    ("symlinkat", 1),
    ("symlinkat", 2),
    ("mkdirat", 2),
    ("mkdirat", 6),
]
CARRYING += [("fsync", 4), ("fsync", 8), ("fsync", 12), ("unlinkat", 3)]
RETURNING = [("renameat2", 1), ("fsync", 2), ("fsync", 6), ("fsync", 10), ("utimensat", 1)]
RETURNING += [("unlinkat", n) for n in (1, 3, 6, 10)]


@pytest.mark.parametrize(
    ("task", "call", "nth"),
    sampled([("carry_out", *p) for p in CARRYING], 6) + sampled([("put_back", *p) for p in RETURNING], 6),
)
def test_cut_off_anywhere_nothing_is_lost_and_it_is_finished(stocked, task, call, nth):
    job, id, path = stocked
    root = job.machine.root
    content = below(root, path)
    before = picture(root)
    run = job.prepare(moved(job, id))
    request = job.shop.orders.carry_request(run)
    if task == "put_back":
        job.carry(run)
        request = job.shop.shelves.request(task, job.row(), [])
    assert under_injection(request, call, nth).died
    if task == "carry_out":
        job.carry(run)
        assert os.readlink(root / path[1:]) == target(INTO, path)
        assert {k: v for k, v in below(root, target(INTO, path)).items()}.keys() == content.keys()
    assert job.put_back()["why"] == []
    assert changed(before, root) == []
    assert list((root / INTO[1:]).iterdir()) == []


@pytest.mark.parametrize(("call", "nth"), sampled(CARRYING, 6))
def test_cut_off_and_put_back_at_once_it_is_as_it_was(stocked, call, nth):
    job, id, _ = stocked
    root = job.machine.root
    before = picture(root)
    run = job.prepare(moved(job, id))
    assert under_injection(job.shop.orders.carry_request(run), call, nth).died
    assert job.put_back()["why"] == []
    assert changed(before, root) == []
