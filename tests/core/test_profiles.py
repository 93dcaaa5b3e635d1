"""What programs keep in a person's profile: the profile stays, the caches in it go, and both can be put back as they were."""

from __future__ import annotations

import pytest

from evidence import add_program as add
from evidence import ago
from evidence import belongings_of as of
from helpers import Job, built, differences, picture
from swept_shelf.core.documents.terms import Kind

PROFILE = "home/isolde/.local/share/woadtally7/Default"
CACHES = ("GPUCache", "Code Cache", "cache2", "image_cache")
KEPT = ("Cookies", "History", "tmp/x", "Geocache/route", "Service Worker/CacheStorage/1", "Notes/GPUCache/x")


@pytest.fixture
def machine(tmp_path):
    made = built(1).copy(tmp_path / "machine")
    for name in (*(f"{c}/data_0" for c in CACHES), *KEPT):
        path = made.root / PROFILE / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text("x" * 5000)
    return made


def test_a_cache_right_in_a_profile_is_no_persons_own_and_all_else_there_is(machine):
    job = Job(machine)
    found = {b.path: b for b in job.app(machine.id("map", "7")).belongings}
    profile = found[f"/{PROFILE}"]
    assert profile.personal and not profile.ticked and profile.files == len(KEPT)
    assert sorted(profile.except_) == sorted(f"/{PROFILE}/{c}" for c in CACHES)
    inside = {p: b for p, b in found.items() if p.startswith(f"/{PROFILE}/")}
    assert inside.keys() == set(profile.except_)
    assert all(b.kind == Kind.CACHE and b.ticked and not b.personal for b in inside.values())
    whole = found["/home/isolde/.local/share/woadtally7"]
    assert f"/{PROFILE}" in whole.except_ and not any(p in whole.except_ for p in inside)
    sizes = sum(b.bytes for p, b in found.items() if p.startswith(whole.path))
    assert sizes == sum(f.stat().st_blocks * 512 for f in (machine.root / whole.path[1:]).rglob("*")) + (
        (machine.root / whole.path[1:]).stat().st_blocks * 512
    )


@pytest.mark.parametrize("answer", ["they_stay", "go_too"])
def test_the_caches_go_the_profile_by_its_owners_word_and_both_come_back(machine, answer):
    job, before = Job(machine), picture(machine.root)
    id = machine.id("map", "7")
    job.carry(job.prepare(job.order(id, answers={f"personal:{id}": answer})))
    left = sorted(str(p.relative_to(machine.root / PROFILE)) for p in (machine.root / PROFILE).rglob("*"))
    assert [p for p in left if "/" not in p or p in KEPT] == (
        sorted({*KEPT, *(k.split("/")[0] for k in KEPT)}) if answer == "they_stay" else []
    )
    assert job.put_back()["why"] == []
    assert differences(before, picture(machine.root)) == []


def test_where_only_the_cache_is_cleared_the_profile_is_not_touched(machine):
    job, id = Job(machine), machine.id("map", "7")
    job.carry(job.prepare(job.order(id, verdict="clear_cache")))
    assert all((machine.root / PROFILE / name).exists() for name in KEPT)
    assert not any((machine.root / PROFILE / name).exists() for name in CACHES)


def test_a_folder_of_mail_or_of_documents_that_is_called_like_a_cache_is_none(room, look):
    add(room, "fennrule")
    for folder in ("", ".Rock Cache/", "Rock Cache/", "cache/"):
        for part in ("cur", "new", "tmp"):
            room.home("vera", f".local/share/fennrule/Mail/{folder}{part}/1", "x\n", ago(3))
    room.home("vera", ".local/share/fennrule/Mail/Picture Cache/wedding.odt", "x\n", ago(3))
    found = of(look(), "fennrule")
    own = found["/home/vera/.local/share/fennrule/Mail"]
    assert own.personal and not own.except_ and own.files == 13
    assert not any(b.kind == Kind.CACHE for b in found.values())


def test_in_a_folder_of_ones_own_work_nothing_is_a_cache(room, look):
    add(room, "fennrule")
    for name in ("GPUCache/x", "kept/Cookies", "kept/History", "kept/GPUCache/x"):
        room.home("vera", f".local/share/fennrule/Documents/{name}", "x\n", ago(3))
    room.home("vera", ".local/share/fennrule/x.ini", "x\n", ago(3))
    found = of(look(), "fennrule")
    own = found["/home/vera/.local/share/fennrule/Documents"]
    assert own.personal and not own.except_ and not any(b.kind == Kind.CACHE for b in found.values())
