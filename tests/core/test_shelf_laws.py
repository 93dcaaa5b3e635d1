"""Laws of the holding shelf, on any tree: what is moved comes back exactly, what is edited too, whatever was there."""

from __future__ import annotations

import hashlib
import os
import shutil
from pathlib import Path

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from helpers import ByHand, differences, picture
from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.ops import module_of
from swept_shelf.core.carry.ops import shelve as shelve_op
from swept_shelf.core.carry.parents import parent_of
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.shelf import find_shelves, new_slot, slots_on_shelves
from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.documents.operations import Cut, EditLines, Shelve
from swept_shelf.core.documents.paths import outermost
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.references.cutting import line_spans, whole_line, without
from swept_shelf.core.tree.index import Index
from swept_shelf.core.tree.walk import walk
from swept_shelf.core.tree.write_index import write_index

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


def shelve(machine, root: Path, paths: list[str]) -> None:
    seen = walk(machine)
    write_index(str(root.parent), seen)
    work = ByHand(machine, Index(root.parent / "survey.index"))
    for number, path in enumerate(paths, 1):
        op = Shelve("line", path, seen.entry(path).identity, 0, 1, "v", False, "x", "law")
        assert module_of(op).do(op, number, work) == {}


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


def edit(
    machine,
    number: int,
    cuts: list[Cut],
    path: str = "/d/f",
    surveyed: str | None = None,
    line: str = "line",
    identity=None,
) -> None:
    data = machine.read_bytes(path) if surveyed is None else surveyed.encode()
    identity = identity or walk(machine).entry(path).identity
    op = EditLines(
        line, path, identity, hashlib.sha256(data).hexdigest(), "law", cuts, len(data), "x", "law", "v"
    )
    module_of(op).do(op, number, ByHand(machine))


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(LINES, st.data())
def test_an_edited_file_keeps_every_other_byte_and_comes_back(ground, lines, data):
    root, machine = ground([(["d"], "folder", 0o755, 5), (["d", "f"], "file", 0o640, 10**18)])
    target = root / "d/f"
    target.write_text("\n".join(lines) + data.draw(st.sampled_from(["", "\n"])))
    before = picture(root)
    number = data.draw(st.integers(0, len(lines) - 1))
    start, end = line_spans(target.read_text())[number]
    assume(end > start)
    edit(machine, 1, [whole_line(number + 1, start, end)])
    kept = [x for i, x in enumerate(lines) if i != number]
    assert target.read_text().split("\n")[: len(kept)] == kept
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
    op = Shelve("line", "/d/f", other, 0, 1, "v", False, "x", "law")
    work = ByHand(machine)
    manifest = work.manifest(
        1,
        op,
        path="/d/f",
        identity=to_plain(identity),
        copied=False,
        surveyed_mode=0,
        parent=parent_of(machine, "/d/f", work.times),
    )
    with (
        new_slot(machine, work.shelf("/d/f"), RUN, 1, manifest) as slot,
        pytest.raises(Changed, match="swapped"),
    ):
        shelve_op.to_slot(machine, "/d/f", slot, other)
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


ITEMS = st.lists(st.sampled_from("abcde"), min_size=1, max_size=5, unique=True)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(st.lists(ITEMS, min_size=1, max_size=5), st.data())
def test_several_lines_edit_one_file_and_each_comes_back_alone_in_any_order(ground, rows, data):
    """Whatever its owner adds between; at the end content, owner, mode, attributes and every time are the first ones."""
    root, machine = ground([(["d"], "folder", 0o755, 5), (["d", "f"], "file", 0o640, 10**18)])
    target = root / "d/f"
    text = "".join(f"k{i}={';'.join(r)};\n" for i, r in enumerate(rows)) + "last\n"
    target.write_text(text)
    os.utime(target, ns=(1, 10**18))
    os.utime(root / "d", ns=(1, 10**17))
    before = picture(root)
    cuts = {name: list(cuts_of(text, name)) for name in "abcde"}
    gone = data.draw(st.permutations([n for n in "abcde" if cuts[n]]))
    identity = walk(machine).entry("/d/f").identity
    for number, name in enumerate(gone, 1):
        edit(machine, number, cuts[name], surveyed=text, line=name, identity=identity)
    assert target.read_text() == without(text, [c for n in gone for c in cuts[n]])
    written = data.draw(st.booleans())
    if written:
        target.write_text(target.read_text() + "its owner's\n")
    left = set(gone)
    for name in data.draw(st.permutations(gone)):
        assert put_back(machine, RUN, [name]) == []
        left.discard(name)
        wanted = without(text, [c for n in left for c in cuts[n]])
        assert target.read_text() == wanted + ("its owner's\n" if written else "")
    assert differences(before, picture(root, shelf=True), times=not written) == [] or written
    assert target.stat().st_mode == before["/d/f"][0] and find_shelves(machine, read_volumes(machine)) == []


def cuts_of(text: str, name: str):
    for n, (start, end) in enumerate(line_spans(text), 1):
        key, sign, value = text[start:end].rstrip("\n").partition("=")
        at = start + len(key) + 1
        for item in value.split(";") if sign else ():
            if item == name:
                yield Cut(n, at, at + len(item), start, end, value.count(";"), ";")
            at += len(item) + 1
