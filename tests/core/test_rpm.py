"""RPM packages, by the real rpm: erased with every file kept under a second name, and the same files and record again."""

from __future__ import annotations

import os
import subprocess
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, make_ours, picture
from kills import sampled, under_injection
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.registries.rpm.header import package_of

INKWELL, RULER = "rpm:inkwell.noarch", "rpm:ruler.noarch"
DATABASE = "/var/lib/rpm"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    work = tmp_path_factory.mktemp("rpms")
    root = made.bare_root(work / "root")
    made.add_rpms(root, work)
    return root


@pytest.fixture
def job(built, tmp_path):
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    return Job(SimpleNamespace(folder=make_ours(tmp_path / "root")))


def rpm(root, *words):
    return subprocess.run(
        ["rpm", "--root", root, "--dbpath", DATABASE, *words], capture_output=True, text=True
    )


def installed(root):
    return set(rpm(root, "-qa", "--qf", "%{NAME} %{INSTALLTIME}\n").stdout.splitlines())


def names(root):
    return {x.split()[0] for x in installed(root)}


def sheet(run):
    return [(o.event, o.note) for o in run.state.operations.values()]


def without_database(picture_):
    return {p: v for p, v in picture_.items() if not p.startswith(DATABASE)}


def same(before, root):
    return differences(without_database(before), without_database(picture(root)))


def test_it_goes_with_what_only_it_needs_is_clear_and_comes_back_as_it_was(job):
    root = job.machine.folder
    before, inode = picture(root), (root / "usr/share/inkwell/nibs.dat").stat().st_ino
    known, verified = installed(root), rpm(root, "-Va", "--nodeps").stdout
    order = job.order(INKWELL)
    assert order.line(INKWELL).comes_back == job.app(INKWELL).comes_back > 9000
    run = job.carry(job.prepare(order))
    assert set(sheet(run)) == {("done", "")} and names(root) == {"ruler"}
    assert not (root / "usr/lib/libinkwell.so.1").exists()
    cells = {c.family: c for c in job.clearance().lines[0].cells}
    assert {c.state for c in cells.values() if c.family != "processes"} <= {"clear", "not_part"}, cells
    assert cells["registry"].state == cells["files"].state == "clear"
    assert job.put_back()["why"] == []
    assert installed(root) == known, "the time of its installation, too"
    assert rpm(root, "-Va", "--nodeps").stdout == verified
    assert same(before, root) == [] and (root / "usr/share/inkwell/nibs.dat").stat().st_ino == inode


def test_what_is_emptied_is_gone(job):
    root = job.machine.folder
    job.carry(job.prepare(job.order(INKWELL)))
    job.empty()
    assert names(root) == {"ruler"} and not (root / ".swept-shelf").exists()


def test_what_another_package_needs_is_refused_in_rpms_words(job, tmp_path):
    root = job.machine.folder
    made.write(root, "usr/share/applications/penknife.desktop", made.launcher("Penknife", "penknife"))
    run = job.prepare(job.order(RULER))
    spec = made.write(
        tmp_path,
        "needs.spec",
        "Name: needs\nVersion: 1\nRelease: 1\nSummary: s\nLicense: none\nBuildArch: noarch\nRequires: ruler\n%description\nx\n%files\n",
    )
    made.tool("rpmbuild", "-bb", "--define", f"_topdir {tmp_path}/top", spec)
    made.tool(
        "rpm",
        "--root",
        root,
        "--dbpath",
        DATABASE,
        "--nodeps",
        "-i",
        next((tmp_path / "top/RPMS/noarch").glob("*.rpm")),
    )
    run = job.carry(run)
    assert "needed by" in " ".join(n for _, n in sheet(run)) and "ruler" in names(root)
    assert (root / "usr/bin/ruler").exists()


def test_nothing_newer_is_overwritten(job):
    root = job.machine.folder
    job.carry(job.prepare(job.order(INKWELL)))
    made.write(root, "usr/bin/inkwell", "somebody else's\n")
    why = job.put_back()["why"]
    assert "newer" in why[0]["why"] and (root / "usr/bin/inkwell").read_text() == "somebody else's\n"
    assert "inkwell" not in names(root)
    os.unlink(root / "usr/bin/inkwell")
    assert job.put_back()["why"] == [] and "inkwell" in names(root)


@pytest.mark.parametrize(
    ("call", "nth"),
    sampled([("linkat", 2), ("unlinkat", 1), ("unlink", 2), ("renameat2", 2), ("fdatasync", 1)], 4),
)
def test_killed_anywhere_inside_it_is_finished_and_comes_back(job, call, nth):
    root = job.machine.folder
    before, known = picture(root), installed(root)
    run = job.prepare(job.order(INKWELL))
    cut = under_injection(job.shop.orders.carry_request(run), call, nth)
    run = job.carry(open_run(run.folder))
    assert names(root) == {"ruler"} and {e for e, _ in sheet(run)} == {"done"}, (cut, sheet(run))
    under_injection(job.shop.shelves.request("put_back", job.row(), []), call, nth)
    assert job.put_back()["why"] == []
    assert installed(root) == known and not same(before, root), same(before, root)


def test_what_is_no_header_makes_no_package():
    for header in (b"", b"\0" * 7, b"\0\0\0\1\0\0\0\0", b"\xff" * 64):
        with pytest.raises(ValueError):
            package_of("x", header)


def test_what_its_scripts_take_away_is_on_the_shelf_before_and_comes_back(built, tmp_path):
    """Nothing of it stands in any list: what the program kept, and what was made for it."""
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    root = tmp_path / "root"
    script = (
        '%postun -p <lua>\nposix.unlink("/var/lib/quillpress/pages.db")\nposix.rmdir("/var/lib/quillpress")\n'
    )
    files = {"usr/bin/quillpress": "#!/bin/sh\n", "usr/share/quillpress/a.dat": "d" * 5000}
    made.install_rpms(root, made.build_rpm(tmp_path, "quillpress", files, script))
    made.write(root, "var/lib/quillpress/pages.db", "p" * 3000)
    job = Job(SimpleNamespace(folder=make_ours(root)))
    before = picture(root)
    order = job.order("rpm:quillpress.noarch", ticked=frozenset({"/var/lib/quillpress"}))
    run = job.carry(job.prepare(order))
    assert set(sheet(run)) == {("done", "")} and not (root / "var/lib/quillpress").exists()
    assert "quillpress" not in names(root) and job.put_back()["why"] == []
    assert not same(before, root), "\n".join(same(before, root))
