"""Half of the homes are looked at in a process beside where there is much: the answer is the same as by one, whatever becomes of it."""

from __future__ import annotations

import os
import signal

import pytest

from planted import PLANTED, PLOT, TO, H, plant
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references import everywhere
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.looker import Looker

HERE = os.getpid()
NAMES = ("edda", "ilse", "ruth", "mads")
PEOPLE = [Person(name, 1000 + i, f"/home/{name}", "all") for i, name in enumerate(NAMES)]
IN_HOMES = [
    (p, text)
    for rows in PLANTED.values()
    for p, text, left in rows[:2]
    if p.startswith(f"{H}/") and left != "same"
]


@pytest.fixture(scope="module")
def machine(tmp_path_factory):
    root = tmp_path_factory.mktemp("homes")
    of_one = {}
    for path, text in IN_HOMES:
        of_one.setdefault(path, text)  # of two samples of one file the first
    files = [
        (p.replace(H, person.home, 1), t.replace(H, person.home))
        for person in PEOPLE
        for p, t in of_one.items()
    ]
    # A launcher of one person that goes whole, and what names it in the same home and in another's.
    files += [
        (
            "/home/mads/.local/share/applications/own.desktop",
            "[Desktop Entry]\nType=Application\nName=o\nExec=plot7\n",
        ),
        ("/home/mads/.config/mimeapps.list", "[Added Associations]\ntext/x-own=own.desktop;\n"),
        (
            "/home/edda/.config/autostart/own.desktop",
            "[Desktop Entry]\nType=Application\nName=o\nExec=plot7\n",
        ),
    ]
    plant(root, files)
    return open_machine(str(root))


@pytest.fixture(scope="module")
def by_one(machine):
    return find_references(machine, PEOPLE, {}, TO)


def same(a, b):
    assert {id: set(rows) for id, rows in a.references.items()} == {
        id: set(rows) for id, rows in b.references.items()
    }
    assert a.looked_at == b.looked_at and a.looked_in == b.looked_in and a.searched == b.searched
    assert {f: set(rows) for f, rows in a.not_read.items()} == {
        f: set(rows) for f, rows in b.not_read.items()
    }
    assert a.mentions == b.mentions


def test_shared_out_among_two_processes_it_finds_and_counts_the_same(machine, by_one, monkeypatch):
    monkeypatch.setattr(everywhere, "MUCH", 0)
    found = find_references(machine, PEOPLE, {}, TO)
    same(found, by_one)
    kinds = {(r.kind, r.person) for r in found.references[PLOT.id]}
    assert all({(kind, name) for name in NAMES} <= kinds for kind in ("launcher", "shell line", "file type"))
    assert any(
        r.path == "/home/mads/.config/mimeapps.list" and "own" in r.text for r in found.references[PLOT.id]
    )


@pytest.mark.parametrize("at", [1, 2, 3])
def test_where_that_process_is_killed_nothing_is_missing(machine, by_one, monkeypatch, at):
    monkeypatch.setattr(everywhere, "MUCH", 0)
    take, asked = Looker.take, []

    def killed(self):
        asked.append(1)
        if os.getpid() != HERE and len(asked) == at:
            os.kill(os.getpid(), signal.SIGKILL)
        return take(self)

    monkeypatch.setattr(Looker, "take", killed)
    same(find_references(machine, PEOPLE, {}, TO), by_one)
