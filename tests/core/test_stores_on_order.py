"""Shared stores on an order: what they hold goes path by path and comes back; folders that their owners expect stay."""

from __future__ import annotations

import json

import pytest

from helpers import Job, cli, differences, picture


@pytest.fixture
def stocked(made_up):
    """A store of each kind, for one person or for all."""
    root = made_up.root
    home = next(p for p in (root / "home").iterdir() if (p / ".config").is_dir())
    for path, size in (
        ("var/cache/apt/archives/one_1_all.deb", 9000),
        ("var/cache/apt/archives/partial/two_2_all.deb", 5000),
        ("var/cache/apt/archives/lock", 0),
        ("var/crash/_usr_bin_x.0.crash", 4000),
    ):
        (root / path).parent.mkdir(parents=True, exist_ok=True)
        (root / path).write_bytes(b"x" * size)
    for path in (
        ".cache/thumbnails/large/a.png",
        ".cache/pip/http/a/b",
        ".local/share/Trash/files/novel.odt",
        "Downloads/form.pdf",
    ):
        (home / path).parent.mkdir(parents=True, exist_ok=True)
        (home / path).write_bytes(b"x" * 6000)
    info = home / ".local/share/Trash/info/novel.odt.trashinfo"
    info.parent.mkdir(exist_ok=True)
    info.write_text("[Trash Info]\nPath=/novel.odt\nDeletionDate=2026-01-01T00:00:00\n")
    return Job(made_up), home


def stores(job):
    return {s.id: s for s in job.surveyed.survey.shared_stores}


def test_what_is_fetched_or_made_again_goes_and_the_folders_stay(stocked):
    job, home = stocked
    root, person = job.machine.root, home.name
    ids = [
        "store:package_downloads",
        "store:crash_records",
        f"store:thumbnails:{person}",
        f"store:tool_downloads:{person}/pip",
    ]
    before = picture(root)
    order = job.order(*ids)
    assert order.total == sum(stores(job)[i].bytes for i in ids) - _folders(job, ids) > 0
    run = job.carry(job.prepare(order))
    assert {o.event for o in run.state.operations.values()} == {"done"}
    assert sorted(p.name for p in (root / "var/cache/apt/archives").rglob("*")) == ["lock", "partial"]
    assert (home / ".cache/thumbnails").is_dir() and not list((home / ".cache/thumbnails").iterdir())
    assert {c.state for line in job.clearance().lines for c in line.cells} == {"clear", "not_part"}
    job.put_back()
    assert differences(before, picture(root)) == []


def _folders(job, ids):
    """Bytes of what stays: the stores' own folders, and what is no part of them."""
    return sum(stores(job)[i].bytes - sum(b.bytes for b in stores(job)[i].belongings) for i in ids)


def test_what_somebody_threw_away_is_asked_about(stocked):
    job, home = stocked
    id = f"store:trash:{home.name}"
    order = job.order(id, answers={f"personal:{id}": "they_stay"})
    assert order.line(id).ticks == []
    order = job.order(id, answers={f"personal:{id}": "go_too"})
    assert any(t.endswith("/Trash/files/novel.odt") for t in order.line(id).ticks)
    job.carry(job.prepare(order))
    assert (
        not list((home / ".local/share/Trash/files").iterdir())
        and (home / ".local/share/Trash/info").is_dir()
    )


def test_a_persons_downloads_are_never_offered(stocked):
    job, home = stocked
    assert stores(job)[f"store:downloads:{home.name}"].belongings == []
    assert job.surveyed.survey.find(f"store:downloads:{home.name}") is None


def test_by_command_it_is_named_with_what_it_is_called_on_an_order(stocked, tmp_path):
    job, home = stocked
    root = ("--root", str(job.machine.folder))
    assert f"store:thumbnails:{home.name}" in cli(*root, "survey").stdout
    made = cli(*root, "order", f"store:thumbnails:{home.name}")
    line = json.loads(made.stdout)["lines"][0]
    assert line["name"] == f"thumbnails of {home.name}" and line["ticks"]


def test_older_journal_files_go_and_the_current_ones_stay(made_up):
    folder = made_up.root / "var/log/journal" / ("a" * 32)
    folder.mkdir(parents=True, exist_ok=True)
    current = ("system.journal", "user-1000.journal")
    closed = (
        "system@0123456789abcdef0123456789abcdef-0000000000000001-0005f0a1b2c3d4e5.journal",
        "user-1000@0123456789abcdef0123456789abcdef-0000000000000002-0005f0a1b2c3d4e6.journal",
        "system@0005f0a1b2c3d4e5-0123456789abcdef.journal~",
    )
    for name in (*current, *closed, "notes@home.txt"):
        (folder / name).write_bytes(b"j" * 5000)
    job = Job(made_up)
    before = picture(made_up.root)
    order = job.order("store:journal")
    assert sorted(t.rsplit("/", 1)[1] for t in order.line("store:journal").ticks) == sorted(closed)
    run = job.carry(job.prepare(order))
    assert {o.event for o in run.state.operations.values()} == {"done"}
    assert sorted(p.name for p in folder.iterdir()) == sorted((*current, "notes@home.txt"))
    job.put_back()
    assert differences(before, picture(made_up.root)) == []
