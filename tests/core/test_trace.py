"""Whether anything of a name is left anywhere: of what was removed, here or by other means, and of a name that nobody knew."""

from __future__ import annotations

import json

import pytest

from helpers import Job, built, cli
from swept_shelf.core.documents.trace import Trace
from swept_shelf.core.documents.wire import read_document


@pytest.fixture(scope="module")
def removed(tmp_path_factory):
    """A machine from which the map program is gone, and whose ledger knows that it was there."""
    machine = built(1).copy(tmp_path_factory.mktemp("trace") / "machine")
    job = Job(machine)
    hero = machine.id("map", "7")
    job.carry(job.prepare(job.order(hero)))
    job.empty()
    return machine, hero


def traced(machine, name):
    said = cli("trace", name, "--root", str(machine.folder), "--format", "json")
    found = read_document(Trace, said.stdout.encode(), "the trace")
    return said.returncode, found, {c.family: c for c in found.cells}


def test_what_was_removed_is_known_by_all_its_names_and_what_points_again_is_found(removed):
    machine, hero = removed
    status, found, cells = traced(machine, hero)
    assert found.known_as == hero and found.looked_for["buses"]
    assert cells["schedules"].state == cells["services"].state == "clear"
    person = machine.truth["people"][0] if "people" in machine.truth else "isolde"
    home = machine.root / "home" / person
    (home / ".local/share/dbus-1/services").mkdir(parents=True, exist_ok=True)
    service = home / ".local/share/dbus-1/services/again.service"
    service.write_text(f"[D-BUS Service]\nName={found.looked_for['buses'][0]}\nExec=/bin/true\n")
    status, found, cells = traced(machine, hero.removeprefix("debian:"))
    assert status == 1 and [f.path for f in cells["services"].findings] == [
        f"/home/{person}/.local/share/dbus-1/services/again.service"
    ]
    service.unlink()


def test_a_name_that_no_visit_knows_is_looked_for_as_whatever_it_may_be(removed):
    machine, _ = removed
    status, found, _ = traced(machine, "thimbleweft")
    assert (status, found.known_as, found.findings) == (0, "", 0)
    (machine.root / "opt/thimbleweft").mkdir(parents=True)
    (machine.root / "etc/cron.d/odd").write_text("1 2 3 * * root thimbleweft --x\n# thimbleweft\n")
    (machine.root / "etc/apparmor.d").mkdir(exist_ok=True)
    (machine.root / "etc/apparmor.d/usr.bin.thimbleweft").write_text("/usr/bin/thimbleweft {\n}\n")
    status, found, cells = traced(machine, "thimbleweft")
    assert status == 1
    assert {k for k, c in cells.items() if c.findings} == {"files", "schedules", "security"}
    assert [f.path for f in cells["files"].findings] == ["/opt/thimbleweft"]
    plain = cli("trace", "/opt/thimbleweft", "--root", str(machine.folder))
    assert plain.returncode == 1 and "files: /opt/thimbleweft: is there" in plain.stdout
    assert "only the name itself" in plain.stderr


def test_a_name_of_several_is_refused_with_their_ids(removed):
    machine, _ = removed
    said = cli("trace", "woadtally", "--root", str(machine.folder))
    assert said.returncode == 2 and "could mean" in said.stderr


def test_what_another_registry_still_has_is_said_and_nothing_of_it_is_offered(removed):
    machine, _ = removed
    home = machine.root / "home" / "isolde"
    (home / ".cargo/bin").mkdir(parents=True, exist_ok=True)
    (home / ".cargo/bin/burin").write_text("#!/bin/sh\n")
    installed = {"burin 2.0.0 (registry+https://registry.example/index)": {"bins": ["burin"]}}
    (home / ".cargo/.crates2.json").write_text(json.dumps({"installs": installed}))
    status, found, cells = traced(machine, "burin")
    assert status == 1
    (row,) = [f for f in cells["registry"].findings if f.kind == "row"]
    assert (row.path, row.text) == ("/home/isolde/.cargo/.crates2.json", "cargo: burin 2.0.0")
    assert {f.action for c in found.cells for f in c.findings} == {"leave"} and not found.remnants
    (home / ".cargo/.crates2.json").write_text("{")
    _, found, cells = traced(machine, "thimblewort")
    assert cells["registry"].state == "could_not_look" and ".crates2.json" in cells["registry"].looked_at


def test_what_is_looked_for_with_rights_that_are_asked_for_is_not_taken_out_with_them(removed):
    machine = removed[0] if isinstance(removed, tuple) else removed
    said = cli("trace", "x", "--root", str(machine.folder), "--with-rights", "--take-out", "all")
    assert said.returncode == 2 and "taken out as root" in said.stderr
