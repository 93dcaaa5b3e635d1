"""Questions to a survey: where the bytes are and whose, whose a path is, why it is here, what a filter line means."""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job, built, cli
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, parse_bytes
from swept_shelf.core.reports.inventory import inventory_csv, inventory_cyclonedx
from swept_shelf.core.survey.conditions import NAMES, SORTS, read_conditions, since, sort_key
from swept_shelf.core.survey.facts import why_here
from swept_shelf.core.survey.places import WHOSE, look_into
from swept_shelf.core.survey.whose import whose_is

NOW = datetime(2026, 5, 17, 12, 30, tzinfo=UTC)


@pytest.fixture(scope="module")
def seen(tmp_path_factory):
    return Job(built(1).copy(tmp_path_factory.mktemp("asking") / "m"))


def test_in_every_folder_the_parts_add_up_to_it_and_the_owners_to_each_part(seen):
    index, folders = seen.surveyed.index, ["/"]
    files = 0
    while folders:
        folder = look_into(index, folders.pop())
        own = index.row(folder.path).bytes
        assert own + sum(p.bytes for p in folder.parts) == folder.bytes, folder.path
        assert sum(p.files for p in folder.parts) == folder.files
        assert [p.bytes for p in folder.parts] == sorted((p.bytes for p in folder.parts), reverse=True)
        for part in folder.parts:
            assert sum(s.bytes for s in part.shares) == part.bytes
            assert [WHOSE.index(s.whose) for s in part.shares] == sorted(
                WHOSE.index(s.whose) for s in part.shares
            )
            folders += [part.path] if part.type == "folder" else []
            files += part.type != "folder"
    names = [
        p
        for d, fs, ns in os.walk(seen.machine.root)
        for n in (*fs, *ns)
        if not os.path.isdir(p := os.path.join(d, n)) or os.path.islink(p)
    ]
    assert files == len([n for n in names if "/.swept-shelf/" not in n])


def test_the_root_holds_what_du_says(seen):
    said = subprocess.run(["du", "-s", "-B1", str(seen.machine.root)], capture_output=True, text=True).stdout
    assert look_into(seen.surveyed.index, "/").bytes == int(said.split()[0])


def test_the_largest_files_are_the_largest_below_the_folder(seen, tmp_path):
    sparse = seen.machine.root / "home/isolde/Documents/sheet.img"
    with open(sparse, "wb") as handle:
        handle.write(b"x" * 11_000_000)
        handle.truncate(500_000_000)
    again = Job(seen.machine)
    (large,) = look_into(again.surveyed.index, "/home", 10_000_000).large
    assert large.path == "/home/isolde/Documents/sheet.img" and 11_000_000 <= large.bytes < 12_000_000
    assert large.whose == "person"
    assert look_into(again.surveyed.index, "/usr", 10_000_000).large == ()
    sparse.unlink()
    seen.survey()


@pytest.mark.parametrize("kind", ["map_sole", "personal", "shared", "decoys", "left", "others"])
def test_whose_a_path_is_agrees_with_the_truth(seen, kind):
    truth, hero = seen.machine.truth, seen.machine.id("map", "7")
    for path in truth[kind]:
        answer = whose_is(seen.surveyed.survey, seen.surveyed.index, seen.shop.machine, path)
        if kind == "map_sole":
            assert answer.owner == hero and answer.evidence and answer.reason, path
        elif kind in ("personal", "decoys"):
            assert answer.whose == "person", (path, answer)
        elif kind == "left":
            assert answer.owner.startswith("left:"), (path, answer)
        elif kind == "shared":
            assert "; stays for" in answer.reason or answer.whose == "nobody", (path, answer)
        else:
            assert answer.owner != hero, (path, answer)


def test_whose_a_packages_file_is_names_the_package_through_links_too(seen):
    hero = seen.machine.id("map", "7")
    program = seen.app(hero).executables[0]
    ask = lambda path: whose_is(seen.surveyed.survey, seen.surveyed.index, seen.shop.machine, path)  # noqa: E731
    assert ask(program).owner == hero and ask(program).packages == [hero.removeprefix("debian:")]
    for path, words in (("/no/such/place", "nothing stands there"), ("/var/lib/dpkg/status", "system works")):
        assert words in ask(path).reason
    new = seen.machine.root / "srv/brought-along"
    new.write_text("x")
    assert (
        "new since the survey" in ask("/srv/brought-along").reason
        and ask("/srv/brought-along").whose == "nobody"
    )
    new.unlink()
    line = next(r for r in seen.app(hero).references if not r.mention)
    assert hero in [p.owner for p in ask(line.path).points_at]


def test_why_it_is_here_names_who_asked_and_who_needs_it(seen):
    survey = seen.surveyed.survey
    for app in survey.applications:
        lines = " | ".join(why_here(survey, app))
        assert lines.startswith("asked for") == app.requested_by.startswith("asked for"), app.id
        assert all(survey.find(i).name in lines for i in app.needed_by)


def test_each_condition_takes_what_it_says_and_together_they_narrow(seen):
    survey = seen.surveyed.survey
    now = survey.surveyed_at
    take = lambda text: read_conditions(text, now).matching(survey)  # noqa: E731
    whole = len(survey.applications) + len(survey.left_behind)
    assert len(take("")) == whole
    assert {e.id for e in take("larger=50kB")} | {e.id for e in take("smaller=50kB")} == {
        e.id for e in take("")
    }
    old = take("unused=1y")
    assert old and all(
        e.id.startswith("left:") or e.last_use.at is None or now - e.last_use.at > timedelta(days=365)
        for e in old
    )
    assert all(e.installed.known >= now - timedelta(days=700) for e in take("installed=700d"))
    assert {e.registry for e in take("registry=files")} == {"files"} and all(
        e.id.startswith("left:") for e in take("registry=left")
    )
    person = seen.machine.truth["people"][0]
    assert all(any(b.person == person for b in e.belongings) for e in take(f"person={person}"))
    assert {e.id for e in take("volume=/home larger=1")} < {e.id for e in take("larger=1")}
    assert all(any(s.enabled for s in e.starts) for e in take("starts=yes")) and take("starts=yes")
    assert {e.type for e in take("type=service")} == {"service"}
    assert all(e.requested_by.startswith("asked for") for e in take("asked=yes")) and take("asked=yes")
    assert (
        take("asked=no") == [a for a in survey.applications if a.requested_by == "pulled in"]
        and take("running=yes") == []
    )
    recent = take("used=30d")
    assert recent and all(now - e.last_use.at <= timedelta(days=30) for e in recent)
    assert {e.id for e in recent} & {e.id for e in take("unused=31d")} == set()
    by_word = {w: take(f"certainty={w}") for w in ("sure", "fairly", "barely", "none")}
    assert (
        sum(len(found) for found in by_word.values()) == len(survey.applications)
        and by_word["sure"]
        and by_word["none"]
    )
    assert (
        take(f"usedby={person}")
        == [a for a in survey.applications if any(p.person == person for p in a.last_use.people)]
        != []
    )
    both = {e.id for e in take("unused=1y larger=50kB")}
    assert both == {e.id for e in old} & {e.id for e in take("larger=50kB")}
    name = seen.app(seen.machine.id("map", "7")).name
    assert seen.machine.id("map", "7") in {
        e.id for e in take(f"'{name}' publisher='{seen.app(seen.machine.id('map', '7')).publisher}'")
    }


@pytest.mark.parametrize(
    "text",
    [
        "large=3",
        "larger=much",
        "unused=soon",
        "starts=perhaps",
        "type=toy",
        "unused=2026-13-40",
        "certainty=very",
        "used=never",
    ],
)
def test_a_condition_that_is_none_is_refused_with_its_word(text):
    with pytest.raises(Refused, match=text.split("=")[0] + "="):
        read_conditions(text, NOW)


@given(st.text(max_size=30))
def test_no_filter_line_breaks_anything(text):
    try:
        read_conditions(text, NOW)
    except Refused as error:
        assert str(error)


@given(st.integers(0, 10**17))
def test_a_size_is_read_as_it_is_written(count):
    assert parse_bytes(str(count)) == count
    assert abs(parse_bytes(human_bytes(count).replace(" bytes", "")) - count) <= max(count * 0.06, 500)


@given(st.integers(1, 9999), st.sampled_from("dwmy"))
def test_a_span_lies_behind_now_and_a_longer_one_further(count, unit):
    assert since(f"{count + 1}{unit}", NOW) <= since(f"{count}{unit}", NOW) < NOW


@pytest.mark.parametrize("name", SORTS)
def test_every_sorting_is_total_and_stable_whatever_is_missing(seen, name):
    entries = [*seen.surveyed.survey.applications, *seen.surveyed.survey.left_behind]
    once = sorted(entries, key=sort_key(name))
    assert [e.id for e in sorted(reversed(entries), key=sort_key(name))] == [e.id for e in once]


def test_the_csv_holds_every_entry_and_no_formula(seen):
    from dataclasses import replace

    survey = seen.surveyed.survey
    evil = replace(survey.applications[0], name='=HYPERLINK("x")\n"', publisher="a,b\r\nc")
    entries = [evil, *survey.applications[1:], *survey.left_behind]
    rows = list(csv.DictReader(io.StringIO(inventory_csv(survey, entries).decode())))
    assert [r["id"] for r in rows] == [e.id for e in entries]
    assert [int(r["bytes"]) for r in rows] == [e.bytes.total for e in entries]
    assert rows[0]["name"].startswith("'=HYPERLINK") and rows[0]["publisher"] == "a,b\\r\\nc"


def test_the_software_inventory_holds_every_package_exactly_once(seen):
    survey = seen.surveyed.survey
    made = json.loads(inventory_cyclonedx(survey))
    assert made["bomFormat"] == "CycloneDX" and made["specVersion"] == "1.6"
    top = {c["bom-ref"]: c for c in made["components"]}
    assert {a.id for a in survey.applications} <= set(top)
    debian = [a for a in survey.applications if a.registry == "debian"]
    heads = [a.packages[0] for a in debian]
    below = [c["name"] for a in debian for c in top[a.id].get("components", [])]
    kinds = {a.registry: top[a.id].get("purl", "").split("/")[0] for a in survey.applications}
    assert kinds["debian"] == "pkg:deb" and kinds["pipx"] == "pkg:pypi" and kinds["appimage"] == ""
    system = [c["name"] for c in made["components"] if c["type"] == "library"]
    said = subprocess.run(
        [
            "dpkg-query",
            f"--admindir={seen.machine.root}/var/lib/dpkg",
            "-W",
            "-f",
            "${db:Status-Status} ${Package}\n",
        ],
        capture_output=True,
        text=True,
    ).stdout.splitlines()
    installed = [line.split()[1] for line in said if line.startswith("installed")]
    assert sorted([h.split(":")[0] for h in heads] + below + system) == sorted(installed)


def test_the_command_line_answers_the_same_questions(seen):
    root, hero = str(seen.machine.folder), seen.machine.id("map", "7")
    name = hero.removeprefix("debian:")
    shown = cli(
        "survey",
        "--root",
        root,
        "--kept",
        "--where",
        "larger=50kB",
        "--where",
        "registry=debian",
        "--format",
        "csv",
    )
    rows = list(csv.DictReader(io.StringIO(shown.stdout)))
    assert (
        shown.returncode == 0
        and rows
        and all(int(r["bytes"]) > 50_000 and r["registry"] == "debian" for r in rows)
    )
    assert "shown" in cli("survey", "--root", root, "--kept", "--where", "larger=50kB").stdout
    refused = cli("survey", "--root", root, "--kept", "--where", "bigger=3")
    assert refused.returncode == 2 and "bigger=" in refused.stderr and all(n in refused.stderr for n in NAMES)
    assert hero in cli("why", "--root", root, name).stdout
    there = json.loads(cli("places", "--root", root, "/home", "--format", "json").stdout)
    assert there["bytes"] == look_into(seen.surveyed.index, "/home").bytes
    gone = cli("places", "--root", root, "/nowhere")
    assert gone.returncode == 2 and "/nowhere" in gone.stderr
    found = cli("whose", "--root", root, seen.app(hero).executables[0])
    assert found.returncode == 0 and "registered" in found.stdout
    assert cli("whose", "--root", root, "/no/such/place").returncode == 1
    assert cli("whose", "--root", root, "no-path").returncode == 2
