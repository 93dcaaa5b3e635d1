"""The desk in another language: every text of its own is known there, names stay as they are, figures follow the locale."""

from __future__ import annotations

import importlib.util
import re
import subprocess
from pathlib import Path

import pytest

from auditing import audit
from deskwork import Desk
from helpers import Job, built
from kills import sampled
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.desk import language
from swept_shelf.desk.language import AsItIs, leave_as_they_are, speak, spoken
from swept_shelf.desk.names import STATIONS
from swept_shelf.desk.survey.station import LENSES

TOOL = Path(__file__).parents[2] / "tools/words.py"
GERMAN = language.WORDS / "swept-shelf_de.ts"
# Words of our own sentences that no name or path has: a text with two of them is one of ours.
OURS = re.compile(
    r"\b(?:the|is|was|are|its|it|that|what|which|nothing|not|with|been|will|cannot|more|be|by|for|when)\b"
)


@pytest.fixture
def words():
    spec = importlib.util.spec_from_file_location("words", TOOL)
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    return made


@pytest.fixture
def german(qapp):
    speak("de")
    language.not_known.clear()
    yield
    speak("en")
    leave_as_they_are(())


def test_every_text_that_the_code_shows_has_its_german(words):
    known = {s.removesuffix(".") for s in words.sources(GERMAN)}
    missing = {
        t: p for t, p in words.shown(words.SOURCE / "desk").items() if t.removesuffix(".") not in known
    }
    assert {t: p for t, p in missing.items() if t not in words.SAME} == {}


def test_what_is_put_in_stays_in_and_nothing_is_left_empty(words):
    for source, (said,) in words.sources(GERMAN).items():
        assert said.strip(), source
        assert source.count("{}") == said.count("{}"), source
    assert all(all(forms) and len(forms) == 2 for forms in words.sources(GERMAN, "counts").values())


def test_the_file_that_qt_reads_is_made_from_the_one_that_people_write(words, tmp_path):
    words.make(GERMAN, tmp_path / "made.qm")
    assert (tmp_path / "made.qm").read_bytes() == GERMAN.with_suffix(".qm").read_bytes()


@pytest.mark.parametrize(
    ("text", "said_in_german"),
    [
        ("Carry out", "Ausführen"),
        ("1 application", "1 Anwendung"),
        ("1 234 applications", "1 234 Anwendungen"),
        ("4.6 MB free of 1.3 GB", "4,6 MB frei von 1,3 GB"),
        ("Last used 3 Mar 2021", "Zuletzt benutzt 3. März 2021"),
        (
            "Visit 1 · surveyed 01:40 · 31 applications · 3 people",
            "Besuch 1 · aufgenommen 01:40 · 31 Anwendungen · 3 Leute",
        ),
        ("Thornplotter needs Sedgescan", "Thornplotter braucht Sedgescan"),
        ("11  Take out 35 mentions", "11  35 Erwähnungen herausnehmen"),
        (
            "Left alone on purpose: Mail, isolde’s own work: stays",
            "Mit Absicht nicht angerührt: Mail, eigene Arbeit von isolde: bleibt",
        ),
        ("/home is 63 % full.", "/home ist zu 63 % voll."),
        ("/srv/lists of 1901/Order", "/srv/lists of 1901/Order"),
        ("Starts it in the menu.", "Startet es im Menü."),
    ],
)
def test_texts_are_said_whole_or_part_by_part(german, text, said_in_german):
    assert spoken(text) == said_in_german
    assert spoken(spoken(text)) == said_in_german


def test_names_of_the_machines_own_things_are_no_words(german):
    assert spoken("Order") == "Auftrag"
    leave_as_they_are(["Order", "Nothing found"])
    assert [spoken(x) for x in ("Order", "Nothing found", "Order is running")] == [
        "Order",
        "Nothing found",
        "Order läuft",
    ]
    assert spoken(AsItIs("Places")) == "Places"


@pytest.mark.parametrize(
    ("session", "expected"),
    [
        ({"LANG": "de_DE.UTF-8"}, "de"),
        ({"LANG": "C.UTF-8"}, "en"),
        ({"LANG": "de_AT.UTF-8", "LANGUAGE": "en:de"}, "en"),
        ({"LANG": "fr_FR.UTF-8", "LANGUAGE": "de"}, "de"),
        ({"LC_ALL": "C", "LANG": "de_DE.UTF-8"}, "en"),
        ({}, "en"),
    ],
)
def test_the_session_says_which_language(monkeypatch, session, expected):
    for name in ("LANG", "LANGUAGE", "LC_ALL", "LC_MESSAGES"):
        monkeypatch.delenv(name, raising=False)
    for name, value in session.items():
        monkeypatch.setenv(name, value)
    assert language.wished() == expected


@pytest.mark.parametrize("size", sampled([((1024, 700, 1.5),), ((1280, 800, 1.0),)], 2))
def test_a_visit_in_german_is_german_and_nothing_is_cut(german, qtbot, tmp_path, size):
    machine = built(1).copy(tmp_path / "machine")
    job = Job(machine)
    job.carry(job.prepare(job.order(machine.id("map", "7"), machine.id("quest"))))
    job.clearance()
    wrong = []
    with Desk(machine, qtbot, size[:2], False, size[2]) as desk:
        for station in STATIONS:
            desk.window.go(station)
            desk.settle()
            wrong += [f"{station}: {w}" for w in audit(desk.window)]
        desk.window.go("Survey")
        for role in ("mail", "label"):
            desk.session.ordering.set_verdict(machine.id(role), "remove")
        desk.session.select(machine.id("desk"))
        for lens in LENSES:
            desk.window.survey.take_lens(lens)
            desk.settle()
            wrong += [f"{lens}: {w}" for w in audit(desk.window)]
        for lines in ("agent", "desk"):
            desk.session.select(machine.id(lines))
            desk.window.survey.drawer.page_wanted.emit()
            desk.settle()
            wrong += [f"belongings: {w}" for w in audit(desk.window)]
            desk.click(desk.window.survey.page.back)
        for role in ("mail", "label"):
            desk.session.ordering.set_verdict(machine.id(role), "")
        data = str(to_plain(desk.session.survey))
    assert wrong == []
    english = {t for t in language.not_known if len(OURS.findall(t)) > 1 and t not in data}
    assert {t for t in english if not _stands_in_a_file(t, machine)} == set()


def _stands_in_a_file(text: str, machine) -> bool:
    line = text.strip().split("\n")[0]
    return subprocess.run(["grep", "-rqF", "--", line, str(machine.root)], check=False).returncode == 0


def test_what_somebody_filled_to_be_taken_apart_without_end_is_not(german):
    """Counted, not timed: the templates that one text is held against."""
    for mark in (" of ", ", ", ": ", " · ", "; ", " since ", "’s own work: stays", "last written "):
        text = f"a{mark}" * 600
        assert spoken(text[:4000])
        assert language._tries > -200
