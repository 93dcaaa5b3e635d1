"""What a clearance or a trace found: taken out at once by an order of its own, left with a reason, signed for."""

from __future__ import annotations

import contextlib
import json
import os
import sqlite3
import subprocess
from dataclasses import replace

import pytest

from helpers import Job, built, cli, run_forked
from staging import copied, staged
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.clearance.cells import what_helps
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sign_off import SignOff, Technician, digest_of
from swept_shelf.core.documents.survey import NotRead, Person
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.ledger import Ledger
from swept_shelf.desk.session.opening import find


def went(job):
    job.carry(job.prepare(job.order(job.machine.id("map", "7"))))
    assert job.clearance().findings == 0


@pytest.fixture
def removed(tmp_path):
    """A machine from which the map program went, with what points at it again since."""
    job = copied(staged(went), tmp_path / "machine")
    machine = job.machine
    hero = machine.id("map", "7")
    app = job.app(hero)
    command = next(p.rsplit("/", 1)[1] for p in app.executables)
    person = next(p for p in job.surveyed.survey.people if p.name not in ("root", ""))
    home = machine.root / person.home[1:]
    profile = home / ".bashrc"
    profile.write_text(f"export X=1\nalias m='{command} -x'\nalias ls='ls -l'\n")
    (home / ".config/autostart").mkdir(parents=True, exist_ok=True)
    start = home / ".config/autostart/again.desktop"
    start.write_text(f"[Desktop Entry]\nType=Application\nName=Again\nExec={command}\n")
    (machine.root / "etc/odd").mkdir()
    (machine.root / "etc/odd/x.yaml").write_text(f"like: what {command} does\n")
    script = home / "bin/mine.sh"
    script.parent.mkdir(exist_ok=True)
    script.write_text(f"#!/bin/sh\necho before\n{command} $1\n")
    script.chmod(0o755)
    return job, hero, command, profile, start, script


def by_path(clearance, path):
    return next(f for line in clearance.lines for _, f in line.found if f.path.endswith(path))


def taken(job, clearance, *ids):
    run = job.shop.proof.take_out(clearance.remnants, ids)
    run_forked(job.shop.orders.carry_request(run))
    job.shop.ledger.take_in()
    return open_run(run.folder)


def test_one_finding_is_taken_out_at_once_and_the_rest_stays_till_it_is(removed):
    job, _hero, _command, profile, start, _ = removed
    first = job.clearance()
    assert {f.path.rsplit("/", 1)[1] for line in first.lines for _, f in line.found} >= {
        ".bashrc",
        "again.desktop",
    }
    alias = by_path(first, ".bashrc")
    assert (alias.line, alias.action, alias.before, alias.after) == (
        2,
        "take_out",
        ["export X=1"],
        ["alias ls='ls -l'"],
    )
    taken(job, first, alias.id)
    assert profile.read_text() == "export X=1\nalias ls='ls -l'\n" and start.exists()
    second = job.clearance()
    assert second.run == first.run and second.findings == first.findings - 1
    taken(job, second, *[f.id for line in second.lines for _, f in line.found if f.action == "take_out"])
    assert not start.exists()


def test_what_was_taken_out_is_put_back_exactly(removed):
    job, _, _command, profile, start, _ = removed
    before = profile.read_bytes(), profile.stat().st_mtime_ns, start.read_bytes(), start.stat().st_ino
    found = job.clearance()
    run = taken(job, found, by_path(found, ".bashrc").id, by_path(found, "again.desktop").id)
    visit, _ = job.shop.latest()
    row = next(r for r in job.shop.ledger.runs(visit.id) if r.id == run.id)
    assert row.left_of == found.run and job.row().id == found.run
    assert run_forked(job.shop.shelves.request("put_back", row, []))["left"] == 0
    assert before == (
        profile.read_bytes(),
        profile.stat().st_mtime_ns,
        start.read_bytes(),
        start.stat().st_ino,
    )


def test_somebodys_own_script_goes_only_when_it_is_named(removed):
    job, _, command, _, _, script = removed
    found = job.clearance()
    own = by_path(found, "mine.sh")
    assert own.action == "ask"
    rest = [f.id for line in found.lines for _, f in line.found if f.action == "take_out"]
    taken(job, found, *rest)
    assert command in script.read_text()
    again = job.clearance()
    taken(job, again, by_path(again, "mine.sh").id)
    assert script.read_text() == "#!/bin/sh\necho before\n"


def test_mentions_stand_apart_and_do_not_hinder_clear(removed):
    job, _, command, profile, start, script = removed
    for path in (profile, start, script):
        path.unlink()
    found = job.clearance()
    assert found.findings == 0 and found.searched
    (line,) = [x for x in found.lines if x.mentions]
    assert ("/etc/odd/x.yaml", 1, f"like: what {command} does") in [
        (m.path, m.line, m.text) for m in line.mentions
    ]
    with pytest.raises(Refused, match="nothing of what was found"):
        job.shop.proof.take_out(found.remnants, [line.mentions[0].id])


def test_a_file_that_changed_since_it_was_looked_at_is_left_alone_and_said_so(removed):
    job, _, command, profile, _, _ = removed
    found = job.clearance()
    profile.write_text(profile.read_text() + "# more\n")
    with pytest.raises(Refused, match="nothing to carry out"):
        job.shop.proof.take_out(found.remnants, [by_path(found, ".bashrc").id])
    assert command in profile.read_text()


def test_what_stands_at_its_place_again_goes_unless_somebodys_work_is_in_it(removed):
    job, _hero, _, _, _, _ = removed
    place = next(
        op.path for op in open_run(job.row().folder).plan.operations if "/.cache/" in getattr(op, "path", "")
    )
    inside = job.machine.root / place[1:]
    inside.mkdir()
    (inside / "x.tmp").write_text("again")
    found = job.clearance()
    again = by_path(found, place)
    assert (again.detail, again.action) == ("is there again", "take_out")
    taken(job, found, again.id)
    assert not inside.exists()
    inside.mkdir()
    (inside / "letter.odt").write_bytes(b"PK\3\4" + b"my work" * 2000)
    assert by_path(job.clearance(), place).action == "leave"


def test_left_with_a_reason_is_known_again_where_lines_moved_and_signed_for(removed):
    job, _, command, profile, _, _ = removed
    found = job.clearance()
    line, alias = next(
        (line.id, f) for line in found.lines for _, f in line.found if f.path.endswith(".bashrc")
    )
    job.shop.proof.leave(line, alias, "the owner wants it")
    profile.write_text("# one line more above\n" + profile.read_text())
    again = job.clearance()
    visit, _ = job.shop.latest()
    signed = job.shop.proof.sign_off(visit, Technician("Ragna", "Bench 4"))
    assert {f.path.rsplit("/", 1)[1]: f.why for f in signed.found}[".bashrc"] == "the owner wants it"
    assert signed.clearance == again.id and signed.digest == digest_of(signed)
    assert digest_of(replace(signed, could_not_look=signed.could_not_look + 1)) != signed.digest
    assert (
        job.shop.proof.signed(visit) == signed
        and job.shop.ledger.visit(job.shop.machine.key, visit.id).closed_at
    )
    late = job.machine.root / "etc/cron.d/late"
    late.parent.mkdir(exist_ok=True)
    late.write_text(f"1 2 * * * root {command}\n")
    request = job.shop.proof.clearance_request(job.row())
    run_forked(request)
    weeks_later = job.shop.proof.keep_clearance(visit, request)
    came = job.shop.proof.came_since(visit, weeks_later)
    assert [(family, f.path) for _, family, f in came] == [("schedules", "/etc/cron.d/late")]
    taken(job, weeks_later, by_path(weeks_later, "/etc/cron.d/late").id)
    assert not late.exists()


def test_nothing_is_signed_that_nobody_looked_at_again(tmp_path):
    job = copied(staged(), tmp_path / "machine")
    visit, _ = job.shop.latest()
    with pytest.raises(Refused, match="nothing was carried out"):
        job.shop.proof.sign_off(visit, Technician("Ragna"))
    job.carry(job.prepare(job.order(job.machine.id("map", "7"))))
    with pytest.raises(Refused, match="nobody has looked again"):
        job.shop.proof.sign_off(visit, Technician("Ragna"))
    assert job.shop.ledger.visit(job.shop.machine.key, visit.id).closed_at is None


def test_all_of_it_by_command(removed):
    job, _hero, command, profile, start, script = removed
    at = ("--root", str(job.machine.folder))
    said = cli("clearance", *at)
    assert (
        said.returncode == 1
        and "[--take-out " in said.stdout
        and "mentioned: /etc/odd/x.yaml, line 1" in said.stdout
    )
    own = next(x for x in said.stdout.splitlines() if "mine.sh" in x)
    id = own.rsplit(" ", 1)[1].rstrip("]")
    assert cli("clearance", *at, "--take-out", "nosuch").returncode == 2
    done = cli("clearance", *at, "--take-out", "all", "--leave", f"{id}=her own habit")
    assert done.returncode == 1 and "[left: her own habit]" in done.stdout and not start.exists()
    assert command in script.read_text() and "alias m=" not in profile.read_text()
    assert cli("sign-off", *at).returncode == 2
    signed = cli("sign-off", *at, "--name", "Ragna", "--workshop", "Bench 4", "--format", "json")
    document = read_document(SignOff, signed.stdout.encode(), "it")
    assert (document.technician.name, document.digest) == ("Ragna", digest_of(document))
    assert [f.why for f in document.found] == ["her own habit"]
    assert cli("technician", *at).stdout == "Ragna, Bench 4\n"
    start.write_text(f"[Desktop Entry]\nType=Application\nExec={command}\n")
    later = cli("clearance", *at)
    assert "since it was signed off" in later.stderr and "again.desktop" in later.stderr


def test_what_was_removed_by_other_means_is_traced_and_taken_out(tmp_path):
    job = Job(built(1).copy(tmp_path / "machine"), survey=False)
    root, at = job.machine.root, ("--root", str(job.machine.folder))
    (root / "etc/cron.d").mkdir(exist_ok=True)
    (root / "etc/cron.d/odd").write_text("1 2 3 * * root true\n4 5 6 * * root thimbleweft --x\n")
    (root / "opt/thimbleweft/bin").mkdir(parents=True)
    (root / "opt/thimbleweft/bin/x").write_text("x")
    done = cli("trace", "thimbleweft", *at, "--take-out", "all")
    assert done.returncode == 0, done.stdout + done.stderr
    assert (root / "etc/cron.d/odd").read_text() == "1 2 3 * * root true\n" and not (
        root / "opt/thimbleweft"
    ).exists()
    back = cli("put-back", "latest", *at)
    assert back.returncode == 0, back.stderr
    assert (root / "opt/thimbleweft/bin/x").exists() and "thimbleweft" in (
        root / "etc/cron.d/odd"
    ).read_text()


def test_after_signing_off_a_trace_leaves_the_newest_survey_the_newest(removed):
    job, _, _, _, _, _ = removed
    at = ("--root", str(job.machine.folder))
    visit, surveyed = job.shop.latest()
    job.clearance()
    job.shop.proof.sign_off(visit, Technician("Ragna"))
    (job.machine.root / "opt/thimbleweft").mkdir(parents=True)
    assert cli("trace", "thimbleweft", *at, "--take-out", "all").returncode == 0
    assert job.shop.latest()[1].survey.id == surveyed.survey.id
    assert cli("clearance", *at).returncode == 1 and not find(job.shop).problem


def test_a_trace_offers_nothing_that_a_registry_owns_or_that_is_somebodys_work(tmp_path):
    job = copied(staged(), tmp_path / "machine")
    hero = job.app(job.machine.id("map", "7"))
    at = ("--root", str(job.machine.folder), "--format", "json")
    home = next(p.home for p in job.surveyed.survey.people if p.name != "root")
    own = job.machine.root / home[1:] / "Thimbleweft"
    own.mkdir()
    (own / "letter.odt").write_bytes(b"PK\3\4" + b"x" * 20_000)
    found = json.loads(cli("trace", "thimbleweft", *at).stdout)
    (files,) = [c for c in found["cells"] if c["family"] == "files"]
    assert [(f["path"], f["action"]) for f in files["findings"]] == [(f"{home}/Thimbleweft", "leave")]
    found = json.loads(cli("trace", hero.packages[0], *at).stdout)
    program = hero.executables[0]
    assert all(f["action"] == "leave" for c in found["cells"] for f in c["findings"] if f["path"] == program)


def test_all_spares_what_was_left_with_a_reason(removed):
    job, _, _, profile, start, _ = removed
    at = ("--root", str(job.machine.folder))
    alias = by_path(job.clearance(), ".bashrc")
    before = profile.read_text()
    done = cli("clearance", *at, "--leave", f"{alias.id}=hers", "--take-out", "all")
    assert profile.read_text() == before and not start.exists() and "[left: hers]" in done.stdout


def test_a_program_that_no_registry_knows_and_that_stands_there_is_no_leftover(tmp_path):
    job = Job(built(1).copy(tmp_path / "machine"), survey=False)
    root, at = job.machine.root, ("--root", str(job.machine.folder))
    program = root / "usr/local/bin/thimbleweft"
    program.parent.mkdir(parents=True, exist_ok=True)
    program.write_text("#!/bin/sh\n")
    program.chmod(0o755)
    (root / "etc/cron.d").mkdir(exist_ok=True)
    (root / "etc/cron.d/odd").write_text("4 5 6 * * root thimbleweft --x\n")
    found = json.loads(cli("trace", "thimbleweft", *at, "--format", "json").stdout)
    rows = [f for c in found["cells"] for f in c["findings"]]
    assert rows and {f["action"] for f in rows} == {"leave"}
    program.unlink()
    program.symlink_to("/opt/gone/thimbleweft")
    found = json.loads(cli("trace", "thimbleweft", *at, "--format", "json").stdout)
    assert "take_out" in {f["action"] for c in found["cells"] for f in c["findings"]}


@pytest.mark.parametrize(
    ("reason", "helps"),
    [
        ("required key not available", "edda unlocks the home"),
        ("may not be read", "administrator rights"),
        ("input/output error", "check the disk"),
        ("is larger than the 16 MB that are read of such a file", "by hand"),
        ("is not a regular file", "take it away"),
        ("line 3: no section", "have it mended"),
    ],
)
def test_what_could_not_be_looked_at_says_what_would_help(reason, helps):
    person = Person("edda", 1050, "/home/edda", "part")
    assert helps in what_helps(NotRead("/home/edda/.config/x", reason), [person])


def test_reports_that_cannot_be_written_and_broken_settings_are_said_by_name(tmp_path):
    job = copied(staged(), tmp_path / "machine")
    at = ("--root", str(job.machine.folder))
    for name in ("x.pdf", "x.html", "x.cdx.json"):
        said = cli("report", *at, "-o", str(tmp_path / "nowhere" / name))
        assert said.returncode == 2 and "nowhere" in said.stderr and "cannot be written" in said.stderr
    visit, _ = job.shop.latest()
    (tmp_path / f"folder/visit-{visit.number}-page.html").mkdir(parents=True)
    assert cli("report", *at, "-o", str(tmp_path / "folder")).returncode == 2
    (job.shop.ledger.folder / "technician.json").write_text("[1]")
    said = cli("technician", *at)
    assert said.returncode == 1 and "technician.json" in said.stderr


def test_what_points_at_an_application_that_is_still_here_is_no_leftover(tmp_path):
    machine = built(1).copy(tmp_path / "machine")
    job = Job(machine)
    hero = job.app(machine.id("map", "7"))
    at = ("--root", str(machine.folder))
    for name in (hero.packages[0], hero.executables[0]):
        found = json.loads(cli("trace", name, *at, "--format", "json").stdout)
        rows = [f for c in found["cells"] for f in c["findings"]]
        assert rows and {f["action"] for f in rows} == {"leave"} and found["remnants"] == ""
        assert cli("trace", name, *at, "--take-out", "all").returncode == 2
    job.carry(job.prepare(job.order(hero.id)))
    assert job.put_back()["left"] == 0
    rows = [f for line in job.clearance().lines for _, f in line.found]
    assert rows and {f.action for f in rows} == {"leave"}


def test_a_home_that_is_not_there_is_never_clear_and_says_what_helps(removed):
    job, _, _, _, _, _ = removed
    with (job.machine.root / "etc/passwd").open("a") as people:
        people.write("away:x:1077:1077::/home/away:/bin/sh\n")
    found = job.clearance()
    cells = [c for line in found.lines for c in line.cells if c.family in ("file_types", "recents")]
    assert cells and all(c.state != "clear" for c in cells)
    unseen = [c for c in cells if c.state == "could_not_look"]
    assert (
        all("/home/away" in c.looked_at and c.helps.startswith("mount the volume") for c in unseen) and unseen
    )


def test_who_runs_it_or_holds_what_went_is_found_with_the_bytes_that_wait(removed):
    job, _hero, _, profile, start, script = removed
    for path in (profile, start, script):
        path.unlink()
    plan = open_run(job.row().folder).plan
    place = next(op.path for op in plan.operations if "/.cache/" in getattr(op, "path", ""))
    held = job.machine.root / place[1:]
    held.write_bytes(os.urandom(2_000_000))
    reader = subprocess.Popen(["sleep", "60"], stdin=held.open("rb"))
    try:
        held.unlink()
        found = job.clearance()
        (cell,) = [c for c in found.lines[0].cells if c.family == "processes"]
        (finding,) = cell.findings
        assert finding.path == place and f"process {reader.pid}" in finding.text
        assert "which has no name any more: 2.0 MB come back when it ends" in finding.detail
        assert sum(v.still_open for v in found.volumes) >= 2_000_000
    finally:
        reader.kill()
        reader.wait()


def test_a_ledger_of_before_learns_to_sign(tmp_path):
    file = tmp_path / "ledger.sqlite"
    Ledger(file)
    with contextlib.closing(sqlite3.connect(file)) as base:
        base.executescript(_AS_BEFORE)
    assert Ledger(file).left("nobody") == {}


_AS_BEFORE = """
DROP TABLE left_findings; DROP TABLE sign_offs;
ALTER TABLE surveys DROP COLUMN left_of; ALTER TABLE runs DROP COLUMN left_of;
UPDATE alembic_version SET version_num = '0002';
"""
