"""One law for every kind of reference: found in its place, cut, nothing found any more, every other byte the same, still whole,
and put back equal."""

from __future__ import annotations

import pytest
from planted import ASH, ELSEWHERE, LINKS, PLANTED, PLOT, H

from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references import Pointees, find_references
from swept_shelf.core.references.cutting import put_in_again, without
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.take_out import cuts_for, why_broken

TO, ALONE = Pointees([PLOT, ASH]), Pointees([PLOT])
EDDA = Person("edda", 1000, H, "all")


def plant(root, files, links=()):
    (root / H[1:] / ".config").mkdir(parents=True, exist_ok=True)
    (root / H[1:] / ".config/user-dirs.dirs").write_text('XDG_DESKTOP_DIR="$HOME/Schreibtisch"\n')
    for path, text in files:
        place = root / path[1:]
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text(text)
        place.chmod(0o755)
    for path, target in links:
        place = root / path[1:]
        place.parent.mkdir(parents=True, exist_ok=True)
        place.symlink_to(target)
    return open_machine(root)


def found_in(machine, kind, to=TO):
    found = find_references(machine, [EDDA], {}, to)
    assert not any(found.not_read.values())
    return {id: [r for r in refs if r.kind == kind] for id, refs in found.references.items()}


def test_every_kind_is_planted_at_least_twice():
    told = {k: len(PLANTED.get(k, LINKS.get(k, ()))) for k in KINDS if k not in ELSEWHERE}
    assert [k for k, n in told.items() if n < 2] == []


CASES = [(kind, *sample) for kind, samples in PLANTED.items() for sample in samples]


@pytest.mark.parametrize(("kind", "path", "before", "left"), CASES, ids=[f"{c[0]} {c[1]}" for c in CASES])
def test_what_points_at_it_is_found_and_taken_out_and_nothing_else(tmp_path, kind, path, before, left):
    machine = plant(tmp_path / "root", [(path, before)])
    found = found_in(machine, kind)
    mine = found.get("plot", [])
    if left == "same":
        assert mine == []
        return
    assert mine and {r.path for r in mine} == {path}
    if left is None:
        assert all(r.whole for r in mine)
        return
    assert not any(r.whole for r in mine)
    cuts = cuts_for(kind, path, before, ALONE, {(r.line, r.key) for r in mine}, H)
    after = without(before, cuts)
    assert after == left
    assert why_broken(kind, path, before, after) == ""
    (tmp_path / "root" / path[1:]).write_text(after)
    again = found_in(machine, kind)
    assert again.get("plot", []) == []
    assert len(again.get("ash", [])) == len(found.get("ash", []))
    assert put_in_again(after, before, after) == before


@pytest.mark.parametrize("kind", LINKS)
def test_links_that_lead_to_it_go_whole(tmp_path, kind):
    machine = plant(tmp_path / "root", [], LINKS[kind])
    expected = {path for path, target in LINKS[kind] if "plot7er" not in target}
    found = found_in(machine, kind).get("plot", [])
    assert {r.path for r in found} == expected and all(r.whole for r in found)
