"""Somebody swaps files while we work: by strace's injection a swap happens exactly between two of our calls."""

from __future__ import annotations

import os
import stat
import threading

import pytest

from helpers import ByHand
from swept_shelf.core.carry.exchange import digest, exchange
from swept_shelf.core.carry.parents import parent_of
from swept_shelf.core.carry.shelf import new_slot
from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.operations import EditLines
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine import beneath, open_machine
from swept_shelf.core.references.cutting import whole_line
from swept_shelf.core.registries.debian.change import restore_attributes
from swept_shelf.core.tree.walk import walk


@pytest.fixture
def ground(tmp_path):
    root = tmp_path / "root"
    (root / "d").mkdir(parents=True)
    (root / "d/f").write_text("one\ntwo\n")
    (root / "secret").write_text("root's own\n")
    (root / "secret").chmod(0o6755)
    return root, open_machine(root)


def edit(machine) -> tuple[EditLines, bytes, bytes]:
    target = walk(machine).entry("/d/f").identity
    old = machine.read_bytes("/d/f")
    return (
        EditLines("line", "/d/f", target, digest(old), "law", [whole_line(1, 0, 4)], 8, "x", "law", "v"),
        old,
        b"two\n",
    )


def carry(machine, op, old, new) -> None:
    work = ByHand(machine)
    manifest = work.manifest(
        1,
        op,
        path="/d/f",
        identity=to_plain(op.identity),
        surveyed_mtime_ns=op.identity.mtime_ns,
        surveyed_sha256=digest(old),
        old_sha256=digest(old),
        new_sha256=digest(new),
        kind=op.kind,
        cuts=to_plain(op)["cuts"],
        beside=".beside",
        parent=parent_of(machine, "/d/f", work.times),
    )
    with new_slot(machine, work.shelf("/d/f"), "a-run", 1, manifest) as slot:
        exchange(machine, op.path, op.identity, slot, old, new, ".beside")


def hard_link(root):
    os.unlink(root / "d/f")
    os.link(root / "secret", root / "d/f")


def same_text_more_rights(root):
    (root / "d/other").write_text("one\ntwo\n")
    (root / "d/other").chmod(0o4755)
    os.replace(root / "d/other", root / "d/f")


SWAPS = {
    "a hard link to a program of root's": hard_link,
    "the same text with its owner's rights": same_text_more_rights,
    "a link": lambda r: (os.unlink(r / "d/f"), os.symlink("../secret", r / "d/f")),
    "a pipe": lambda r: (os.unlink(r / "d/f"), os.mkfifo(r / "d/f")),
    "a folder": lambda r: (os.unlink(r / "d/f"), os.mkdir(r / "d/f")),
    "another text": lambda r: (r / "d/f").write_text("three\n"),
    "the folder above as a link": lambda r: (os.rename(r / "d", r / "e"), os.symlink("e", r / "d")),
}


@pytest.mark.parametrize("swap", SWAPS)
def test_a_file_swapped_after_it_was_read_is_left_and_nobody_gains_a_right(ground, swap):
    root, machine = ground
    op, old, new = edit(machine)
    before = (root / "secret").read_text(), (root / "secret").lstat().st_ino
    done = threading.Event()

    def act() -> None:
        with pytest.raises((Changed, OSError)):
            carry(machine, op, old, new)
        done.set()

    SWAPS[swap](root)
    thread = threading.Thread(target=act, daemon=True)
    thread.start()
    thread.join(20)
    assert done.is_set()
    assert ((root / "secret").read_text(), (root / "secret").lstat().st_ino) == before
    for path in root.rglob("*"):
        if path != root / "secret" and not path.is_symlink() and path.lstat().st_ino != before[1]:
            assert not path.lstat().st_mode & 0o6000 or "rights" in swap
    assert not (root / "d/.beside").exists()


@pytest.mark.parametrize("swap", ["before the exchange", "after the exchange"])
def test_a_file_swapped_around_the_exchange_is_put_back_at_once(ground, swap, monkeypatch):
    root, machine = ground
    op, old, new = edit(machine)
    real, count = beneath.rename, 0

    def rename(*args, **more):
        nonlocal count
        count += 1
        if count == (1 if swap == "before the exchange" else 2):
            os.unlink(root / "d" / ("f" if count == 1 else ".beside"))
            (root / "d" / ("f" if count == 1 else ".beside")).write_text("somebody's newer text\n")
        return real(*args, **more)

    monkeypatch.setattr(beneath, "rename", rename)
    with pytest.raises(Changed):
        carry(machine, op, old, new)
    texts = {p.read_text() for p in (root / "d").iterdir() if p.is_file()}
    assert "somebody's newer text\n" in texts


def test_restoring_owners_follows_no_link_that_was_put_on_the_way(ground):
    root, machine = ground
    (root / "var/app/sub").mkdir(parents=True)
    (root / "var/app/sub/secret").write_text("x")
    kept = {
        "/var/app/sub/secret": {
            "type": "file",
            "uid": 1234,
            "gid": 1234,
            "mode": 0o777,
            "mtime_ns": 0,
            "xattrs": {},
            "in": "/var/app/sub",
        }
    }
    (root / "var/app/sub/secret").unlink()
    (root / "var/app/sub").rmdir()
    (root / "var/app/sub").symlink_to("/")
    before = (root / "secret").lstat()
    restore_attributes(machine, kept)
    after = (root / "secret").lstat()
    assert (after.st_uid, after.st_mode, after.st_mtime_ns) == (
        before.st_uid,
        before.st_mode,
        before.st_mtime_ns,
    )
    (root / "var/app/sub").unlink()
    (root / "var/app/sub").mkdir()
    os.mkfifo(root / "var/app/sub/secret")
    restore_attributes(machine, kept)  # does not wait for whoever writes into it
    assert stat.S_ISFIFO((root / "var/app/sub/secret").lstat().st_mode)
