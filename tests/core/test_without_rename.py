"""Where a rename is impossible: copied, compared, then removed, both ways; killed at every kind of step of it."""

from __future__ import annotations

import contextlib
import os
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from helpers import ByHand, differences, forked, picture
from kills import strace
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.documents.operations import Shelve
from swept_shelf.core.machine import open_machine
from swept_shelf.core.tree.index import Index
from swept_shelf.core.tree.walk import walk
from swept_shelf.core.tree.write_index import write_index

pytestmark = pytest.mark.skipif(os.geteuid() != 0, reason="mounts need root")


def with_a_folder(below: Path) -> None:
    """Links, hard links, holes, attributes, times."""
    (below / "d/deep/er").mkdir(parents=True)
    (below / "d/a").write_bytes(b"a" * 5000)
    os.link(below / "d/a", below / "d/deep/b")
    (below / "d/deep/er/link").symlink_to("/etc")
    with open(below / "d/hole", "wb") as hole:
        hole.truncate(1 << 20)
    os.setxattr(below / "d/a", "user.law", b"kept")
    os.utime(below / "d/deep", ns=(1, 10**18))


def look(root: Path, index: Path) -> None:
    index.mkdir(exist_ok=True)
    seen = walk(open_machine(root))
    write_index(str(index), seen)


def shelve(root: Path, index: Path, path: str) -> None:
    machine = open_machine(root)
    work = ByHand(machine, Index(index / "survey.index"))
    row = work.run.index.row(path)
    op = Shelve("line", path, row.identity, 0, 1, "v", False, "x", "law")
    module_of(op).do(op, 1, work)


@contextlib.contextmanager
def mounted(*options: str):
    if subprocess.run(["mount", *options], capture_output=True).returncode:
        pytest.skip("nothing of the kind can be mounted here")
    try:
        yield
    finally:
        subprocess.run(["umount", "-l", options[-1]], check=True)


@pytest.fixture
def overlay(tmp_path):
    lower, upper, work, root = (tmp_path / n for n in ("lower", "upper", "work", "root"))
    for place in (lower, upper, work, root):
        place.mkdir()
    with_a_folder(lower)
    with mounted(
        "-t", "overlay", "overlay", "-o", f"lowerdir={lower},upperdir={upper},workdir={work}", str(root)
    ):
        look(root, tmp_path / "index")
        yield root


def died_at(at: str, act: Callable[[], object]) -> bool:
    """Whether it died at that call."""
    call, nth = at.split()
    return (
        forked(lambda: 0 if act() is None else 1, tracer=strace(call, f"signal=SIGKILL:when={nth}"))[0] == -9
    )


def test_a_folder_of_an_overlays_lower_layer_comes_back_whole(overlay, tmp_path):
    before = picture(overlay)
    shelve(overlay, tmp_path / "index", "/d")
    assert not (overlay / "d").exists()
    assert put_back(open_machine(overlay), "a-run") == []
    assert differences(before, picture(overlay, shelf=True)) == []
    assert (overlay / "d/a").stat().st_ino == (overlay / "d/deep/b").stat().st_ino


@pytest.mark.parametrize(
    "at",
    [
        "renameat2 2",
        "mkdirat 5",
        "linkat 1",
        "fsetxattr 1",
        "pwrite64 1",
        "unlinkat 2",
        "unlinkat 4",
        "unlinkat 6",
    ],
)
def test_cut_off_while_it_is_copied_or_its_source_removed_it_comes_back_whole(overlay, tmp_path, at):
    before = picture(overlay)
    assert died_at(at, lambda: shelve(overlay, tmp_path / "index", "/d"))
    assert put_back(open_machine(overlay), "a-run", journal_path=tmp_path / "journal.jsonl") == []
    assert differences(before, picture(overlay, shelf=True)) == []


@pytest.mark.parametrize(
    "at", ["renameat2 2", "renameat2 3", "renameat2 4", "mkdirat 2", "pwrite64 1", "unlinkat 2", "unlinkat 5"]
)
def test_put_back_across_a_mount_that_came_meanwhile_leaves_one_whole_thing(tmp_path, at):
    """What stood in a folder that another disk is mounted over by now: that folder gets the thing, and nothing else."""
    root, disk = tmp_path / "root", tmp_path / "disk"
    for place in (root / "srv", disk):
        place.mkdir(parents=True)
    with_a_folder(root / "srv")
    look(root, tmp_path / "index")
    before = picture(root / "srv/d")
    shelve(root, tmp_path / "index", "/srv/d")
    with mounted("--bind", str(disk), str(root / "srv")):
        assert died_at(at, lambda: put_back(open_machine(root), "a-run"))
        assert put_back(open_machine(root), "a-run", journal_path=tmp_path / "journal.jsonl") == []
        assert [p.name for p in disk.iterdir()] == ["d"]
        assert differences(before, picture(disk / "d")) == []
        assert (disk / "d/a").stat().st_ino == (disk / "d/deep/b").stat().st_ino
    assert sorted(p.name for p in root.iterdir()) == ["srv"]


@pytest.mark.parametrize("nth", range(1, 6))
def test_a_rename_that_is_refused_across_file_systems_is_a_copy(tmp_path, nth):
    """Whatever the kernel calls another file system: the next way is taken, or it is left where it is with the reason."""
    root = tmp_path / "root"
    with_a_folder(root)
    look(root, tmp_path / "index")
    before = picture(root)

    def act() -> int:
        shelve(root, tmp_path / "index", "/d")
        return 0

    status, _, said = forked(act, tracer=strace("renameat2", f"error=EXDEV:when={nth}"))
    assert status == 0 or b"cross-device" in said.lower(), said
    assert (root / "d").exists() == (status != 0)
    assert put_back(open_machine(root), "a-run", journal_path=tmp_path / "journal.jsonl") == []
    assert differences(before, picture(root, shelf=True)) == []
