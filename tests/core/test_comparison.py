"""Two surveys beside each other, and why a volume is full: what came, went, grew, moved, and what is newly pointed at."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job, cli
from swept_shelf.core.documents.comparison import Comparison, What
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.survey import BytesBy, Kinds, Survey
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.documents.wire import from_plain, to_json
from swept_shelf.core.reports import (
    UNMISSED,
    compare,
    comparison_csv,
    comparison_cyclonedx,
    in_words,
    why_full,
)
from swept_shelf.core.survey.conditions import read_conditions


@pytest.fixture(scope="module")
def survey(tmp_path_factory) -> Survey:
    from helpers import built

    return Job(built(1).copy(tmp_path_factory.mktemp("compared") / "machine")).surveyed.survey


def later(survey: Survey, **changes) -> Survey:
    """The survey some months on; `changes` by the place of an application: another one, or None."""
    apps = [changes.get(f"a{i}", a) for i, a in enumerate(survey.applications)]
    return replace(
        survey,
        id="later",
        surveyed_at=survey.surveyed_at + timedelta(days=80),
        applications=[a for a in apps if a is not None],
    )


def holds(app, total: int, volume: str):
    return replace(
        app, bytes=Kinds(support=total), bytes_by=[BytesBy(volume, "everyone", Kind.SUPPORT, total)]
    )


def test_what_came_went_grew_moved_and_changed_is_said_with_its_figures(survey):
    root, home = (v.id for v in survey.volumes[:2])
    apps = survey.applications
    before = later(
        survey,
        a0=None,
        a1=holds(apps[1], 5000, root),
        a2=holds(apps[2], 7000, root),
        a3=holds(apps[3], 10, root),
    )
    after = later(
        survey,
        a1=holds(apps[1], 9000, root),
        a2=holds(apps[2], 7000, home),
        a3=replace(holds(apps[3], 10, root), version="99"),
        a4=None,
    )
    found = {c.id: c for c in compare(before, after).changes}
    assert found[apps[0].id].what == What.CAME and found[apps[0].id].note.startswith("came")
    grew = found[apps[1].id]
    assert (grew.what, grew.more, grew.volumes) == (What.GREW, 4000, {"/": 4000})
    moved = found[apps[2].id]
    assert moved.what == What.MOVED and (moved.moves[0].from_, moved.moves[0].to, moved.moves[0].bytes) == (
        "/",
        "/home",
        7000,
    )
    assert found[apps[3].id].what == What.CHANGED and found[apps[4].id].what == What.WENT


def test_a_reference_on_one_side_only_is_newly_or_no_longer_pointed_at(survey):
    app = next(a for a in survey.applications if len([r for r in a.references if not r.mention]) > 1)
    number = survey.applications.index(app)
    fewer = later(survey, **{f"a{number}": replace(app, references=app.references[1:])})
    new = [p for p in compare(fewer, later(survey)).pointed if not app.references[0].mention]
    gone = compare(later(survey), fewer).pointed
    for found, is_new in ((new, True), (gone, False)):
        (one,) = found
        assert (one.application, one.new, one.path) == (app.id, is_new, app.references[0].path)


@given(
    st.lists(st.one_of(st.none(), st.integers(0, 10**6)), min_size=4, max_size=4),
    st.lists(st.one_of(st.none(), st.integers(0, 10**6)), min_size=4, max_size=4),
)
def test_turned_round_what_came_went_and_what_grew_shrank(survey, then, now):
    """And every application on either side is there once, with the sums of both sides."""
    root = survey.volumes[0].id

    def made(sizes):
        four = {
            f"a{i}": None if n is None else holds(survey.applications[i], n, root)
            for i, n in enumerate(sizes)
        }
        return later(replace(survey, applications=survey.applications[:4]), **four)

    a, b = made(then), made(now)
    forth, back = (
        {c.id: c for c in compare(*pair).changes if c.of == "application"} for pair in ((a, b), (b, a))
    )
    turned = {What.CAME: What.WENT, What.WENT: What.CAME, What.GREW: What.SHRANK, What.SHRANK: What.GREW}
    assert {i: turned.get(c.what, c.what) for i, c in forth.items()} == {i: c.what for i, c in back.items()}
    assert sum(c.more for c in forth.values()) == sum(x.bytes.total for x in b.applications) - sum(
        x.bytes.total for x in a.applications
    )
    assert all(c.what == What.SAME for c in compare(a, a).changes)


def test_the_comparison_goes_out_as_json_csv_and_cyclonedx(survey):
    found = compare(later(survey, a0=None), later(survey, a1=None))
    assert from_plain(Comparison, json.loads(to_json(found))) == found
    rows = list(csv.DictReader(io.StringIO(comparison_csv(found, found.changes).decode())))
    assert {r["id"]: r["what"] for r in rows}[survey.applications[0].id] == "came"
    assert sum(int(r["more"]) for r in rows if r["of"] == "application") == sum(
        c.more for c in found.changes if c.of == "application"
    )
    bom = json.loads(comparison_cyclonedx(found))
    scopes = {c["bom-ref"]: c["scope"] for c in bom["components"]}
    assert scopes[survey.applications[1].id] == "excluded" and scopes[survey.applications[0].id] == "required"


def test_two_visits_are_compared_on_the_command_line_and_a_first_visit_has_nothing_beside_it(
    made_up, tmp_path
):
    job = Job(made_up)
    at = ("--root", str(made_up.folder))
    alone = cli(*at, "compare")
    assert alone.returncode == 2 and "once only" in alone.stderr
    visit = job.shop.latest()[0]
    first = job.surveyed.folder / "survey.json"
    kept = tmp_path / "first.json"
    kept.write_bytes(first.read_bytes())
    assert cli(*at, "visits", "--close", "latest").returncode == 0
    home = next(p for p in (made_up.root / "home").iterdir() if (p / ".cache").exists())
    app = next(
        a
        for a in job.surveyed.survey.applications
        if any(b.path.startswith(f"/home/{home.name}/.cache") for b in a.belongings)
    )
    cache = next(b.path for b in app.belongings if b.path.startswith(f"/home/{home.name}/.cache"))
    target = made_up.root / cache[1:]
    (target / "more" if target.is_dir() else target).write_bytes(bytes(3_000_000))
    job.survey()
    for before in (str(visit.number), visit.id, str(kept), "1"):
        said = cli(*at, "compare", before, "--format", "json")
        assert said.returncode == 0, said.stderr
        found = from_plain(Comparison, json.loads(said.stdout))
        grew = next(c for c in found.changes if c.id == app.id)
        assert grew.what == What.GREW and 2_900_000 < grew.more < 3_100_000
    shown = cli(*at, "compare", "--over", "1MB").stdout
    assert app.name in shown and "+3.0 MB" in shown and "visit 1" in shown
    assert cli(*at, "compare", "--over", "1GB").stdout.count("nothing came, went or changed") == 1
    assert "Since" in cli(*at, "survey", "--kept").stdout.split("\n")[0]
    for wrong, why in (
        ("9", "no visit 9"),
        (str(made_up.folder / "machine.json"), "is not a survey"),
        ("/none.json", "no such file"),
    ):
        refused = cli(*at, "compare", wrong)
        assert refused.returncode in (1, 2) and why in refused.stderr and "Traceback" not in refused.stderr
    with pytest.raises((Refused, CouldNotRead)):
        job.shop.compare("nonsense")


# -- why it is full -----------------------------------------------------------------------------------------


def test_the_sentence_says_how_full_what_holds_it_what_nobody_would_miss_and_what_grew(survey):
    unmissed = [
        e for e in read_conditions(UNMISSED, survey.surveyed_at).matching(survey) if e in survey.applications
    ]
    parts = why_full(survey, unmissed)
    said = in_words(parts)
    fullest = max(survey.volumes, key=lambda v: v.used / (v.used + v.free))
    assert said.startswith(f"{fullest.mount} is ") and "% full." in said and "applications " in said
    assert {p.leads for p in parts if p.leads} >= {"where:", f"where:{UNMISSED}"}
    root = next(v for v in survey.volumes if v.mount == fullest.mount)
    grown = replace(root, used=root.used + 10**9)
    app = survey.applications[0]
    more = replace(app, bytes_by=[*app.bytes_by, BytesBy(root.id, "everyone", Kind.CACHE, 9 * 10**8)])
    after = replace(later(survey, a0=more), volumes=[grown if v is root else v for v in survey.volumes])
    since = in_words(why_full(after, unmissed, compare(survey, after)))
    assert f"it grew by 1.0 GB, most of it {app.name} +900 MB" in since
    assert "as full as it was" in in_words(why_full(survey, unmissed, compare(survey, survey)))


def test_without_volumes_that_say_their_size_there_is_no_sentence(survey):
    assert why_full(replace(survey, volumes=[]), []) == []
    assert why_full(replace(survey, accounts=[]), []) == []


def test_what_came_lately_is_not_unused_for_having_no_sign_yet(survey):
    app = next(a for a in survey.applications if a.last_use.at is None and a.installed.first)
    for days, unused in ((10, False), (400, True)):
        came = replace(app.installed, first=survey.surveyed_at - timedelta(days=days))
        one = replace(survey, applications=[replace(app, installed=came, running=[])], left_behind=[])
        assert bool(read_conditions("unused=1y", survey.surveyed_at).matching(one)) == unused
