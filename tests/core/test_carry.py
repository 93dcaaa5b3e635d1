"""Carrying out: what may not be touched is not, what fails is skipped and said, everything can come back."""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path

import pytest

from helpers import Job, MadeUp, built, differences, dpkg_status, picture, run_forked
from kills import sampled, under_injection
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.errors import Interrupted, Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.wire import from_plain, to_plain
from swept_shelf.core.orders.places import why_protected


def skipped(run) -> dict[str, str]:
    return {r.where: r.note for r in records_of(open_run(run.folder)) if r.state in ("skipped", "left")}


def path_of(job: Job, id: str, kind: str) -> str:
    return next(
        b.path
        for b in job.app(id).belongings
        if b.kind == kind and b.ticked and b.path.startswith("/home") and not b.except_
    )


# -- orders are checked ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda o: o["lines"][0]["ticks"].append("/etc/passwd"), "/etc/passwd, which is a protected place"),
        (lambda o: o["lines"][0]["ticks"].append("/etc/../etc/passwd"), "not a plain absolute path"),
        (lambda o: o["lines"][0]["ticks"].append("/home"), "protected place"),
        (lambda o: o["lines"][0]["ticks"].append("/usr/share/doc"), "not a belonging"),
        (lambda o: o["packages"].append("roombase"), "packages that do not go"),
        (lambda o: o["lines"][0]["packages"].append("roombase"), "packages that do not go"),
        (lambda o: o["lines"][0]["references"].append("0" * 12), "reference"),
        (lambda o: o.update(settle=[]), "leaves out a question"),
        (lambda o: o["machine"].update(key="other"), "another machine"),
        (lambda o: o["survey"].update(sha256="0" * 64), "another survey"),
        (lambda o: o["lines"].append(o["lines"][0]), "twice"),
    ],
)
def test_an_order_edited_by_hand_is_refused_before_anything_changes(looked, change, words):
    job = looked
    plain = to_plain(job.order(job.machine.id("map", "7")))
    change(plain)
    before = picture(job.machine.root, shelf=True)
    with pytest.raises(Refused, match=words):
        job.prepare(from_plain(Order, plain))
    assert picture(job.machine.root, shelf=True) == before


def test_places_that_are_never_an_operation(looked):
    job = looked
    survey = job.surveyed.survey
    anna = survey.people[0]
    for path in (
        "/",
        "/usr",
        "/etc",
        "/var/lib",
        anna.home,
        f"{anna.home}/.config",
        f"{anna.home}/Documents",
        f"{anna.home}/Thing",
        "/var/lib/dpkg/status",
        "/home",
        "/boot/x",
        "/etc/x/",
    ):
        assert why_protected(path, survey), path
    assert not why_protected(f"{anna.home}/.config/thing", survey)


def test_what_must_be_settled_is_asked_and_an_unsettled_order_is_refused(looked):
    job = looked
    quest, label, session = job.machine.id("quest"), job.machine.id("label"), job.machine.id("session")
    order = job.order(quest, answers={f"personal:{quest}": ""})
    assert [s.question for s in order.unsettled] == ["personal"]
    with pytest.raises(Refused, match="must be settled first"):
        job.prepare(order)
    assert [s.question for s in job.order(session).unsettled] == ["protected"]
    both = job.order(label, answers={f"needed_by:{label}": "remove_both"})
    assert {line.id for line in both.lines} == {label, job.machine.id("desk")}
    out = job.order(label, answers={f"needed_by:{label}": "leave_out"})
    assert [line.verdict for line in out.lines] == ["keep"] and out.packages == []


def test_what_several_lines_free_together_comes_back_once(looked):
    """The picture library stays while one of its users stays, and goes once with the last."""
    job = looked
    users = [
        job.machine.id("scan", "4"),
        job.machine.id("scan", "2"),
        job.machine.id("match"),
        job.machine.id("label"),
        job.machine.id("desk"),
    ]
    answers = {
        f"needed_by:{job.machine.id('label')}": "remove_both",
        f"personal:{job.machine.id('desk')}": "they_stay",
    }
    alone = job.order(users[0])
    assert "libawn1" not in alone.packages
    together = job.order(*users, answers=answers)
    assert together.packages.count("libawn1") == 1
    assert sum(line.packages.count("libawn1") for line in together.lines) == 1
    one_by_one = sum(job.order(u, answers=answers).total for u in (users[0], users[1], users[2]))
    assert job.order(*users[:3]).total == one_by_one
    assert together.total > one_by_one


def test_ticks_by_hand_are_kept(looked):
    job = looked
    hero = job.machine.id("map", "7")
    cache = path_of(job, hero, "cache")
    assert cache not in job.order(hero, unticked=frozenset({cache})).lines[0].ticks
    with pytest.raises(Refused, match="not a belonging"):
        job.order(hero, ticked=frozenset({"/etc/hostname"}))


# -- carrying out ---------------------------------------------------------------------------------------------


def test_clearing_a_cache_takes_the_cache_alone(job):
    desk = job.machine.id("desk")
    before = picture(job.machine.root)
    run = job.carry(job.prepare(job.order(desk, verdict="clear_cache")))
    gone = set(before) - set(picture(job.machine.root))
    tops = [op.path for op in run.plan.operations]
    assert tops and all("/.cache/" in t for t in tops)
    assert all(any(g == t or g.startswith(t + "/") for t in tops) for g in gone)
    line = job.clearance().lines[0]
    assert {c.family: c.state for c in line.cells if c.state != "not_part"} == {"files": "clear"}
    assert job.put_back()["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_the_unregistered_program_goes_with_its_launcher_and_comes_back(job):
    top = next(a for a in job.surveyed.survey.applications if a.registry == "files")
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(top.id)))
    assert not (job.machine.root / top.id.removeprefix("files:/")).exists()
    assert {c.state for c in job.clearance().lines[0].cells} <= {"clear", "could_not_look", "not_part"}
    job.put_back()
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_what_was_left_behind_is_carried_away_and_comes_back(job):
    truth = job.machine.truth["app"]
    lines = [f"left:{truth['gone_long'].lower()}", f"left:{truth['gone'].lower()}"]
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(*lines)))
    assert not any((job.machine.root / p[1:]).exists() for p in job.machine.truth["left"])
    assert dpkg_status(job.machine, truth["gone"].lower()) == "not-installed"
    result = job.put_back()
    after = picture(job.machine.root, shelf=True)
    assert result["left"] == 0
    assert [d for d in differences(before, after) if "/var/lib/dpkg" not in d] == []


def test_a_running_program_is_refused_and_the_rest_goes_on(job):
    hero, other = job.machine.id("map", "7"), job.machine.id("match")
    run = job.prepare(job.order(hero, other))
    script = job.machine.root / "usr/bin" / hero.removeprefix("debian:")
    script.write_text("#!/bin/sh\nsleep 60 &\nwait\n")
    process = subprocess.Popen([str(script)], start_new_session=True)
    try:
        result = job.carry(run)
    finally:
        os.killpg(process.pid, 9)
        process.wait()
    assert all("is running" in why for why in skipped(result).values())
    assert dpkg_status(job.machine, hero.removeprefix("debian:")) == "installed"
    assert dpkg_status(job.machine, other.removeprefix("debian:")) == "not-installed"


def test_a_file_held_open_is_skipped_with_who_holds_it_and_tried_again_on_request(job):
    hero = job.machine.id("map", "7")
    cache = path_of(job, hero, "cache")
    order = job.order(hero)
    run = job.prepare(order)
    inside = next(p for p in (job.machine.root / cache[1:]).rglob("*") if p.is_file())
    with open(inside):
        run = job.carry(run)
        assert f"held open by process {os.getpid()}" in skipped(run)[cache]
    assert (job.machine.root / cache[1:]).exists()
    assert dpkg_status(job.machine, hero.removeprefix("debian:")) == "not-installed"
    job.carry(job.shop.orders.again(order))
    assert skipped(run) == {}
    assert dpkg_status(job.machine, hero.removeprefix("debian:")) == "not-installed"


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ("swap", "another file"),
        ("link", "is another"),
        ("odt", "may be a person’s own work"),
        ("out", "leads elsewhere"),
    ],
)
def test_what_changed_since_the_survey_is_left_and_only_what_may_be_personal_stops_its_line(
    job, change, words
):
    hero = job.machine.id("map", "7")
    cache = path_of(job, hero, "cache")
    run = job.prepare(job.order(hero))
    top = job.machine.root / cache[1:]
    if change in ("swap", "link"):
        top.rename(top.with_name("away"))
        top.symlink_to("/etc") if change == "link" else top.mkdir()
    elif change == "odt":
        (top / "letter.odt").write_text("mine")
    else:
        (top / "more").symlink_to("/etc/passwd")
    run = job.carry(run)
    assert words in skipped(run)[cache]
    assert ("the line stopped" in list(skipped(run).values())[-1]) == (change == "odt")
    assert change == "odt" or list(skipped(run)) == [cache]
    assert os.path.lexists(top) and (job.machine.root / "etc/passwd").exists()


def test_new_rubbish_inside_goes_along_and_is_logged(job):
    hero = job.machine.id("map", "7")
    cache = path_of(job, hero, "cache")
    run = job.prepare(job.order(hero))
    (job.machine.root / cache[1:] / "fresh.tile").write_text("x")
    run = job.carry(run)
    assert skipped(run) == {}
    records = [json.loads(x) for x in run.journal_path.read_text().splitlines()]
    assert any(r.get("new_inside") == 1 for r in records)


def test_a_file_to_be_edited_that_changed_is_left(job):
    hero = job.machine.id("map", "7")
    order = job.order(hero)
    cron = job.machine.root / "etc/cron.d/room-jobs"
    run = job.prepare(order)
    cron.write_text(cron.read_text() + "# by hand\n")
    run = job.carry(run)
    assert any("written to since" in why for why in skipped(run).values())
    assert cron.read_text().endswith("# by hand\n") and "--tiles" in cron.read_text()
    left = job.shop.orders.rehearse(order, "the order").plan.left_alone
    assert "has changed since it was surveyed" in next(
        x.why for x in left if x.path == "/etc/cron.d/room-jobs"
    )


def test_put_back_never_overwrites_anything_newer(job):
    hero = job.machine.id("map", "7")
    cache = path_of(job, hero, "cache")
    job.carry(job.prepare(job.order(hero)))
    new = job.machine.root / cache[1:]
    new.parent.mkdir(parents=True, exist_ok=True)
    new.write_text("newer")
    bookmarks = next(job.machine.root.glob("home/*/.config/gtk-3.0/bookmarks"))
    bookmarks.write_text("file:///tmp newer\n")
    result = job.put_back()
    assert {w["path"]: w["why"] for w in result["why"]}[
        cache
    ] == "something newer stands there; it was not overwritten"
    assert new.read_text() == "newer" and bookmarks.read_text() == "file:///tmp newer\n"
    assert result["left"] == 2
    assert {s.manifest["path"] for s in job.shop.shelves.waiting() if s.waiting} == {
        cache,
        "/" + str(bookmarks.relative_to(job.machine.root)),
    }


def test_put_back_works_from_the_shelf_alone(job):
    """Ledger and run folders lost: the shelf's own manifests are enough."""
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(job.machine.id("map", "7"))))
    subprocess.run(["rm", "-rf", str(job.machine.folder / "ledger")], check=True)
    alone = Job(MadeUp(job.machine.folder), survey=False)
    (run,) = {s.run for s in alone.shop.shelves.waiting()}
    result = run_forked(alone.shop.shelves.request("put_back", alone.shop.shelves.orphan_row(run), []))
    assert result["left"] == 0
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_put_back_of_one_application_leaves_the_other_on_the_shelf(job):
    first, second = job.machine.id("map", "7"), job.machine.id("quest")
    job.carry(job.prepare(job.order(first, second)))
    job.put_back([first])
    assert {s.manifest["line"] for s in job.shop.shelves.waiting()} == {second}
    assert dpkg_status(job.machine, first.removeprefix("debian:")) == "installed"


def test_owners_modes_attributes_and_times_come_back(job):
    if os.geteuid() != 0:
        pytest.skip("owners and ACLs of others need root")
    hero = job.machine.id("map", "7")
    name = hero.removeprefix("debian:")
    cron, program = job.machine.root / "etc/cron.d/room-jobs", job.machine.root / "usr/bin" / name
    os.setxattr(cron, "user.note", b"kept")
    subprocess.run(["setfacl", "-m", "u:1003:r", str(cron)], check=True)
    os.setxattr(program, "user.note", b"kept too")
    os.chown(program, 0, 1002)
    program.chmod(0o2750)
    os.utime(program, ns=(program.stat().st_atime_ns, 1_234_567_890_123_456_789))
    job.survey()
    before = picture(job.machine.root)
    job.carry(job.prepare(job.order(hero)))
    assert os.getxattr(cron, "user.note") == b"kept"
    job.put_back()
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_an_order_that_was_put_back_is_not_carried_out_again(job):
    order = job.order(job.machine.id("map", "7"))
    job.carry(job.prepare(order))
    with pytest.raises(Refused, match="carried out already"):
        job.shop.orders.again(order)
    job.put_back()
    with pytest.raises(Refused, match="was put back"):
        job.shop.orders.again(order)


# -- bad luck -------------------------------------------------------------------------------------------------


def test_a_run_cut_off_must_be_resumed_first(job):
    order = job.order(job.machine.id("map", "7"))
    run = job.prepare(order)
    assert under_injection(job.shop.orders.carry_request(run), "renameat2", 3).died
    assert job.shop.orders.interrupted().id == run.id
    with pytest.raises(Interrupted, match="resume"):
        job.prepare(job.order(job.machine.id("match")))


def test_only_one_carrier_works_on_a_machine(job):
    from swept_shelf.core.carry.run import carrier_lock

    run = job.prepare(job.order(job.machine.id("map", "7")))
    with carrier_lock(job.shop.machine), pytest.raises(Refused, match="another carrier"):
        run_forked(job.shop.orders.carry_request(run))


@pytest.mark.parametrize(
    ("call", "nth"),
    sampled(
        [
            ("write", 2),
            ("write", 9),
            ("fsync", 9),
            ("renameat2", 2),
            ("renameat2", 9),
            ("mkdirat", 2),
            ("mkdir", 2),
        ],
        2,
    ),
)
def test_a_full_disk_at_any_step_loses_nothing(job, call, nth):
    """ENOSPC by injection: skipped with the reason, or the run ends; what was done can be put back."""
    before = picture(job.machine.root)
    run = job.prepare(job.order(job.machine.id("map", "7")))
    under_injection(job.shop.orders.carry_request(run), call, nth, what="error=ENOSPC")
    result = run_forked(job.shop.shelves.request("put_back", job.shop.shelves.orphan_row(run.id), []))
    assert result["left"] == 0, result
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_a_full_disk_refuses_the_run_before_anything_changes(tmp_path):
    """A real file system with not one byte free (tmpfs in a namespace of its own)."""
    source, place = built(1).copy(tmp_path / "machine"), tmp_path / "small"
    place.mkdir()
    size = int(
        subprocess.run(
            ["du", "-s", "-B4096", "--apparent-size", str(source.folder)], capture_output=True, text=True
        ).stdout.split()[0]
    )
    script = f"""
import os, shutil, subprocess, sys
sys.path.insert(0, {str(Path(__file__).parents[1])!r})
import conftest
from pathlib import Path
from helpers import Job, MadeUp, picture, seal_anew
from swept_shelf.core.documents.errors import Refused
os.environ["XDG_STATE_HOME"] = {os.environ["XDG_STATE_HOME"]!r}
subprocess.run(["cp", "-a", {str(source.folder)!r}, "{place}/m"], check=True)
seal_anew(Path("{place}/m"))
job = Job(MadeUp(Path("{place}/m")), survey=False)
job.shop = __import__("swept_shelf.workshop", fromlist=["x"]).Workshop("{place}/m", {str(tmp_path / "ledger.sqlite")!r})
job.survey()
order = job.order({source.id("map", "7")!r})
with open("{place}/fill", "wb", buffering=0) as fill:
    try:
        while True:
            fill.write(b"x" * 65536)
    except OSError:
        pass
    try:
        while True:
            fill.write(b"x")
    except OSError:
        pass
print("free", os.statvfs("{place}").f_bavail)
before = picture(Path("{place}/m/root"), shelf=True)
try:
    job.prepare(order)
except Refused as error:
    print("refused:", error)
print("same", picture(Path("{place}/m/root"), shelf=True) == before)
"""
    import sys

    mount = (
        f'mount -t tmpfs -o size={size * 4096 + (24 << 20)} tmpfs {place} && exec {sys.executable} -c "$0"'
    )
    flags = ["--mount"] if os.geteuid() == 0 else ["--mount", "--map-root-user"]
    done = subprocess.run(["unshare", *flags, "sh", "-c", mount, script], capture_output=True, text=True)
    assert "free 0" in done.stdout and "same True" in done.stdout, done
    assert "refused: /: has" in done.stdout and "in a folder elsewhere" in done.stdout, done.stdout
