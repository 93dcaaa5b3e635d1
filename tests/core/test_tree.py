"""The walk and what comes back: the truth in bytes, against du and against the definition."""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import tempfile
import time
from pathlib import Path
from unittest import mock

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine import commands, open_machine
from swept_shelf.core.tree import finding
from swept_shelf.core.tree.index import Index, IndexedPackage
from swept_shelf.core.tree.positions import Positions
from swept_shelf.core.tree.returning import Sized, returning_bytes
from swept_shelf.core.tree.rows import _FIELDS, COLUMNS, ROW, Rows, read
from swept_shelf.core.tree.walk import Tree, walk
from swept_shelf.core.tree.write_index import IndexWriter, inherited_owners

FIELDS = st.tuples(
    st.integers(0, 2**64 - 1),
    st.integers(0, 2**64 - 1),
    st.integers(1, 10**9) | st.integers(1, 1200),
    st.integers(0, 0o7777),
    st.integers(0, 2**32 - 1) | st.integers(0, 70_000),
    st.integers(0, 2**53) | st.integers(0, 500),
    st.integers(0, 2**62),
    *(st.integers(-(2**62), 2**62),) * 2,
    st.integers(0, 2**32 - 1) | st.integers(0, 120_000),
    st.sampled_from("dflps"),
    st.text(
        st.characters(exclude_characters="\0", exclude_categories=["Cs"]) | st.just("\udcff"), max_size=12
    ),
)


def printed_by_find(numbers, paths, size=100):
    with tempfile.TemporaryFile() as rows, tempfile.TemporaryFile() as names:
        os.pwrite(rows.fileno(), numbers, 0)
        os.pwrite(names.fileno(), paths, 0)
        return read(rows, names, size)


@given(st.lists(FIELDS, max_size=6), st.integers(1, 400))
def test_rows_are_read_as_printed_whatever_their_widths_and_however_they_come(rows, many):
    """Numbers that fit their width and numbers that do not, times before 1970, paths of any characters; in pieces of `many` bytes."""
    text = printed = b""
    for device, inode, links, mode, uid, blocks, size, mtime, ctime, gid, kind, path in rows:
        times = (f"{'-' if t < 0 else ''}{abs(t) // 10**9}.{abs(t) % 10**9:09}0" for t in (mtime, ctime))
        text += f" {device:7} {inode:15} {links:3}{mode:04o} {uid:7} {blocks:7} {size:15}".encode()
        text += "".join(f" {t:>23}" for t in times).encode() + f" {gid:5}{kind}\n".encode()
        printed += ("./" + path).encode("utf-8", "surrogateescape") + b"\0"
    got = printed_by_find(text, printed, many)
    assert got.paths() == ["/" + r[11] for r in rows]
    for i, r in enumerate(rows):
        assert [int(got.columns[n][i]) for n, *_ in _FIELDS] == list(r[:10])
        assert chr(got.columns["type"][i]) == r[10]


@given(st.lists(st.text(min_size=1, max_size=6), unique=True), st.text(max_size=6))
def test_the_table_of_positions_is_a_dictionary_of_its_paths(paths, other):
    table, plain = Positions(paths), {p: i for i, p in enumerate(paths)}
    assert (
        dict(table) == plain
        and len(table) == len(plain)
        and (other in table) == (other in plain)
        and table.get(other) == plain.get(other)
    )
    with contextlib.nullcontext() if other in plain else pytest.raises(KeyError):
        assert table[other] == plain[other]


@pytest.mark.parametrize(
    ("numbers", "paths", "reason"),
    [
        (b" 1 2 3", b"", "cut off"),
        (b"", b"./a path without its row\0", "cut off"),
        (b"nonsense\n", b"./a\0", "cannot be read"),
        (b"two\nlines\n".rjust(120), b"./a\0", "cannot be read"),
    ],
)
def test_a_broken_or_cut_off_listing_is_refused(numbers, paths, reason):
    with pytest.raises(CouldNotRead, match=reason):
        printed_by_find(numbers, paths)


@pytest.mark.parametrize("most", [0, 120 * 8])
def test_a_find_that_is_ended_before_its_end_is_no_walk(tmp_path, most):
    for i in range(100):
        (tmp_path / f"{i}").touch()
    machine = open_machine(tmp_path)
    with mock.patch.object(commands, "_FILE_SIZE", most), pytest.raises(CouldNotRead, match="cut off"):
        walk(machine)


@given(st.lists(st.text("a/.\n\udcff", min_size=1), unique=True), st.data())
def test_paths_asked_for_in_their_order_are_found_where_they_stand_and_those_gone_are_left_out(paths, data):
    rows = Rows({}, b"".join(p.encode("utf-8", "surrogateescape") + b"\0" for p in paths))
    wanted = [p for p in paths if data.draw(st.booleans())]
    gone = data.draw(st.lists(st.text("a/.\n", min_size=1).filter(lambda p: p not in paths), max_size=3))
    assert rows.positions_of([*gone[:1], *wanted, *gone[1:]]) == [(paths.index(p), p) for p in wanted]


def make(root):
    (root / "a/deep/er").mkdir(parents=True)
    (root / "a.b").mkdir()
    (root / "a/deep/er/big").write_bytes(b"x" * 300_000)
    (root / "a/hole").touch()
    os.truncate(root / "a/hole", 50_000_000)
    os.link(root / "a/deep/er/big", root / "a.b/second name")
    (root / "a" / "new\nline").write_text("x")
    os.symlink("/a/deep", root / "link")
    os.symlink("loop", root / "loop")
    with open(os.fsencode(root / "a") + b"/b\xffd", "wb") as handle:
        handle.write(b"1")
    return walk(open_machine(root))


def test_totals_equal_du_with_hard_links_once_and_holes_not_at_all(tmp_path):
    tree = make(tmp_path)
    for path in ("/", "/a", "/a/deep", "/a.b"):
        said = int(
            subprocess.run(
                ["du", "-s", "-B1", f"{tmp_path}{path}"], capture_output=True, text=True
            ).stdout.split()[0]
        )
        first = path != "/a.b"  # the second name of a file counts at its first
        assert tree.bytes_below(path) == said - (0 if first else 300_000 + 4096 - 300_000 % 4096), path


def test_every_path_is_counted_once_while_it_is_walked(tmp_path):
    for i in range(30):
        (tmp_path / f"usr/share/{i}/inner").mkdir(parents=True)
        (tmp_path / f"home/vera/{i}").mkdir(parents=True)
        (tmp_path / f"usr/share/{i}/inner/file").write_text("x")
    so_far: list[int] = []
    tree = walk(open_machine(tmp_path), told=so_far.append)
    assert so_far == sorted(so_far) and so_far[-1] == len(tree.paths)


def test_how_far_it_is_is_told_while_a_large_folder_is_still_being_walked(tmp_path, monkeypatch):
    for i in range(600):
        (tmp_path / "srv/sheets").mkdir(parents=True, exist_ok=True)
        (tmp_path / f"srv/sheets/{i}").touch()
    so_far: list[int] = []
    large: list[int] = []

    def read_once_told(rows, paths):
        until = time.monotonic() + 60
        if (size := os.fstat(rows.fileno()).st_size) > 600 * ROW:
            large.append(size)
        while size > 600 * ROW and not any(n > 600 for n in so_far):
            assert time.monotonic() < until, "nothing was told of a call that has not ended"
            time.sleep(0.01)
        return read(rows, paths)

    monkeypatch.setattr(finding, "read", read_once_told)
    walk(open_machine(tmp_path), told=so_far.append)
    assert large


def test_a_file_that_a_store_of_objects_has_too_counts_where_it_is_installed(tmp_path):
    top = tmp_path / "var/lib/flatpak"
    for place in ("repo/objects/0a", "runtime/org.x.Base"):
        (top / place).mkdir(parents=True)
    (top / "runtime/org.x.Base/lib").write_bytes(b"x" * 40_000)
    os.link(top / "runtime/org.x.Base/lib", top / "repo/objects/0a/1.file")
    tree = walk(open_machine(tmp_path))
    held = tree.bytes_below("/var/lib/flatpak/runtime"), tree.bytes_below("/var/lib/flatpak/repo")
    assert held[0] >= 40_000 > held[1]


def test_odd_names_loops_and_links_are_walked_without_being_followed(tmp_path):
    tree = make(tmp_path)
    assert "/a/new\nline" in tree and os.fsdecode(b"/a/b\xffd") in tree
    assert tree.kind("/loop") == "link" and "/link/er" not in tree
    assert tree.real("/link/er/big") == "/a/deep/er/big"
    assert tree.real("/a/../link/./er/big") == "/a/deep/er/big"
    assert tree.entry("/a/hole").bytes == 0


@given(
    st.lists(
        st.lists(st.sampled_from(["a", "a.b", "a b", "ä", "~"]), min_size=1, max_size=4),
        min_size=1,
        max_size=12,
    )
)
def test_a_folder_is_followed_by_everything_below_it(parts):
    paths = sorted({"/" + "/".join(p[: i + 1]) for p in parts for i in range(len(p))} | {"/"})
    paths.sort(key=lambda p: p.replace("/", "\0"))
    ones = np.ones(len(paths), dtype=np.int64)
    columns = {name: ones for name in COLUMNS} | {"type": ones * ord("d")}
    tree = Tree(columns, lambda: paths, None, [])
    for path in paths:
        inside = {p for p in paths if path == "/" or p == path or p.startswith(path + "/")}
        assert {tree.paths[i] for i in tree.slice(path)} == inside


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(1, 9)), max_size=12), st.data())
def test_a_file_with_several_names_comes_back_with_its_last(files, data):
    """Against a plain model: an inode returns its bytes exactly when no name of it is left."""
    sizes: dict[int, int] = {}
    names = []
    for i, (inode, size) in enumerate(files):
        names.append((f"/{i}", inode))
        sizes.setdefault(inode, size * 4096)
    links = {n: sum(1 for _, x in names if x == n) for n in sizes}
    gone = data.draw(st.sets(st.sampled_from(names))) if names else set()
    parts = [Sized(p, sizes[n], links[n], "fs", n, False) for p, n in gone]
    left = {n for p, n in names if (p, n) not in gone}
    assert returning_bytes(parts + parts) == sum(s for n, s in sizes.items() if n not in left)


def test_the_index_keeps_identities_owners_and_never_an_access_time(tmp_path):
    (tmp_path / "root").mkdir()
    tree = make(tmp_path / "root")
    packages = [IndexedPackage("p", "1", True, "installed", True, 4096, "why")]
    writer = IndexWriter(
        str(tmp_path), tree, lambda: packages, tuple, lambda: [("p", "/a/hole")], lambda: {"/a": "likely"}
    )
    for whose in (None, None, inherited_owners(tree, {"/a": "debian:x", "/a/deep/er": "debian:y"})):
        writer(whose)  # begun anew, where the process that had begun it was ended
    index = Index(tmp_path / "survey.index")
    assert {p: r.owner for p, r in index.below("/a/deep").items()} == {
        "/a/deep": "debian:x",
        "/a/deep/er": "debian:y",
        "/a/deep/er/big": "debian:y",
    }
    assert index.row("/a/hole").identity == tree.entry("/a/hole").identity and index.package_bytes() == {
        "p": ("1", 4096)
    }
    assert index.package_paths("p") == ["/a/hole"] and index.listing("/a/hole") == {"p"}
    assert set(index.below("/")) == set(tree.paths) and {c.path for c in index.children("/a")} == set(
        tree.children("/a")
    )
    assert all(index.row(p).identity == tree.entry(p).identity for p in tree.paths)
    assert b"atime" not in (tmp_path / "survey.index").read_bytes()
    assert inherited_owners(tree, {})[0] == ""


NAME = st.sampled_from(["a", "b", "c.d", "local", "share", "x-y"])
CHANGES = st.lists(
    st.tuples(
        st.sampled_from(["file", "folder", "remove", "rename"]), st.lists(NAME, min_size=1, max_size=3)
    ),
    max_size=6,
)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.lists(NAME, min_size=1, max_size=4), max_size=12), CHANGES)
def test_what_is_remembered_and_checked_by_folder_times_equals_a_whole_walk(places, changes):
    """Whatever came, went or was exchanged below the registry's own places, and anywhere else."""
    with tempfile.TemporaryDirectory() as top:
        root = Path(top) / "root"
        for folders in [["share"], *places]:
            target = root / "usr" / "/".join(folders)
            with contextlib.suppress(FileExistsError, NotADirectoryError):
                target.mkdir(parents=True)
                (target / "file").write_text("/".join(folders))
        (root / "home").mkdir()
        machine = open_machine(root)
        walk(machine).keep(top)
        for kind, folders in changes:
            target = root / "usr" / "/".join(folders)
            with contextlib.suppress(OSError):
                if kind == "file":
                    (target.parent / "new").write_text("x" * 9000)
                elif kind == "folder":
                    (target / "fresh").mkdir(parents=True)
                    (target / "fresh/deep").write_text("x")
                elif kind == "remove":
                    shutil.rmtree(target)
                else:
                    target.rename(target.parent / "renamed")
        again, whole = walk(machine, before=top), walk(machine)
        assert sorted(again.paths) == sorted(whole.paths)
        for path in whole.paths:
            assert again.entry(path) == whole.entry(path) and again.bytes_below(path) == whole.bytes_below(
                path
            ), path
            assert {again.paths[i] for i in again.slice(path)} == {
                whole.paths[i] for i in whole.slice(path)
            }, path


def test_what_is_remembered_is_not_trusted_where_it_is_broken_or_of_another_device(tmp_path):
    (tmp_path / "root/usr/share").mkdir(parents=True)
    (tmp_path / "root/usr/share/f").write_text("x")
    machine = open_machine(tmp_path / "root")
    tree = walk(machine)
    tree.keep(str(tmp_path))
    assert walk(machine, before=str(tmp_path)).reused == 3
    whole = (tmp_path / "walk.npz").read_bytes()
    for broken in (b"", b"PK nothing", whole[:200], whole[: len(whole) // 2]):
        (tmp_path / "walk.npz").write_bytes(broken)
        assert walk(machine, before=str(tmp_path)).reused == 0
    tree._columns["device"] += 1
    tree.keep(str(tmp_path))
    other = walk(machine, before=str(tmp_path))
    assert other.reused == 0 and sorted(other.paths) == sorted(tree.paths)
