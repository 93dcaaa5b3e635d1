"""An order of another day, or of another ledger, for the same machine: drawn by what is there now, and never more than it says."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from evidence import DESKTOP, ago
from helpers import cli, differences, picture
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.wire import read_order, to_json
from swept_shelf.core.orders.draw import Choice
from swept_shelf.workshop import Workshop


def test_drawn_on_the_bench_it_is_carried_out_where_the_disk_lives_with_a_ledger_of_its_own(job, tmp_path):
    """The whole way on the command line: another ledger has no survey of it, and says what to do."""
    machine, hero = job.machine, job.machine.id("map", "7")
    before = picture(machine.root)
    order = job.order(hero, answers={f"personal:{hero}": "they_stay"})
    file = tmp_path / "order.json"
    file.write_bytes(to_json(order))
    at = ("--root", str(machine.folder), "--ledger", str(tmp_path / "other/ledger.sqlite"))
    assert cli("survey", *at).returncode == 0
    refused = cli("carry-out", *at, str(file))
    assert refused.returncode == 2 and "order --from FILE" in refused.stderr
    again = tmp_path / "again.json"
    said = cli("order", *at, "--from", str(file), "-o", str(again))
    assert said.returncode == 0 and "differs" not in said.stderr, said.stderr
    drawn = read_order(again.read_bytes(), "again")
    assert drawn.lines == order.lines and drawn.packages == order.packages and not drawn.unsettled
    done = cli("carry-out", *at, str(again))
    assert done.returncode == 0, done.stderr
    unknown = cli("put-back", *at, "debian:nobody")
    assert unknown.returncode == 2 and "nobody" in unknown.stderr
    assert cli("put-back", *at, hero).returncode == 0  # of the latest visit
    assert differences(before, picture(machine.root)) == []


def test_what_went_or_came_since_is_said_and_what_came_is_left(job, tmp_path):
    machine, hero = job.machine, job.machine.id("map", "7")
    order = job.order(hero, answers={f"personal:{hero}": "they_stay"})
    line = order.line(hero)
    folders = [p for p in line.ticks if (machine.root / p[1:]).is_dir()]
    lost, kept = [p for p in folders if not any(q != p and (within(q, p) or within(p, q)) for q in folders)][
        :2
    ]
    (machine.root / lost[1:]).rename(machine.root / "srv-elsewhere")
    unticked = job.order(hero, answers={f"personal:{hero}": "they_stay"}, unticked=frozenset({kept}))
    job.survey()
    visit, surveyed = job.shop.latest()
    again = job.shop.orders.draw_again(order, visit, surveyed, "o.json")
    assert set(again.order.line(hero).ticks) == set(line.ticks) - {lost}
    assert any(lost in d and "not here" in d for d in again.differs)
    left = job.shop.orders.draw_again(unticked, visit, surveyed, "o.json").order.line(hero)
    assert kept not in left.ticks
    nothing = replace(order, lines=[replace(line, references=[])])
    bare = job.shop.orders.draw_again(nothing, visit, surveyed, "o.json")
    assert bare.order.line(hero).references == []
    assert any("not in its file, left" in d for d in bare.differs)


def test_an_answer_counts_only_to_the_question_that_was_asked(job):
    hero = job.machine.id("map", "7")
    order = job.order(hero, answers={f"personal:{hero}": "go_too"})
    visit, surveyed = job.shop.latest()
    same = job.shop.orders.draw_again(order, visit, surveyed, "o.json")
    assert same.differs == [] and not same.order.unsettled
    other = replace(order, settle=[replace(s, evidence="something else") for s in order.settle])
    asked = job.shop.orders.draw_again(other, visit, surveyed, "o.json")
    assert [s.id for s in asked.order.unsettled] == [f"personal:{hero}"]
    assert any("answered again" in d for d in asked.differs)


def test_of_another_machine_or_of_nothing_here_it_is_refused(job):
    visit, surveyed = job.shop.latest()
    order = job.order(job.machine.id("quest"))
    with pytest.raises(Refused, match="another machine"):
        other = replace(order, machine=replace(order.machine, key="x"))
        job.shop.orders.draw_again(other, visit, surveyed, "o.json")
    with pytest.raises(Refused, match="nothing that the latest survey has"):
        unknown = replace(order, lines=[replace(order.lines[0], id="debian:nobody")])
        job.shop.orders.draw_again(unknown, visit, surveyed, "o.json")


def test_whatever_an_edited_file_says_only_what_the_survey_bears_out_is_drawn(job):
    """Paths of others, packages, references that are none: what is drawn is what a choice could give."""
    hero = job.machine.id("map", "7")
    visit, surveyed = job.shop.latest()
    order = job.order(hero)
    line = order.lines[0]
    edited = replace(
        order,
        lines=[
            replace(
                line, ticks=["/etc/passwd", "/home", *line.ticks], packages=["dpkg"], references=["f" * 12]
            )
        ],
    )
    again = job.shop.orders.draw_again(edited, visit, surveyed, "o.json")
    plain = job.shop.orders.draw(visit, surveyed, Choice({hero: "remove"}))
    assert again.order.lines[0].ticks == plain.lines[0].ticks
    assert again.order.packages == plain.packages and again.order.lines[0].references == []
    text = json.loads(to_json(order))
    text["lines"][0]["verdict"] = "burn"
    with pytest.raises(Refused):
        read_order(json.dumps(text).encode(), "o.json")


def test_an_application_that_came_meanwhile_goes_with_nobody(room, tmp_path):
    at = ("--root", str(room.root), "--ledger", str(tmp_path / "ledger.sqlite"))
    cli("survey", *at)
    file = tmp_path / "o.json"
    assert cli("order", *at, DESKTOP, "-o", str(file)).returncode == 0
    room.home("vera", f".config/{DESKTOP}/new.ini", "a=1\n", ago(1))
    cli("survey", *at)
    said = cli("order", *at, "--from", str(file), "--keep", DESKTOP)
    assert said.returncode == 2 and "--from takes the whole" in said.stderr
    again = cli("order", *at, "--from", str(file))
    assert again.returncode == 0, again.stderr
    assert f"/home/vera/.config/{DESKTOP}" not in again.stdout
    shop = Workshop(str(room.root), str(tmp_path / "ledger.sqlite"))
    assert shop.latest()[1].survey.find(f"debian:{DESKTOP}")
