"""Belongings, use, ledger, clearance and reports, each on small made-up ground of its own."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job
from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.candidates import Place, candidates
from swept_shelf.core.belongings.claims import Claim, claim_places
from swept_shelf.core.belongings.common import is_common, is_distinctive, normal
from swept_shelf.core.belongings.names import Declared, distinct
from swept_shelf.core.belongings.resolve import Ruling, resolve
from swept_shelf.core.carry.journal import Journal, check, damaged, read_journal
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.run import Entry
from swept_shelf.core.documents.survey import Person, Proof, Volume
from swept_shelf.core.documents.wire import from_plain
from swept_shelf.core.ledger import Ledger
from swept_shelf.core.machine import open_machine
from swept_shelf.core.reports import report_html, report_json
from swept_shelf.core.tree.walk import walk

ANNA = Person("anna", 1001, "/home/anna")
VOLUME = Volume("v", "/", "", "ext4", "relatime", False, 10**9, 0, 10**9, 0, 0)


@pytest.fixture
def home(tmp_path):
    """Files below /home/anna by name; returns a function that makes them and walks."""

    def make(*names: str):
        for name in names:
            path = tmp_path / "home/anna" / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text("x" * 100)
        return walk(open_machine(tmp_path))

    return make


def claims(tree, names: dict[str, str], declared: dict[str, list[str]]):
    places = candidates(tree, [ANNA], {}, {})
    told = {id: [Declared(p, "/usr/bin/x", 1, p) for p in paths] for id, paths in declared.items()}
    return places, claim_places(
        places,
        tree,
        [ANNA],
        names,
        {i: {n: "its package" for n, x in names.items() if x == i} for i in set(names.values())},
        told,
    )


def test_a_distinctive_name_claims_a_folder_and_a_common_folder_is_nobodys(home):
    tree = home(
        ".config/plotter/a",
        ".config/gtk-3.0/settings.ini",
        ".config/other/b",
        ".plotterrc",
        ".plotterring/x",
        "plotter/mine",
    )
    places, found = claims(tree, {"plotter": "p"}, {})
    assert {k for k, v in found.items() if v} == {"/home/anna/.config/plotter", "/home/anna/.plotterrc"}
    assert "/home/anna/.config/gtk-3.0" not in {p.path for p in places}
    assert "/home/anna/plotter" not in {p.path for p in places}


def test_a_name_in_its_own_program_beats_a_name_alone(home):
    tree = home(".config/Maps/7.conf")
    _, found = claims(tree, {"maps": "by-name"}, {"by-program": [".config/Maps"]})
    verdict = resolve(found, {})["/home/anna/.config/Maps"]
    assert (verdict.claim.id, verdict.share) == ("by-program", "sole")


def test_the_same_proof_by_two_makes_it_shared(home):
    tree = home(".config/Suite/x")
    _, found = claims(tree, {}, {"a": [".config/Suite"], "b": [".config/Suite"]})
    verdict = resolve(found, {})["/home/anna/.config/Suite"]
    assert (verdict.claim.id, verdict.others, verdict.share) == ("a", ["b"], "shared")


def test_a_vendor_folder_of_two_is_each_ones_part_and_the_rest_is_shared(home):
    tree = home(".config/Vendor/One/x", ".config/Vendor/Two/y", ".config/Vendor/licence.txt")
    places, found = claims(tree, {}, {"one": [".config/Vendor/One"], "two": [".config/Vendor/Two"]})
    assert [c.id for c in found["/home/anna/.config/Vendor/One"]] == ["one"]
    top = next(p for p in places if p.path == "/home/anna/.config/Vendor")
    made = Maker(tree, [VOLUME]).place(
        top, resolve(found, {})[top.path], ["/home/anna/.config/Vendor/One", "/home/anna/.config/Vendor/Two"]
    )
    assert [(b.path, b.share, b.ticked) for _, b in made] == [
        ("/home/anna/.config/Vendor/licence.txt", "shared", False)
    ]


def test_caches_logs_and_personal_work_are_split_out_and_add_up(home):
    tree = home(
        ".local/share/p/a.bin",
        ".local/share/p/Cache/c",
        ".local/share/p/deep/x.log",
        ".local/share/p/Drawings/d.svg",
        ".local/share/p/deep/e",
    )
    place = Place("/home/anna/.local/share/p", "anna", "support", ".local/share/p")
    made = [
        b
        for _, b in Maker(tree, [VOLUME]).place(
            place, Ruling("sole", Claim("p", "declared", "x", [Proof("declared")]), []), []
        )
    ]
    assert {b.path.rsplit("/", 1)[1]: (b.kind, b.personal, b.ticked) for b in made} == {
        "p": ("support", False, True),
        "Cache": ("cache", False, True),
        "x.log": ("log", False, True),
        "Drawings": ("support", True, False),
    }
    assert sum(b.bytes for b in made) == tree.bytes_below(place.path)
    assert sum(b.files for b in made) == tree.files_below(place.path)


@given(st.text(max_size=12))
def test_names_are_compared_by_letters_and_digits_alone(name):
    assert normal(normal(name)) == normal(name)
    assert normal(name).isalnum() or normal(name) == ""
    assert not is_distinctive(name) or len(normal(name)) >= 4


def test_short_ordinary_and_doubled_names_prove_nothing():
    assert not is_distinctive("mc") and not is_distinctive("Notes") and is_distinctive("Woadtally")
    assert distinct({"a": {"same": ""}, "b": {"same": "", "own": ""}}) == {"own": "b"}
    assert is_common("fontconfig", False) and is_common("ssl", True) and not is_common("woadtally", False)


# -- journal ------------------------------------------------------------------------------------------------


def test_a_line_cut_off_by_a_crash_is_ended_and_left_out(tmp_path):
    journal = Journal(tmp_path / "j")
    journal.write("mode", mode="carry_out")
    journal.write("begin", n=1)
    journal.close()
    with open(tmp_path / "j", "ab") as handle:
        handle.write(b'{"event": "done", "n"')
    again = Journal(tmp_path / "j")
    again.write("done", n=1)
    again.close()
    assert [r.event for r in read_journal(tmp_path / "j")] == ["mode", "begin", "done"]
    assert check(read_journal(tmp_path / "j")) == []


def entries(*said):
    at = "2026-01-01T00:00:00Z"
    return [from_plain(Entry, {"event": event, "at": at, **more}) for event, more in said]


def test_the_journals_invariants_are_really_checked():
    one, two = ("begin", {"n": 1}), ("begin", {"n": 2})
    assert check(entries(one, two))
    assert check(entries(one, ("done", {"n": 2})))
    assert check(entries(one, ("mode", {"mode": "carry_out"}), one, ("skipped", {"n": 1}))) == []


def test_a_record_that_is_none_is_named_and_left_out(tmp_path):
    whole = '{"event": "mode", "at": "2026-01-01T00:00:00Z", "mode": "carry_out"}'
    lines = [
        whole,
        "[]",
        '{"event": "begin", "at": "2026-01-01T00:00:00Z"}',
        '{"event": "begin", "at": "2026-01-01T00:00:00Z", "n": 1, "x": 2}',
    ]
    (tmp_path / "j").write_text("\n".join([*lines, whole, '{"event": "d']))
    assert [e.event for e in read_journal(tmp_path / "j")] == ["mode", "mode"]
    assert damaged(tmp_path / "j") == [2, 3, 4]


# -- ledger -------------------------------------------------------------------------------------------------


def test_surveys_join_the_open_visit_until_it_is_closed_or_a_day_old(job: Job):
    ledger, key = job.shop.ledger, job.shop.machine.key
    assert [v.number for v in ledger.visits(key)] == [1]
    job.survey()
    assert [(v.number, v.surveys) for v in ledger.visits(key)] == [(1, 2)]
    ledger.close_visit(key)
    job.survey()
    assert [v.number for v in ledger.visits(key)] == [2, 1]
    from sqlalchemy import text

    with ledger._engine.begin() as connection:
        connection.execute(
            text("UPDATE visits SET last_act_at = '2020-01-01 00:00:00.000000' WHERE number = 2")
        )
    job.survey()
    assert [(v.number, v.closed_at is None) for v in ledger.visits(key)] == [
        (3, True),
        (2, False),
        (1, False),
    ]
    assert ledger.visit(key, "2").number == 2 and ledger.visit(key, ledger.visit(key, "1").id).number == 1
    with pytest.raises(Refused, match="no visit 9"):
        ledger.visit(key, "9")


def test_a_visit_with_an_unfinished_run_stays_open(job: Job):
    job.prepare(job.order(job.machine.id("match")))
    with pytest.raises(Refused, match="unfinished run"):
        job.shop.ledger.close_visit(job.shop.machine.key)


def test_a_ledger_of_a_newer_version_is_refused(tmp_path):
    from sqlalchemy import text

    ledger = Ledger(tmp_path / "l.sqlite")
    with ledger._engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    with pytest.raises(CouldNotRead, match="newer version"):
        Ledger(tmp_path / "l.sqlite")


def test_a_run_is_taken_in_once_and_a_moved_ledger_finds_its_surveys(job: Job, tmp_path):
    run = job.prepare(job.order(job.machine.id("match")))
    job.carry(run)
    assert job.shop.ledger.take_in() == []
    assert job.shop.ledger.runs(job.shop.latest()[0].id)[0].result.state == "carried_out"
    moved = job.machine.folder / "elsewhere"
    (job.machine.folder / "ledger").rename(moved)
    again = Ledger(moved / "ledger.sqlite")
    visit = again.visit(job.shop.machine.key)
    assert again.survey(visit.id)[0] == job.surveyed.survey
    assert again.runs(visit.id)[0].folder.parent == moved / "runs"


# -- clearance and report -----------------------------------------------------------------------------------


def test_what_points_at_it_again_is_found_with_file_and_line(job: Job):
    hero = job.machine.id("map", "7")
    name = hero.removeprefix("debian:")
    job.carry(job.prepare(job.order(hero)))
    (job.machine.root / "etc/cron.d/again").write_text(f"# first\n1 2 * * * root {name} --x\nlast\n")
    (job.machine.root / f"usr/bin/{name}").write_text("back")
    cells = {c.family: c for c in job.clearance().lines[0].cells}
    (cron,) = cells["schedules"].findings
    assert (cron.path, cron.line, cron.before, cron.after) == ("/etc/cron.d/again", 2, ["# first"], ["last"])
    assert [f.path for f in cells["files"].findings] == [f"/usr/bin/{name}"]
    assert cells["startup"].state == "clear" and cells["security"].state == "clear"


def test_a_registry_that_cannot_be_read_is_could_not_look(job: Job):
    job.carry(job.prepare(job.order(job.machine.id("match"))))
    (job.machine.root / "var/lib/dpkg/status").write_text("")
    found = job.clearance()
    assert {c.family: c.state for c in found.lines[0].cells}["registry"] == "could_not_look"
    assert any("is empty" in n.reason for n in found.not_read)


def test_the_report_tells_what_was_done_skipped_proved_and_escapes_names(job: Job):
    hero = job.machine.id("map", "7")
    job.carry(job.prepare(job.order(hero)))
    job.clearance()
    visit, _ = job.shop.latest()
    report = job.shop.proof.report(visit)
    page, plain = report_html(report), json.loads(report_json(report))
    assert job.app(hero).name in page and "promised by order 1.1" in page
    assert plain["run"]["state"] == "carried_out" and plain["clearance"]["lines"][0]["id"] == hero
    odd = replace(
        report, survey=replace(report.survey, machine=replace(report.survey.machine, name="<b>&\udcff"))
    )
    assert "&lt;b&gt;&amp;" in report_html(odd)
    line = report.clearance.lines[0]
    cells = [
        replace(c, looked_at="2 paths; /usr/bin/it stays: Lookout needs it") if c.family == "files" else c
        for c in line.cells
    ]
    partly = replace(report, clearance=replace(report.clearance, lines=[replace(line, cells=cells)]))
    assert f"{line.name}: /usr/bin/it stays: Lookout needs it." in report_html(partly)
    nothing = replace(report, order=None, result=None, clearance=None)
    assert "Nothing was changed" in report_html(nothing)
    job.put_back()
    assert "put back on" in report_html(job.shop.proof.report(job.shop.latest()[0]))
