"""A technician's word: this is its, this is not its. Kept in an open file, known to the next survey."""

from __future__ import annotations

import pytest

from evidence import DESKTOP, TERMINAL, ago
from evidence import belongings_of as of
from helpers import cli
from swept_shelf.core.belongings.corrections import ITS, NOT_ITS, Rule, add_rule, read_rules
from swept_shelf.core.documents.errors import CouldNotRead


def test_a_technicians_word_counts_for_every_home_and_is_the_strongest(room, look):
    for person in ("vera", "otto"):
        room.home(person, ".config/oddfolder/x.ini", "a=1\n", ago(3))
        room.home(person, f".config/{DESKTOP}/x.ini", "a=1\n", ago(3))
    rules = [
        Rule(ITS, f"debian:{TERMINAL}", "~/.config/oddfolder", "asked the owner"),
        Rule(NOT_ITS, f"debian:{DESKTOP}", f"~/.config/{DESKTOP}"),
    ]
    survey = look(rules=rules)
    assert {p: (b.proof, b.ticked, b.kind) for p, b in of(survey, TERMINAL).items()} == {
        f"/home/{p}/.config/oddfolder": ("told", True, "preferences") for p in ("vera", "otto")
    }
    assert (
        "asked the owner" in of(survey, TERMINAL)["/home/vera/.config/oddfolder"].reason
        and of(survey, DESKTOP) == {}
    )


def test_corrections_are_kept_in_an_open_file_and_the_last_word_counts(tmp_path):
    path = tmp_path / "belongings.toml"
    path.write_text("# ours\n")
    add_rule(path, Rule(ITS, "debian:a", "~/.x", "why"))
    add_rule(path, Rule(ITS, "debian:b", "/srv/x"))
    assert [(r.kind, r.application, r.place, r.note) for r in read_rules(path.read_text(), "f")] == [
        ("its", "debian:a", "~/.x", "why"),
        ("its", "debian:b", "/srv/x", ""),
    ]
    add_rule(path, Rule(NOT_ITS, "debian:a", "~/.x"))
    assert {(r.kind, r.application) for r in read_rules(path.read_text(), "f")} == {
        ("its", "debian:b"),
        ("not_its", "debian:a"),
    }
    assert path.read_text().startswith("# ours")


@pytest.mark.parametrize(
    "text",
    [
        "[[its]",
        "[[perhaps]]\napplication='a:b'\nplace='/x'",
        "[[its]]\napplication='a:b'\nplace='x/../y'",
        "its = 3",
        "[[its]]\napplication='a'\nplace='/x'",
        "[[its]]\napplication='a:b'\nplace='/'",
        "[[its]]\napplication='a:b'\nplace=3",
        "[[its]]\napplication='a:b'\nplace='/home'",
        "[[its]]\napplication='a:b'\nplace='~/.config'",
        "[[its]]\napplication='a:b'\nplace='~/Letters'",
        "[[its]]\napplication='a:b'\nplace='/var/lib/dpkg/info'",
    ],
)
def test_a_wrong_file_of_corrections_is_named_and_not_written_over(tmp_path, text):
    path = tmp_path / "belongings.toml"
    path.write_text(text)
    with pytest.raises(CouldNotRead) as raised:
        add_rule(path, Rule(ITS, "debian:a", "~/.x"))
    assert raised.value.path == str(path) and path.read_text() == text


def test_the_command_line_keeps_a_correction_and_the_next_survey_knows_it(room, tmp_path, monkeypatch):
    room.home("vera", ".config/oddfolder/x.ini", "a=1\n", ago(3))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "settings"))
    at = ("--root", str(room.root), "--ledger", str(tmp_path / "ledger.sqlite"))
    cli("survey", *at)
    said = cli("its", *at, DESKTOP, "/home/vera/.config/oddfolder", "--note", "seen on site")
    assert said.returncode == 0 and "~/.config/oddfolder belongs to" in said.stderr
    assert cli("its", *at, DESKTOP, "oddfolder").returncode == 2
    cli("survey", *at)
    assert "a technician said so: seen on site" in cli("show", *at, DESKTOP).stdout
    (tmp_path / "settings/swept-shelf/belongings.toml").write_text("nonsense")
    broken = cli("survey", *at)
    assert broken.returncode == 1 and "belongings.toml" in broken.stderr
