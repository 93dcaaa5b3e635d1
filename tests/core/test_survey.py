"""The survey: what is there, whose it is, when it was used, and that looking leaves no trace."""

from __future__ import annotations

import json
import os
import stat
import subprocess
import time
from dataclasses import replace
from datetime import timedelta

import psutil
import pytest

from helpers import Job, as_user, built, open_to_all, picture
from swept_shelf.core.belongings.personal import personal_parts
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.core.documents.wire import read_document, to_json
from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey import take
from swept_shelf.core.survey.ahead import look_ahead
from swept_shelf.core.survey.so_far import SO_FAR
from swept_shelf.core.survey.take import take_survey
from swept_shelf.core.tree.walk import walk
from swept_shelf.worker.channel import Channel
from swept_shelf.worker.looking import look


@pytest.fixture(scope="module")
def looked(tmp_path_factory):
    return Job(built(1).copy(tmp_path_factory.mktemp("survey") / "machine"))


def test_every_application_and_nothing_of_the_system_is_listed(looked):
    survey, truth = looked.surveyed.survey, looked.machine.truth
    names = {a.name for a in survey.applications}
    for role in ("desk", "label", "quest", "mail", "match", "radio", "folder", "session", "pair_a", "pair_b"):
        assert truth["app"][role] in names
    assert {a.type for a in survey.applications} == {"desktop", "terminal", "service", "runtime"}
    assert not {a.id for a in survey.applications} & {
        "debian:roombase",
        "debian:roomtools",
        "debian:libcalyx2",
    }
    assert "roombase" in survey.system.packages


def test_each_installed_package_is_in_one_part_only(looked):
    survey = looked.surveyed.survey
    parts = [
        p for a in survey.applications if a.registry == "debian" for p in a.own_packages
    ] + survey.system.packages
    assert len(parts) == len(set(parts))
    said = subprocess.run(
        [
            "dpkg-query",
            f"--admindir={looked.machine.root}/var/lib/dpkg",
            "-W",
            "-f",
            "${Package} ${db:Status-Status}\n",
        ],
        capture_output=True,
        text=True,
    ).stdout
    assert sorted(parts) == sorted(
        line.split()[0] for line in said.splitlines() if line.endswith(" installed")
    )


def test_what_goes_with_it_equals_apts_own_word(looked):
    """apt-get simulates the same removal in the made-up root."""
    root = looked.machine.root
    conf = looked.machine.folder / "apt.conf"
    conf.write_text(
        f'Dir "{root}"; Dir::State::status "{root}/var/lib/dpkg/status"; Debug::NoLocking "true"; Dir::Log "{root}/tmp";'
        f'Dir::Cache "{looked.machine.folder}/cache"; APT::Architecture "amd64";'
    )
    for app in looked.surveyed.survey.applications:
        if app.registry == "debian" and not app.protected:
            done = subprocess.run(
                ["apt-get", "-s", "purge", "--auto-remove", app.packages[0]],
                capture_output=True,
                text=True,
                env={**os.environ, "APT_CONFIG": str(conf)},
            )
            said = sorted(line.split()[1] for line in done.stdout.splitlines() if line.startswith("Purg"))
            assert said == sorted(app.packages), (app.id, done.stderr)


def test_the_same_seed_makes_the_same_machine_and_another_seed_other_names(tmp_path):
    a, b = built(1).truth, built(2).truth
    assert a["app"] != b["app"] and a["people"] != b["people"]
    from swept_shelf.core.demo.names import draw_names

    assert draw_names(1).app == a["app"]


def test_traps_are_not_fallen_into(looked):
    survey, truth, home = (
        looked.surveyed.survey,
        looked.machine.truth,
        f"/home/{looked.machine.truth['people'][2]}",
    )
    paths = {b.path: (a.id, b) for a in survey.applications for b in a.belongings if b.is_path}
    for decoy in truth["decoys"]:
        assert not any(p == decoy or p.startswith(decoy + "/") for p in paths), decoy
    named = [
        b for a in survey.applications for b in a.belongings if b.object == "folder"
    ]  # open in a home, called like one: said to be the person's
    assert named and all(b.personal and not b.ticked and b.bytes == 0 and "own" in b.reason for b in named)
    for path in truth["shared"]:
        assert paths[path][1].share == "shared" and not paths[path][1].ticked
    for path in truth["personal"]:
        assert paths[path][1].personal and not paths[path][1].ticked
    link = f"{home}/.local/share/{truth['app']['folder'].lower()}"
    assert paths[link][1].identity.type == "link" and paths[link][1].bytes == 0
    older, longer = looked.machine.id("map", "7"), looked.machine.id("map", "7er")
    assert not {b.path for b in looked.app(older).belongings} & {
        b.path for b in looked.app(longer).belongings
    }


def test_no_ticked_path_belongs_to_two(looked):
    ticked = [b.path for a in looked.surveyed.survey.applications for b in a.belongings if b.ticked]
    assert len(ticked) == len(set(ticked))


def test_an_older_revision_that_its_registry_keeps_is_a_line_of_its_own_beside_the_one_in_use(looked):
    older = next(a for a in looked.surveyed.survey.applications if a.registry == "snap" and "/" in a.id)
    (image,) = (b for b in older.belongings if b.ticked)
    assert image.path.endswith("_29.snap") and image.bytes > 40_000 and older.type == "runtime"
    assert looked.surveyed.index.row(image.path).owner == older.id
    newer = looked.app(older.id.rpartition("/")[0])
    assert image.path not in {b.path for b in newer.belongings}


def test_what_an_application_long_gone_left_is_found_with_its_evidence(looked):
    truth = looked.machine.truth
    left = {e.name: e for e in looked.surveyed.survey.left_behind}
    assert {b.path for b in left[truth["app"]["gone_long"].lower()].belongings} == set(truth["left"])
    assert left[truth["app"]["gone_long"].lower()].evidence[0].path == "/var/log/dpkg.log"
    assert left[truth["app"]["gone"].lower()].was.version == "1.3"


def test_last_use_is_within_a_day_of_the_truth(looked):
    now = looked.surveyed.survey.surveyed_at
    wrong = []
    for name, days in looked.machine.truth["used_days"].items():
        app = looked.surveyed.survey.find(f"debian:{name}")
        if app is not None and days is not None:
            at = app.last_use.at
            if at is None or abs((now - at) - timedelta(days=days)) > timedelta(days=1):
                wrong.append((name, days, at))
    assert wrong == []
    agent = looked.app(looked.machine.id("agent"))
    assert agent.last_use.at is None and agent.last_use.background and agent.last_use.looked_at


def test_a_second_survey_judges_as_the_first(looked):
    first = [(a.id, a.last_use.at, a.last_use.certainty) for a in looked.surveyed.survey.applications]
    assert [(a.id, a.last_use.at, a.last_use.certainty) for a in looked.survey().survey.applications] == first


def access_times(root):
    """Access times of everything, read without moving any."""
    found = {}
    folders = [root]
    while folders:
        folder = folders.pop()
        fd = os.open(folder, os.O_RDONLY | os.O_NOATIME)
        found[str(folder)] = os.fstat(fd).st_atime_ns
        for name in os.listdir(fd):
            status = os.stat(name, dir_fd=fd, follow_symlinks=False)
            if stat.S_ISDIR(status.st_mode):
                folders.append(folder / name)
            else:
                found[str(folder / name)] = status.st_atime_ns
        os.close(fd)
    return found


def test_looking_moves_no_access_time_and_writes_nothing(made_up):
    times = access_times(made_up.root)
    Job(made_up)
    assert access_times(made_up.root) == times
    before = picture(made_up.root, shelf=True)
    Job(made_up)
    assert picture(made_up.root, shelf=True) == before


@pytest.mark.skipif(os.geteuid() != 0, reason="drops to an ordinary user, which only root can")
def test_an_ordinary_user_looks_without_trace_and_is_told_what_was_not_read(made_up):
    """As uid 1002 of the made-up machine: another person's home is closed, the survey says so and goes on."""
    anna, bert, _ = made_up.truth["people"]
    (made_up.root / "home" / anna).chmod(0o700)
    out = made_up.folder / "out"
    out.mkdir()
    out.chmod(0o777)
    open_to_all(made_up.folder)
    (made_up.folder / "machine.json").unlink()
    take_survey(open_machine(built(1).folder), str(out), [])  # reads every module while it still may be read
    times = access_times(made_up.root)
    request = {"root": str(made_up.root), "folder": str(out)}
    for left in out.iterdir():
        left.unlink()
    raised = as_user(1002, lambda: look("survey", request, Channel()))
    assert raised is None
    survey = json.loads((out / "survey.json").read_text())
    assert {p["name"]: p["read"] for p in survey["people"]}[anna] == "none"
    assert any(
        n["path"].startswith(f"/home/{anna}") and n["reason"] == "may not be read" for n in survey["not_read"]
    )
    assert not survey["complete"]
    assert any(b["person"] == bert for a in survey["applications"] for b in a["belongings"])
    assert access_times(made_up.root) == times


def test_a_program_that_runs_is_seen(made_up):
    """A real process of the made-up root, started by its script."""
    name = made_up.id("scan", "4").removeprefix("debian:")
    script = made_up.root / "usr/bin" / name
    times = script.stat()
    script.write_text("#!/bin/sh\nsleep 60 &\nwait\n")
    os.utime(script, ns=(times.st_atime_ns, times.st_mtime_ns))
    process = subprocess.Popen([str(script)], start_new_session=True)
    try:
        for _ in range(500):  # until what it starts is that, and no copy of the shell with the same script
            if [c.name() for c in psutil.Process(process.pid).children()] == ["sleep"]:
                break
            time.sleep(0.02)
        app = Job(made_up).app(made_up.id("scan", "4"))
        assert [r.pid for r in app.running] == [process.pid]
    finally:
        os.killpg(process.pid, 9)
        process.wait()


def test_personal_content_is_recognised_by_type_and_by_folder(tmp_path):
    for name in (
        "d/saves/a.dat",
        "d/all/x.odt",
        "d/all/y.pdf",
        "d/mixed/z.odt",
        "d/mixed/m.idx",
        "d/engine.bin",
    ):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text("x")
    assert sorted(personal_parts(walk(open_machine(tmp_path)), "/d")) == [
        "/d/all",
        "/d/mixed/z.odt",
        "/d/saves",
    ]


@pytest.mark.skipif(os.geteuid() != 0, reason="drops to an ordinary user, which only root can")
def test_what_could_not_be_read_is_named_in_every_later_survey_too(made_up, tmp_path):
    """A folder of the system that an ordinary user may not read, surveyed twice: nothing of the first is taken for the second."""
    hidden = made_up.root / "usr/share/for-root-alone"
    hidden.mkdir(mode=0o700)
    (hidden / "rules").write_text("x")
    open_to_all(made_up.folder)
    (made_up.folder / "machine.json").unlink()
    take_survey(
        open_machine(built(1).folder), str(tmp_path), []
    )  # reads every module while it still may be read
    asked: dict[str, str] = {}
    for name in ("first", "second"):
        out = tmp_path / name
        out.mkdir(mode=0o777)
        out.chmod(0o777)
        open_to_all(out)
        request = {"root": str(made_up.root), "folder": str(out), **asked}
        assert as_user(1002, lambda request=request: look("survey", request, Channel())) is None
        survey = json.loads((out / "survey.json").read_text())
        assert (
            "/usr/share/for-root-alone" in {n["path"] for n in survey["not_read"]} and not survey["complete"]
        ), name
        asked = {"before": str(out), "before_at": survey["surveyed_at"]}


def test_a_survey_with_more_rights_reads_everything_again(job):
    assert "before" in job.shop.survey_request()
    other = "administrator" if job.surveyed.survey.rights == "person" else "person"
    with_others = replace(job.surveyed.survey, rights=other)
    (job.surveyed.folder / "survey.json").write_bytes(to_json(with_others))
    assert "before" not in job.shop.survey_request()


def test_while_it_is_taken_more_and_more_is_known_and_the_last_of_it_is_the_survey_but_for_use(
    made_up, tmp_path
):
    known = {}

    def tell(so_far):
        known[so_far] = read_document(Survey, (tmp_path / SO_FAR).read_bytes(), SO_FAR)

    survey = take_survey(open_machine(str(made_up.folder)), str(tmp_path), [], so_far=tell)
    assert list(known) == list(SoFar)
    first, sized, last = known.values()
    named = {a.id for a in survey.applications if a.registry == "debian"}
    assert {a.id for a in first.applications} == named
    assert all(a.bytes.total >= 0 and not a.belongings for a in first.applications)
    assert {a.id for a in sized.applications} == {a.id for a in survey.applications}
    whole = {a.id: a.bytes.total for a in survey.applications}
    assert all(a.bytes.program <= whole[a.id] for a in sized.applications if a.registry == "debian")
    assert [replace(a, last_use=None) for a in last.applications] == [
        replace(a, last_use=None) for a in survey.applications
    ]
    assert all(a.last_use.at is None and "looked for" in a.last_use.because for a in last.applications)


def test_a_computer_says_before_what_will_be_read(made_up):
    made = look_ahead(open_machine(str(made_up.folder)))
    assert made.files is None and made.mounts == ("/", "/home") and not made.volumes
    own = look_ahead(open_machine("/"))
    assert own.volumes and own.mounts[0] == "/" and (own.files is None or own.files > 1000)
    assert dict(own.sentences())["What it changes"].startswith("nothing")
    assert [
        dict(replace(own, files=n).sentences())["How long"].split(";")[0] for n in (3_000, 400_000, 2_000_000)
    ] == ["about 5 seconds", "about 40 seconds", "about 3 minutes"]


def test_a_survey_by_several_processes_says_what_one_by_a_single_one_says(looked, tmp_path, monkeypatch):
    """Times and numbers of the survey itself aside; its index byte for byte."""
    machine, found = open_machine(looked.machine.folder), []
    moment = machine.now()
    monkeypatch.setattr(type(machine), "now", lambda _: moment)  # a read may have been at any time until then
    for least in (10**9, 0):
        monkeypatch.setattr(take, "_LARGE", least)
        (folder := tmp_path / str(least)).mkdir()
        survey = take_survey(machine, str(folder), [])
        again = read_document(Survey, (folder / "survey.json").read_bytes(), "")
        assert again.index == survey.index and survey.index.sha256
        found.append(replace(survey, id="", surveyed_at=survey.finished_at, finished_at=survey.finished_at))
    alone, several = (replace(s, surveyed_at=None, finished_at=None) for s in found)
    assert sum(len(a.references) for a in alone.applications) > 20
    assert alone == several
