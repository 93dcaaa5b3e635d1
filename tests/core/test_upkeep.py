"""Upkeep: off until it is turned on, tells what grew and what nobody uses, does only what was chosen, never removes a program."""

from __future__ import annotations

import json
import os
import shutil
import stat
import subprocess
import time
from pathlib import Path

import pytest

from helpers import cli, differences, picture
from staging import copied, staged
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.upkeep import Settings
from swept_shelf.upkeep.settings import changed, read_settings, write_settings
from swept_shelf.upkeep.timer import Timer

OLD = time.time() - 400 * 86400


def thumbnails(job):
    home = next(p for p in (job.machine.root / "home").iterdir() if (p / ".config").is_dir())
    return home / ".cache/thumbnails"


def stock(job):
    folder = thumbnails(job)
    folder.mkdir(parents=True, exist_ok=True)
    for name, at in (("old", OLD), ("new", None)):
        (folder / name).mkdir()
        (folder / name / "a.png").write_bytes(b"x" * 7000)
        if at:
            os.utime(folder / name / "a.png", (at, at))
            os.utime(folder / name, (at, at))
    job.survey()


@pytest.fixture
def kept(tmp_path):
    """A machine with a store of thumbnails, half of it old; a command line for it."""
    job = copied(staged(stock), tmp_path / "machine")

    def said(*words, form=()):
        return cli("--root", str(job.machine.folder), "upkeep", *words, *form)

    return job, thumbnails(job), said


def document(done):
    return json.loads(done.stdout)


def test_a_round_looks_and_says_what_nobody_uses_and_changes_nothing(kept):
    job, _, said = kept
    before = picture(job.machine.root)
    done = document(said("--format", "json"))
    survey = job.shop.latest()[1].survey
    assert done["unused"] and done["survey"] == survey.id and not done["emptied"] and not done["trimmed"]
    for noticed in done["unused"]:
        app = survey.find(noticed["id"])
        assert app.bytes.total == noticed["bytes"] and not app.protected
    assert differences(before, picture(job.machine.root)) == []
    kept_as = list((job.shop.ledger.folder / "upkeep").iterdir())
    assert len(kept_as) == 1 and json.loads(kept_as[0].read_text()) == done


def test_what_grew_since_the_visit_before_is_named_and_what_is_low_too(kept):
    job, thumbnails, said = kept
    job.shop.ledger.close_visit(job.shop.machine.key)
    (thumbnails / "new/b.png").write_bytes(os.urandom(3_000_000))
    free = job.shop.shelves.volumes()[0].free
    said("--set", "grew=1MB", "--set", f"free={free + 10**9}")
    done = document(said("--format", "json"))
    assert any(g["bytes"] >= 2_900_000 for g in done["grew"])
    assert done["low"][0]["wanted"] == free + 10**9
    told = said()
    assert told.returncode == 1 and "free" in told.stdout.splitlines()[0]


def test_chosen_stores_are_trimmed_by_age_by_an_order_that_can_be_put_back(kept):
    job, thumbnails, said = kept
    before = picture(job.machine.root)
    said("--set", "trim:thumbnails=90d")
    done = document(said("--format", "json"))
    assert [t["what"] for t in done["trimmed"]] == [f"thumbnails of {thumbnails.parents[1].name}"]
    assert not (thumbnails / "old").exists() and (thumbnails / "new/a.png").exists()
    assert done["trimmed"][0]["order"] in [
        o.id for v in job.shop.ledger.visits() for o in job.shop.ledger.orders(v.id)
    ]
    assert document(said("--format", "json"))["trimmed"] == []
    job.put_back()
    assert differences(before, picture(job.machine.root)) == []


def test_the_shelf_is_emptied_only_when_that_was_chosen_and_only_what_is_old_enough(kept, monkeypatch):
    job, _, said = kept
    job.carry(job.prepare(job.order("debian:willowvane")))
    said("--set", "empty=30d")
    assert document(said("--format", "json"))["emptied"] == [] and job.shop.shelves.waiting()
    row = job.row()
    path = row.folder / "result.json"
    result = json.loads(path.read_text()) | {"finished_at": "2020-01-01T00:00:00Z"}
    path.write_text(json.dumps(result))
    said("--set", "empty=never")
    assert document(said("--format", "json"))["emptied"] == [] and job.shop.shelves.waiting()
    said("--set", "empty=30d")
    assert [e["order"] for e in document(said("--format", "json"))["emptied"]] == [row.order]
    assert not job.shop.shelves.waiting()


SENSELESS = {
    "every=hour": "every: ",
    "free=lots": "not a size",
    "unused=1x": "not a span",
    "trim:homes=1d": "is not one of",
    "trim:thumbnails=soon": "not a number of days",
    "empty=-3": "not a number of days",
    "remove=all": "is none of",
    "x": "not name=value",
}


def test_settings_that_make_no_sense_are_refused_and_nothing_is_kept(kept):
    _, _, said = kept
    for told, why in SENSELESS.items():
        done = said("--set", "grew=5MB", "--set", told)
        assert done.returncode == 2 and why in done.stderr, told
    assert "100 MB or more" in said("--show").stdout


def test_settings_come_back_as_they_were_written_and_a_wrong_file_is_named(tmp_path):
    file = tmp_path / "upkeep.toml"
    wanted = changed(
        Settings(), ["every=day", "free=10GB", "free:/home=20GB", "unused=6m", "trim:trash=30d", "empty=60d"]
    )
    write_settings(file, wanted)
    assert read_settings(file) == wanted
    assert changed(wanted, ["trim:trash=never"]).trim == {}
    for text in ("every = 3", "free = -1", "[trim]\nhomes = 1", "x = 1", "every", 'volumes = {"home" = 1}'):
        file.write_text(text)
        with pytest.raises(CouldNotRead, match="upkeep"):
            read_settings(file)


# -- the timer --------------------------------------------------------------------------------------------------


@pytest.fixture
def cron(tmp_path):
    """A crontab(1) over a file, with a line of somebody's in it."""
    table = tmp_path / "table"
    table.write_text("5 4 * * * backup --daily\n")
    tool = tmp_path / "crontab"
    tool.write_text(f'#!/bin/sh\nif [ "$1" = -l ]; then cat {table}; else cat > {table}; fi\n')
    tool.chmod(0o755)
    return table, (str(tool),)


def test_by_systemd_it_is_a_persistent_timer_and_off_leaves_nothing(tmp_path, cron):
    if shutil.which("systemctl") is None:
        pytest.skip("systemctl is not here")
    root = tmp_path / "root"
    units = root / "etc/systemd/system"
    made = Timer(units, (_offline(tmp_path, root),), cron[1])
    assert made.on == "" and made.turn_on("week") == "systemd" and made.on == "systemd"
    text = (units / "swept-shelf-upkeep.timer").read_text()
    assert "OnCalendar=weekly" in text and "Persistent=true" in text
    if verify := shutil.which("systemd-analyze"):
        for name in ("timer", "service"):
            done = subprocess.run(
                [verify, "verify", units / f"swept-shelf-upkeep.{name}"], capture_output=True, text=True
            )
            assert "swept-shelf-upkeep" not in done.stderr, done.stderr
    made.turn_off()
    assert made.on == "" and [p for p in units.rglob("*") if not p.is_dir()] == []
    assert cron[0].read_text() == "5 4 * * * backup --daily\n"


def _offline(tmp_path: Path, root: Path) -> str:
    """systemctl for a root that nothing runs in: the real one links the units; there is nobody to reload or to start."""
    tool = tmp_path / "systemctl"
    tool.write_text(
        '#!/bin/sh\n[ "$1" = daemon-reload ] && exit 0\nverb=$1; shift; [ "$1" = --now ] && shift\n'
        f'exec {shutil.which("systemctl")} --root={root} "$verb" "$@"\n'
    )
    tool.chmod(0o755)
    return str(tool)


def test_without_systemd_it_is_a_line_of_cron_beside_the_others(tmp_path, cron):
    table, crontab = cron
    timer = Timer(tmp_path / "units", ("/nowhere/systemctl",), crontab)
    assert timer.turn_on("day") == "cron" and timer.on == "cron"
    lines = table.read_text().splitlines()
    assert lines[0] == "5 4 * * * backup --daily" and lines[1].startswith("@daily ") and "upkeep" in lines[1]
    timer.turn_on("month")
    assert len(table.read_text().splitlines()) == 2 and "@monthly" in table.read_text()
    timer.turn_off()
    assert table.read_text() == "5 4 * * * backup --daily\n" and timer.on == ""


def test_a_table_that_cannot_be_read_is_never_written(tmp_path, cron):
    table, _ = cron
    tool = tmp_path / "broken"
    tool.write_text(f"#!/bin/sh\n[ \"$1\" = -l ] && {{ echo 'cannot read' >&2; exit 1; }}\ncat > {table}\n")
    tool.chmod(0o755)
    with pytest.raises(Refused, match="does not say what it holds"):
        Timer(tmp_path / "units", ("/nowhere/systemctl",), (str(tool),)).turn_on("day")
    assert table.read_text() == "5 4 * * * backup --daily\n" and stat.S_ISREG(table.stat().st_mode)


def test_where_nothing_can_set_a_timer_it_is_said(tmp_path):
    with pytest.raises(Refused, match="no timer can be set"):
        Timer(tmp_path / "units", ("/nowhere/systemctl",), ("/nowhere/crontab",)).turn_on("day")
    assert not list((tmp_path).rglob("*.timer"))


def test_on_another_root_no_timer_is_set(kept):
    _, _, said = kept
    done = said("--on")
    assert done.returncode == 2 and "this computer's own root alone" in done.stderr
