"""Laws of the holding shelf, on any tree: what is moved comes back exactly, what is edited too, whatever was there."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from helpers import differences, picture, slot_manifest
from swept_shelf.core.carry import edits, moves
from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.shelf import find_shelves, make_folder, new_slot, shelf_for, slots_on_shelves
from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.operations import EditLines, LineEdit, Shelve
from swept_shelf.core.documents.paths import outermost
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.tree.index import Index, write_index
from swept_shelf.core.tree.walk import walk

RUN = "a-run"
NAMES = st.sampled_from(["a", "b", "c d", "ä", "new\nline", "-x", ".hidden", "item", "manifest.json"])
KINDS = st.sampled_from(["file", "folder", "link", "dangling", "empty folder", "pipe"])
trees = st.lists(
    st.tuples(st.lists(NAMES, min_size=1, max_size=4), KINDS, st.integers(0, 0o777), st.integers(0, 2**60)),
    min_size=1,
    max_size=10,
)


def plant(root: Path, tree) -> None:
    """Make a tree; later entries that do not fit are left out."""
    for parts, kind, mode, when in tree:
        path = root.joinpath(*parts)
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            if kind == "file":
                with path.open("xb") as handle:  # never into a pipe or through a link made before
                    handle.write(bytes(parts[-1], "utf-8") * 50)
                os.setxattr(path, "user.law", b"kept")
                path.chmod(mode | 0o400)
            elif "folder" in kind:
                path.mkdir()
                path.chmod(mode | 0o700)
            elif kind == "pipe":
                os.mkfifo(path)
            else:
                path.symlink_to("/etc" if kind == "link" else "nowhere")
            os.utime(path, ns=(when, when), follow_symlinks=False)
        except (FileExistsError, NotADirectoryError, IsADirectoryError):
            continue


@pytest.fixture
def ground(tmp_path):
    def fresh(tree):
        root = tmp_path / "root"
        shutil.rmtree(root, ignore_errors=True)
        root.mkdir()
        plant(root, tree)
        return root, open_machine(root)

    return fresh


def made_shelf(machine, path: str) -> str:
    shelf = shelf_for(machine, path, read_volumes(machine))
    make_folder(machine, shelf)
    return shelf


def shelve(machine, root: Path, paths: list[str]) -> None:
    seen = walk(machine)
    write_index(str(root.parent), seen, [""] * len(seen.paths), [], [], [])
    index = Index(root.parent / "survey.index")
    for number, path in enumerate(paths, 1):
        entry = seen.entry(path)
        op = Shelve("line", path, entry.identity, 0, 1, "v", False, "x", "law")
        moves.check_unchanged(machine, path, entry.identity, False)
        if entry.type == "folder":
            assert moves.check_inside(machine, op, index, frozenset()) == 0
        manifest = slot_manifest(
            number,
            "shelve",
            path=path,
            identity=to_plain(entry.identity),
            parent=moves.parent_times(machine, path),
        )
        with new_slot(machine, made_shelf(machine, path), RUN, number, manifest) as slot:
            moves.move_to_slot(machine, path, slot, entry.identity)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(trees, st.data())
def test_whatever_is_moved_comes_back_exactly(ground, tree, data):
    root, machine = ground(tree)
    before = picture(root)
    paths = sorted(p for p in before if p != "/")
    chosen = outermost(data.draw(st.sets(st.sampled_from(paths), max_size=4)) if paths else [])
    shelve(machine, root, chosen)
    gone = picture(root)
    assert not any(p == c or p.startswith(c + "/") for p in gone for c in chosen)
    assert all(gone[p][4:] == before[p][4:] for p in gone)
    assert len(slots_on_shelves(machine, read_volumes(machine))) == len(chosen)
    if chosen:
        assert put_back(machine, RUN) == []
    assert differences(before, picture(root, shelf=True)) == []
    assert find_shelves(machine, read_volumes(machine)) == []


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(trees, st.data())
def test_emptying_takes_what_was_moved_and_nothing_else(ground, tree, data):
    root, machine = ground(tree)
    paths = sorted(p for p in picture(root) if p != "/")
    chosen = outermost(data.draw(st.sets(st.sampled_from(paths), min_size=1, max_size=3)))
    shelve(machine, root, chosen)
    gone = picture(root)
    assert empty_shelf(machine, RUN) == []
    assert differences(gone, picture(root, shelf=True), times=False) == []


LINES = st.lists(st.text(alphabet="xyz #=", max_size=5), min_size=2, max_size=8)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(LINES, st.data())
def test_an_edited_file_keeps_every_other_byte_and_comes_back(ground, lines, data):
    root, machine = ground([(["d"], "folder", 0o755, 5), (["d", "f"], "file", 0o640, 10**18)])
    target = root / "d/f"
    target.write_text("\n".join(lines) + data.draw(st.sampled_from(["", "\n"])))
    before = picture(root)
    number = data.draw(st.integers(0, len(lines) - 1))
    new = data.draw(st.sampled_from([None, "new"]))
    identity = walk(machine).entry("/d/f").identity
    op = EditLines(
        "line",
        "/d/f",
        identity,
        edits.digest(target.read_bytes()),
        [LineEdit(number + 1, lines[number], new)],
        "x",
        "law",
        "v",
    )
    old, content = edits.new_content(machine, op, frozenset())
    manifest = slot_manifest(
        1,
        "edit_lines",
        path="/d/f",
        identity=to_plain(identity),
        old_sha256=edits.digest(old),
        new_sha256=edits.digest(content),
        beside=".f.beside",
        parent=moves.parent_times(machine, "/d/f"),
    )
    with new_slot(machine, made_shelf(machine, "/d/f"), RUN, 1, manifest) as slot:
        edits.edit_to_slot(machine, op, slot, old, content, ".f.beside")
    kept = [x for i, x in enumerate(lines) if i != number]
    left = target.read_text().split("\n")
    assert [x for x in left if x != "new"][: len(kept)] == kept
    assert (target.stat().st_mode, os.getxattr(target, "user.law")) == (before["/d/f"][0], b"kept")
    assert sorted(os.listdir(root / "d")) == ["f"]
    assert put_back(machine, RUN) == []
    assert differences(before, picture(root, shelf=True)) == []


def test_a_path_swapped_at_the_last_moment_goes_back_at_once(ground):
    root, machine = ground([(["d", "f"], "file", 0o644, 1)])
    identity = walk(machine).entry("/d/f").identity
    other = type(identity)(
        **{n: getattr(identity, n) for n in identity.__slots__} | {"inode": identity.inode + 1}
    )
    manifest = slot_manifest(
        1, "shelve", path="/d/f", identity=to_plain(identity), parent=moves.parent_times(machine, "/d/f")
    )
    with (
        new_slot(machine, made_shelf(machine, "/d/f"), RUN, 1, manifest) as slot,
        pytest.raises(Changed, match="swapped"),
    ):
        moves.move_to_slot(machine, "/d/f", slot, other)
    assert (root / "d/f").exists()


def test_folder_times_are_left_to_whoever_wrote_there_after_us(ground):
    root, machine = ground([(["d", "f"], "file", 0o644, 1), (["d", "g"], "file", 0o644, 1)])
    shelve(machine, root, ["/d/f"])
    (root / "d/new").write_text("somebody's")
    theirs = (root / "d").stat().st_mtime_ns
    put_back(machine, RUN)
    assert (root / "d").stat().st_mtime_ns >= theirs


def test_a_folder_that_went_meanwhile_is_made_again_with_its_mode(ground):
    root, machine = ground([(["d"], "folder", 0o750, 1), (["d", "f"], "file", 0o644, 1)])
    shelve(machine, root, ["/d/f"])
    (root / "d").rmdir()
    assert put_back(machine, RUN) == []
    assert (root / "d/f").exists() and (root / "d").stat().st_mode & 0o777 == 0o750


def test_only_the_same_bytes_are_exchanged_for_what_stands_there(ground):
    root, machine = ground(
        [(["d", "f"], "file", 0o644, 1), (["d", "g"], "file", 0o644, 1), (["d", "h"], "link", 0, 1)]
    )
    before = picture(root)
    shelve(machine, root, ["/d/f", "/d/g", "/d/h"])
    (root / "d/f").write_bytes(b"f" * 50)
    (root / "d/g").write_bytes(b"G" * 50)
    (root / "d/h").symlink_to("/etc")
    left = put_back(machine, RUN)
    assert [s.manifest["path"] for s, _ in left] == ["/d/g"]
    after = picture(root)
    assert (
        after["/d/f"] == before["/d/f"]
        and after["/d/h"][4] == "/etc"
        and (root / "d/g").read_bytes() == b"G" * 50
    )
