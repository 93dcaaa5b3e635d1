"""Stop starting: what starts an application by itself is turned off by its own means, the application stays, all of it comes back."""

from __future__ import annotations

from types import SimpleNamespace

import pytest

from evidence import add_program
from helpers import Job, cli, differences, make_ours, picture
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.grammars.commands import parse_entry
from swept_shelf.core.references.cutting import put_in_again, without
from swept_shelf.core.references.turn_off import off_cuts

ENTRY = "[Desktop Entry]\nType=Application\nExec=map7 --tray\n"


def starts(app):
    return {(s.how, s.path) for s in app.starts if s.enabled and s.how != "unit"}


def test_what_starts_it_is_turned_off_and_it_stays_and_starts_again_when_put_back(job):
    root, id = job.machine.root, job.machine.id("map", "7")
    before, app = picture(root), job.app(id)
    stopped = {p for how, p in starts(app) if "dbus-1" not in p}
    assert {how for how, _ in starts(app)} >= {"login", "service", "schedule"}
    order = job.order(id, verdict="stop_starting")
    assert order.line(id).comes_back == 0 and order.packages == []
    run = job.carry(job.prepare(order))
    assert {o.event for o in run.state.operations.values()} == {"done"}
    changed = {p.split(": ")[0] for p in differences(before, picture(root), times=False)}
    assert changed == stopped
    login = next(p for how, p in starts(app) if how == "login")
    assert "Hidden=true" in (root / login[1:]).read_text() and "Exec=" in (root / login[1:]).read_text()
    cells = {c.family: c.state for c in job.clearance().lines[0].cells}
    assert {cells[f] for f in ("startup", "schedules", "services")} == {"clear"}
    assert {s for f, s in cells.items() if f not in ("startup", "schedules", "services")} == {"not_part"}
    job.survey()
    assert {p for how, p in starts(job.app(id))} <= {p for _, p in starts(app)} - stopped
    job.put_back()
    assert differences(before, picture(root)) == []


def test_what_starts_it_all_the_same_is_found(job):
    root, id = job.machine.root, job.machine.id("map", "7")
    login = next(p for how, p in starts(job.app(id)) if how == "login")
    text = (root / login[1:]).read_text()
    job.carry(job.prepare(job.order(id, verdict="stop_starting")))
    (root / login[1:]).write_text(text)  # it writes the entry anew as it runs
    cells = {c.family: c for c in job.clearance().lines[0].cells}
    assert cells["startup"].state == "found" and [f.path for f in cells["startup"].findings] == [login]


def test_an_entry_for_everybody_that_its_package_brings_counts_and_is_turned_off(room):
    """As most programs bring it: in /etc/xdg, beside a table for its schedule; a hidden one starts nothing."""
    brought = {
        "etc/xdg/autostart/sorter.desktop": ENTRY.replace("map7", "/usr/bin/sorter"),
        "etc/xdg/autostart/quiet.desktop": ENTRY.replace("map7", "/usr/bin/sorter") + "Hidden=true\n",
        "etc/cron.d/sorter": "5 4 * * * root /usr/bin/sorter --nightly\n",
    }
    add_program(room, "sorter", more=brought)
    job = Job(SimpleNamespace(folder=make_ours(room.root)))
    assert starts(job.app("debian:sorter")) == {
        ("login", "/etc/xdg/autostart/sorter.desktop"),
        ("schedule", "/etc/cron.d/sorter"),
    }
    before = picture(room.root)
    job.carry(job.prepare(job.order("debian:sorter", verdict="stop_starting")))
    assert "Hidden=true" in (room.root / "etc/xdg/autostart/sorter.desktop").read_text()
    assert not (room.root / "etc/cron.d/sorter").exists() and (room.root / "usr/bin/sorter").exists()
    assert {c.state for c in job.clearance().lines[0].cells} == {"clear", "not_part"}
    job.put_back()
    assert differences(before, picture(room.root)) == []


def test_what_nothing_starts_is_refused(job):
    id, root = job.machine.id("label"), ("--root", str(job.machine.folder))
    done = cli(*root, "order", "--stop-starting", id)
    assert done.returncode == 2 and "nothing starts" in done.stderr
    with pytest.raises(Refused, match="nothing to carry out"):
        job.prepare(job.order(id, verdict="stop_starting"))


@pytest.mark.parametrize(
    "text",
    [
        ENTRY,
        ENTRY.rstrip("\n"),
        "# by hand\n\n" + ENTRY + "\n[Desktop Action x]\nHidden=false\nExec=y\n",
        "[Desktop Entry]\nHidden=false\nExec=a\nHidden=false\n",
        "[Desktop Entry]",
    ],
)
def test_an_entry_says_that_it_is_hidden_and_every_other_byte_stays(text):
    after = without(text, off_cuts(text))
    assert parse_entry(after)["Hidden"][1] == "true"
    assert [x for x in after.splitlines() if "Hidden" not in x] == [
        x for x in text.splitlines() if "Hidden" not in x
    ]
    assert put_in_again(after, text, after) == text


def test_what_is_no_entry_is_left():
    with pytest.raises(ValueError):
        off_cuts("[Something]\nExec=x\n")
