"""Rows of the registry's tables that name what goes: taken and given back by the registry's own tools."""

from __future__ import annotations

import subprocess
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job, add_rows, built, differences, picture, program_and_page, tool
from swept_shelf.core.carry.journal import read_journal
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import TakeRow
from swept_shelf.core.orders.plan import make_plan
from swept_shelf.core.orders.scope import Scope
from swept_shelf.core.registries.debian import rows

OTHER = "/usr/bin/other-viewer"


def row_ops(run):
    return [op for op in run.plan.operations if isinstance(op, TakeRow)]


def display(root: Path) -> str:
    asked = ["update-alternatives", "--root", str(root), "--query", "map-viewer"]
    return subprocess.run(asked, capture_output=True, text=True, check=False).stdout


@pytest.fixture
def job(tmp_path):
    machine = built(1).copy(tmp_path / "machine")
    add_rows(machine.root, *program_and_page(machine), OTHER)
    return Job(machine)


def test_what_names_it_goes_by_the_registrys_own_tools_and_comes_back_the_same(job):
    root, hero = job.machine.root, job.machine.id("map", "7")
    program = job.app(hero).executables[0]
    assert f"Value: {program}\n" in display(root)
    before = picture(root)
    run = job.prepare(job.order(hero))
    assert {(op.table, op.row[-1]) for op in row_ops(run)} == {
        ("alternatives", "/usr/share/man/man1/plain.1"),
        ("diversions", ":"),
        ("overrides", program),
    }
    job.carry(run)
    after = display(root)
    assert program not in after and f"Value: {OTHER}\n" in after and "Status: auto" in after
    assert (root / "etc/alternatives/map-viewer").readlink() == Path(OTHER)
    assert (root / "var/lib/dpkg/statoverride").read_text() == f"root root 4755 {OTHER}\n"
    assert (root / "var/lib/dpkg/diversions").read_text() == "/usr/bin/pen\n/usr/bin/pen.old\n:\n"
    assert job.clearance().findings == 0
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []
    assert "Status: manual" in display(root)


def test_a_row_that_changed_or_went_meanwhile_holds_nothing_up(job):
    root, hero = job.machine.root, job.machine.id("map", "7")
    run = job.prepare(job.order(hero))
    program = job.app(hero).executables[0]
    (root / "var/lib/dpkg/statoverride").write_text(f"root root 0700 {program}\n")
    tool("update-alternatives", root, "--remove", "map-viewer", program)
    job.carry(run)
    notes = {e.note for e in read_journal(run.journal_path) if e.event in ("skipped", "done") and e.note}
    assert {"says something else than was surveyed", "was gone already"} <= notes
    assert program in (root / "var/lib/dpkg/statoverride").read_text()
    assert not (root / program[1:]).exists()


def test_no_row_is_taken_that_its_tool_could_not_have_written(job):
    """A table that somebody else wrote: options, paths that lead elsewhere, a name with a blank."""
    root, hero = job.machine.root, job.machine.id("map", "7")
    program, page = program_and_page(job.machine)
    folder = root / "var/lib/dpkg/alternatives"
    (folder / "evil").write_text(f"auto\n/usr/bin/../../etc/x\n\n{program}\n5\n\n")
    (folder / "-f").write_text(f"auto\n/usr/bin/x\n\n{program}\n5\n\n")
    (folder / "odd").write_text(f"auto\n/usr/bin/x\n\n{program}\n--force\n\n")
    (folder / "cut").write_text("nothing\nof it\n")
    (root / "var/lib/dpkg/statoverride").write_text(f"--remove root 0755 {program}\n")
    job = Job(job.machine)
    run = job.prepare(job.order(hero))
    assert {op.row[0] for op in row_ops(run)} <= {"map-viewer", program, page}
    left = {x.path.rsplit("/", 1)[1] for x in run.plan.left_alone if "its registry’s own tool" in x.why}
    assert left == {"evil", "-f", "odd", "statoverride"}
    for table, row in (
        ("alternatives", ["-x", "/a", "/b", "1"]),
        ("alternatives", ["x", "/a", "/b", "1", "y", "/c"]),
        ("diversions", ["/a", "b", ":"]),
        ("overrides", ["a", "b", "08", "/x"]),
        ("nothing", ["a"]),
    ):
        assert not rows.is_row(table, row)
    with pytest.raises(CouldNotRead):
        rows.read_row(job.shop.machine, "overrides", program)


NAMES = st.from_regex(r"[a-z][a-z0-9-]{0,6}", fullmatch=True)
PATHS = NAMES.map(lambda n: f"/opt/{n}")


@given(
    st.sampled_from(["auto", "manual"]),
    st.dictionaries(NAMES, PATHS, max_size=3),
    st.dictionaries(
        PATHS, st.tuples(st.integers(-9, 99), st.lists(st.one_of(st.just(""), PATHS), min_size=3, max_size=3))
    ),
)
def test_a_table_of_choices_reads_as_it_was_written(status, slaves, choices):
    lines = [status, "/usr/bin/x", *(t for pair in slaves.items() for t in pair), ""]
    for path, (priority, paths) in choices.items():
        lines += [path, str(priority), *paths[: len(slaves)]]
    read = rows.read_alternative("\n".join([*lines, "", ""]))
    assert read.slaves == slaves and list(read.choices) == list(choices)
    for path, choice in read.choices.items():
        assert (choice.priority, choice.paths) == (str(choices[path][0]), choices[path][1][: len(slaves)])
        assert lines[choice.line - 1] == path


def test_a_file_of_a_package_that_stays_never_goes_with_a_folder_it_was_put_into(tmp_path):
    """A person's diversion put another package's program below an application's folder: it goes home first, or stays."""
    machine = built(1).copy(tmp_path / "machine")
    hero = Job(machine).app(machine.id("map", "7"))
    root, program = machine.root, hero.executables[0]
    folder = root / "opt/plotter/bin"
    folder.mkdir(parents=True)
    (folder / "plotter").write_text("#!/bin/sh\necho plot\n")
    (folder / "plotter").chmod(0o755)
    (root / "usr/local/share/applications").mkdir(parents=True, exist_ok=True)
    (root / "usr/local/share/applications/plotter.desktop").write_text(
        "[Desktop Entry]\nType=Application\nName=Plotter\nExec=/opt/plotter/bin/plotter\n"
    )
    tool("dpkg-divert", root, "--local", "--rename", "--divert", "/opt/plotter/bin/kept", "--add", program)
    before = picture(root)
    job = Job(machine)
    run = job.prepare(job.order("files:/opt/plotter"))
    assert [op.do for op in run.plan.operations] == ["take_row", "shelve", "shelve"]
    job.carry(run)
    assert (root / program[1:]).exists() and not folder.exists()
    assert job.clearance().findings == 0
    assert job.put_back()["why"] == [] and differences(before, picture(root)) == []
    assert (folder / "kept").exists() and not (root / program[1:]).exists()
    order = job.order("files:/opt/plotter")
    stays = replace(order, lines=[replace(line, references=[]) for line in order.lines])
    plan = make_plan(stays, Scope(job.surveyed.survey, "", job.surveyed.index), job.shop.machine)
    paths = {op.path for op in plan.operations}
    assert "/opt/plotter/bin/plotter" in paths
    assert not paths & {"/opt/plotter", "/opt/plotter/bin", "/opt/plotter/bin/kept"}
