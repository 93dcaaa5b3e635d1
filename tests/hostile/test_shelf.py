"""Shelves that somebody made for us to obey: shown, never obeyed. And bad luck inside our own."""

from __future__ import annotations

import json
import os
import shutil
import stat
import subprocess
from pathlib import Path

import pytest

from helpers import Job, cli, differences, picture, run_forked, slot_manifest
from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.records import write_record
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.carry.shelf import find_shelves, shelf_for, slots_on_shelves
from swept_shelf.core.documents.errors import Refused, SweptShelfError
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.volumes import read_volumes

pytestmark = pytest.mark.skipif(
    os.geteuid() != 0, reason="what is forged here belongs to root or to somebody else"
)
RUN = "0b5fd6a8-93d6-4b0e-9d2a-1a52a1c0aaaa"


def forge(
    root: Path,
    path: str,
    content: bytes = b"root2::0:0::/:/bin/sh\n",
    where: str = ".swept-shelf",
    owner: int = 0,
    **more,
) -> Path:
    """A shelf as a carrier would leave it, but for its seal: `content` is to stand at `path`."""
    slot = root / where / RUN / "0001"
    slot.mkdir(parents=True)
    (slot / "item").write_bytes(content)
    (slot / "item").chmod(0o4755)
    status = (slot / "item").lstat()
    kind = {
        "type": "file",
        "inode": status.st_ino,
        "uid": 0,
        "gid": 0,
        "mode": 0o4755,
        "size": len(content),
        "file_system": "x",
        "mtime_ns": status.st_mtime_ns,
        "ctime_ns": status.st_ctime_ns,
    }
    above = path.rsplit("/", 1)[0] or "/"
    manifest = slot_manifest(
        1,
        "shelve",
        path=path,
        identity=kind,
        parent={"path": above, "before": 0, "attributes": {"mode": 0o777, "uid": 0, "gid": 0}},
        copied=False,
        surveyed_mode=0,
    )
    manifest |= {"run": RUN, **more}
    (slot / "manifest.json").write_text(json.dumps({"content": manifest, "seal": "0" * 64}))
    for place in (root / where, root / where / RUN, slot):
        place.chmod(0o700)
        os.chown(place, owner, owner)
    return slot


@pytest.mark.parametrize(
    ("where", "owner"),
    [
        (".swept-shelf", 0),
        (".swept-shelf", 1001),
        ("tmp/.swept-shelf", 1001),
        ("home/{}/.swept-shelf", 1001),
        ("home/{}/.local/share/swept-shelf/shelf", 1001),
    ],
)
def test_a_forged_shelf_is_never_obeyed(made_up, where, owner):
    root, person = made_up.root, made_up.truth["people"][0]
    forge(root, "/usr/bin/evil", where=where.format(person), owner=owner)
    before = picture(root, shelf=True)
    machine = open_machine(made_up.folder)
    for act in (put_back, empty_shelf):
        try:
            left = act(machine, RUN)
        except Refused:
            continue
        assert all("seal" in why for _, why in left)
    at = ["--root", str(made_up.folder)]
    refused = cli(*at, "put-back")
    assert refused.returncode == 2 and cli(*at, "empty").returncode == 2
    assert ("is another’s" in refused.stderr) == (owner != 0)
    said = cli(*at, "take-over", RUN, "--put-back")
    assert said.returncode == 2 and ("seal" in said.stderr or "no shelf here" in said.stderr)
    assert differences(before, picture(root, shelf=True), times=False) == []


def test_what_is_sealed_counts_only_where_it_was_sealed(job):
    """A slot of ours copied under another number or run, or changed in any member, is anybody's."""
    run = job.prepare(job.order(job.machine.id("map", "7")))
    job.carry(run)
    root = job.machine.root
    slots = sorted((root / ".swept-shelf" / run.id).glob("[0-9]*"))
    one = next(s for s in slots if (s / "item").exists())
    copied = one.with_name("0777")
    shutil.copytree(one, copied, symlinks=True)
    for place in (copied,):
        place.chmod(0o700)
    told = json.loads((copied / "manifest.json").read_text())
    (copied / "manifest.json").write_text(json.dumps(told | {"content": told["content"] | {"number": 777}}))
    for changed in ({"path": "/etc/passwd"}, {"line": "debian:other"}):
        told = json.loads((one / "manifest.json").read_text())
        (one / "manifest.json").write_text(json.dumps(told | {"content": told["content"] | changed}))
        found = {
            s.number: s for s in slots_on_shelves(job.shop.machine, read_volumes(job.shop.machine), run.id)
        }
        assert not found[int(one.name)].sealed and not found[777].sealed
        (one / "manifest.json").write_text(json.dumps(told))
    result = run_forked(
        job.shop.shelves.request("put_back", job.shop.proof.last_run(job.shop.latest()[0]), [])
    )
    assert result["left"] == 1 and "seal" in result["why"][0]["why"]


def test_a_run_that_the_ledger_lost_is_taken_over_by_a_command_that_says_first_what_it_would_do(job):
    before = picture(job.machine.root)
    run = job.prepare(job.order(job.machine.id("map", "7")))
    job.carry(run)
    subprocess.run(["rm", "-rf", str(job.machine.folder / "ledger")], check=True)
    carried = picture(job.machine.root, shelf=True)
    at = ["--root", str(job.machine.folder)]
    said = cli(*at, "put-back")
    assert said.returncode == 2 and "take-over" in said.stderr
    assert run.id in cli(*at, "take-over").stdout
    told = cli(*at, "take-over", run.id)
    assert told.returncode == 0 and "nothing was done" in told.stderr and "remove packages" in told.stdout
    assert differences(carried, picture(job.machine.root, shelf=True), times=False) == []
    assert cli(*at, "take-over", run.id, "--put-back").returncode == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []
    assert cli(*at, "take-over").returncode == 2


@pytest.mark.parametrize(
    "path",
    [
        "/etc/passwd",
        "/usr",
        "/",
        "/var/lib/dpkg/status",
        "/boot/vmlinuz",
        "/home",
        "relative",
        "/a/../etc/x",
        "/x\0y",
    ],
)
def test_even_a_sealed_manifest_may_not_name_a_protected_place(made_up, path):
    root = made_up.root
    slot = forge(root, path)
    machine = open_machine(made_up.folder)
    fd = os.open(slot, os.O_RDONLY)
    content = json.loads((slot / "manifest.json").read_text())["content"]
    write_record(machine, fd, "manifest.json", content)
    os.close(fd)
    before = picture(root)
    try:
        assert all(why for _, why in put_back(machine, RUN))
    except Refused:
        pass
    assert differences(before, picture(root), times=False) == []


def test_an_item_that_became_another_thing_on_the_shelf_stays_there(job):
    run = job.prepare(job.order(job.machine.id("map", "7")))
    job.carry(run)
    item = next(
        p
        for p in (job.machine.root / ".swept-shelf" / run.id).glob("[0-9]*/item")
        if p.is_file() and not p.is_symlink()
    )
    item.unlink()
    item.write_bytes(b"another")
    item.chmod(0o4755)
    result = job.put_back()
    # Where the inode is used again at once it is the very item by identity, and what it gained is what is noticed.
    assert result["left"] == 1 and any(word in result["why"][0]["why"] for word in ("another", "more rights"))
    assert item.exists()


@pytest.mark.parametrize(
    "make",
    [
        os.mkfifo,
        lambda p: p.write_bytes(b"[" * 200_000),
        lambda p: p.write_bytes(b"\xff\0"),
        lambda p: (p.touch(), os.truncate(p, 1 << 40)),
        lambda p: p.symlink_to("/dev/zero"),
        lambda p: p.mkdir(),
        lambda p: p.write_text('{"content": 1, "seal": 2}'),
    ],
    ids=["pipe", "nested", "bytes", "huge", "link", "folder", "numbers"],
)
def test_a_manifest_that_is_none_hangs_and_ends_nothing(made_up, make):
    slot = forge(made_up.root, "/usr/bin/evil")
    (slot / "manifest.json").unlink()
    make(slot / "manifest.json")
    said = cli("--root", str(made_up.folder), "put-back", timeout=60)
    assert said.returncode == 2 and "Traceback" not in said.stderr


def test_a_folder_of_another_is_never_used_as_a_shelf(made_up):
    place = made_up.root / ".swept-shelf"
    place.mkdir(mode=0o700)
    os.chown(place, 1001, 1001)
    elsewhere = "/root/.local/share/swept-shelf/shelf"
    assert (
        shelf_for(open_machine(made_up.folder), "/usr/bin/x", read_volumes(open_machine(made_up.folder)))
        == elsewhere
    )
    os.chown(place, 0, 0)
    place.chmod(0o755)
    assert find_shelves(open_machine(made_up.folder), read_volumes(open_machine(made_up.folder))) == []
    place.rmdir()
    place.symlink_to("/tmp")
    assert (
        shelf_for(open_machine(made_up.folder), "/usr/bin/x", read_volumes(open_machine(made_up.folder)))
        == elsewhere
    )
    (made_up.root / "root").rename(made_up.root / "no-home")
    with pytest.raises(OSError, match="another"):
        shelf_for(open_machine(made_up.folder), "/usr/bin/x", read_volumes(open_machine(made_up.folder)))


def test_what_is_mounted_inside_a_shelf_is_not_emptied(job):
    run = job.prepare(job.order(job.machine.id("map", "7")))
    job.carry(run)
    item = next(p for p in (job.machine.root / ".swept-shelf" / run.id).glob("[0-9]*/item") if p.is_dir())
    inner = item / "mounted"
    inner.mkdir()
    kept = job.machine.folder / "kept"
    kept.mkdir()
    (kept / "precious").write_text("kept")
    subprocess.run(
        ["mount", "--bind", str(kept), str(inner)], check=True
    )  # of the same device: no number tells it apart
    try:
        result = job.empty()
        assert (kept / "precious").read_text() == "kept"
        assert result["left"] == 1 and "mounted inside" in result["why"][0]["why"]
    finally:
        subprocess.run(["umount", str(inner)], check=True)
    assert job.empty()["left"] == 0


def test_folders_deeper_than_any_recursion_are_carried_put_back_and_emptied(made_up):
    name = made_up.id("map", "7")
    cache = made_up.root / "home" / made_up.truth["people"][0] / ".cache"
    top = next(p for p in cache.iterdir() if p.is_dir()) if cache.exists() else None
    job = Job(made_up)
    tick = next(b.path for b in job.app(name).belongings if b.ticked and b.kind == "cache" and b.is_path)
    fd = os.open(made_up.root / tick.lstrip("/"), os.O_RDONLY)
    for _ in range(1200):
        os.mkdir("d", dir_fd=fd)
        inner = os.open("d", os.O_RDONLY, dir_fd=fd)
        os.close(fd)
        fd = inner
    os.close(os.open("leaf", os.O_CREAT | os.O_WRONLY, dir_fd=fd))
    os.close(fd)
    assert top is None or top.exists()
    job.survey()
    run = job.carry(job.prepare(job.order(name)))
    assert {r.state for r in records_of(open_run(run.folder)) if r.where == tick} == {"done"}
    assert job.put_back()["left"] == 0 and (made_up.root / tick.lstrip("/")).exists()
    job.survey()
    job.carry(job.prepare(job.order(name)))
    assert job.empty()["left"] == 0 and not (made_up.root / ".swept-shelf").exists()


def test_the_rest_of_an_emptying_that_was_cut_off_is_offered_and_taken(job):
    run = job.prepare(job.order(job.machine.id("map", "7")))
    job.carry(run)
    folder = job.machine.root / ".swept-shelf" / run.id
    slot = next(s for s in sorted(folder.glob("[0-9]*")) if (s / "item").is_dir())
    slot.rename(slot.with_name(f"emptying-{slot.name}"))
    assert any(s.emptying for s in job.shop.shelves.waiting())
    assert cli("--root", str(job.machine.folder), "empty").returncode == 0
    assert not (job.machine.root / ".swept-shelf").exists()


def test_nothing_that_lies_beside_an_edited_file_is_opened(job):
    """Whatever a person puts there under a name that could be foreseen."""
    hero = job.machine.id("map", "7")
    bashrc = next(
        job.machine.root / r.path[1:] for r in job.app(hero).references if r.path.endswith("/.bashrc")
    )
    diary = job.machine.root / "root/diary"
    diary.write_text("dear diary")
    for name in (".bashrc.swept-shelf", "..bashrc.swept-shelf"):
        os.link(diary, bashrc.with_name(name))
    os.mkfifo(bashrc.with_name("..bashrc.part"))
    job.survey()
    run = job.carry(job.prepare(job.order(hero)))
    edited = [
        (r.state, r.note)
        for r in records_of(run)
        if r.where.startswith("/" + str(bashrc.relative_to(job.machine.root)))
    ]
    assert edited == [("done", "")]
    assert diary.read_text() == "dear diary" and diary.stat().st_mode & 0o777 == 0o644
    assert sorted(n for n in os.listdir(bashrc.parent) if "swept" in n or "part" in n) == [
        "..bashrc.part",
        "..bashrc.swept-shelf",
        ".bashrc.swept-shelf",
    ]


def test_a_key_that_another_could_have_put_there_is_refused(tmp_path, monkeypatch):
    from swept_shelf.core.machine import sealing

    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    key = tmp_path / "swept-shelf/seal.key"
    first = sealing.seal("x", content=1)
    assert stat.S_IMODE(key.stat().st_mode) == 0o600 and stat.S_IMODE(key.parent.stat().st_mode) == 0o700
    assert (
        sealing.is_sealed(first, "x", content=1)
        and not sealing.is_sealed(first, "x", content=2)
        and not sealing.is_sealed(first, "y", content=1)
    )
    for spoil in (
        lambda: key.chmod(0o644),
        lambda: os.chown(key, 1001, 1001),
        lambda: key.write_bytes(b"short"),
    ):
        key.unlink(missing_ok=True)
        key.write_bytes(os.urandom(32))
        key.chmod(0o600)
        spoil()
        with pytest.raises(SweptShelfError, match="own key"):
            sealing.seal("x")


def test_a_made_up_machine_is_ours_only_where_it_was_made(made_up, tmp_path):
    """Its description copied beside another root, or the root exchanged in place, runs nothing of ours there."""
    folder = made_up.folder
    assert open_machine(folder).chrootless
    other = tmp_path / "other"
    shutil.copytree(folder, other, symlinks=True)
    assert not open_machine(other).chrootless and open_machine(other / "root").description is None
    (folder / "root").rename(folder / "away")
    (folder / "root").mkdir()
    assert open_machine(folder).description is None
    assert stat.S_IMODE((folder / "machine.json").stat().st_mode) == 0o600


def test_a_disks_machine_json_names_no_ledger_no_clock_and_no_volumes(tmp_path):
    """Every disk has a folder called root."""
    disk = tmp_path / "disk"
    (disk / "root").mkdir(parents=True)
    (disk / "etc").mkdir()
    (disk / "machine.json").write_text(
        json.dumps(
            {
                "format": "swept-shelf/machine",
                "version": 1,
                "name": "x",
                "key": "demo-1",
                "clock": "1999-01-01T00:00:00+00:00",
                "ledger": "../../outside/ledger.sqlite",
                "seal": "0" * 64,
                "volumes": [{"id": "v", "mount": "/", "file_system": "x", "capacity": 1, "base": 0}],
            }
        )
    )
    machine = open_machine(disk)
    assert machine.root == str(disk) and machine.description is None and machine.now().year > 2000
    assert machine.unheeded == str(disk / "machine.json")
    said = cli("--root", str(disk), "--ledger", str(tmp_path / "l.sqlite"), "survey")
    assert "does not carry this person’s seal" in said.stderr and not (tmp_path / "outside").exists()
