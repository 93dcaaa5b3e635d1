"""Flatpak applications, by the real flatpak: uninstalled, kept in their own repository, put back without a network, gone for good."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
import time
from pathlib import Path
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, make_ours, picture
from kills import sampled, under_injection
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.machine import open_machine
from swept_shelf.core.registries.flatpak import change as flatpak

DRAWERS = "flatpak:system:org.test.Drawers/x86_64/1"
OTTOS = "flatpak:otto:org.test.Drawers/x86_64/1"
SYSTEM, PERSONAL = "var/lib/flatpak", f"{made.OTTO}/.local/share/flatpak"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    work = tmp_path_factory.mktemp("flatpaks")
    root = made.bare_root(work / "root")
    made.add_flatpaks(root, work)
    shutil.rmtree(work / "repo")  # from here on there is no network
    return root


@pytest.fixture
def job(built, tmp_path):
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    return Job(SimpleNamespace(folder=make_ours(tmp_path / "root")))


def listed(root, place=SYSTEM):
    kind = "--user" if place == PERSONAL else "--system"
    env = {"FLATPAK_USER_DIR" if place == PERSONAL else "FLATPAK_SYSTEM_DIR": str(root / place)}
    said = made.tool(
        "flatpak",
        kind,
        "list",
        "--columns=ref,active",
        HOME="/dev/null/none",
        FLATPAK_CONFIG_DIR="/dev/null/none",
        **env,
    )
    return {line.split("\t")[0] for line in said.splitlines()}


def objects(root, place=SYSTEM):
    return {p.name for p in (root / place / "repo/objects").rglob("*") if p.is_file()}


def sheet(run):
    return [(o.event, o.note) for o in run.state.operations.values()]


def test_it_goes_with_its_runtime_and_data_is_clear_and_comes_back_as_it_was(job):
    root = job.machine.folder
    before = picture(root)
    order = job.order(DRAWERS)
    app = job.app(DRAWERS)
    assert order.line(DRAWERS).comes_back >= 40_000 and app.comes_back == order.line(DRAWERS).comes_back
    assert app.bytes.total == app.comes_back  # each file once, however many names its store has of it
    run = job.carry(job.prepare(order))
    assert set(sheet(run)) == {("done", "")}
    assert listed(root) == set() and listed(root, PERSONAL) != set()
    assert not (root / "home/vera/.var/app/org.test.Drawers").exists()
    cells = {c.family: c for c in job.clearance().lines[0].cells}
    assert {c.state for c in cells.values() if c.family != "processes"} <= {"clear", "not_part"}, cells
    assert cells["registry"].state == "clear" and cells["files"].state == "clear"
    assert job.put_back()["why"] == []
    assert listed(root) == {"org.test.Drawers/x86_64/1", "org.test.Base/x86_64/1"}
    assert not differences(before, picture(root)), "\n".join(differences(before, picture(root)))


def test_what_is_emptied_is_gone_from_its_repository_too(job):
    root = job.machine.folder
    whole = objects(root)
    job.carry(job.prepare(job.order(DRAWERS)))
    assert objects(root) == whole
    waiting = job.shop.shelves.waiting()
    assert [s.waiting for s in waiting if s.manifest["do"] == "uninstall"] == [True]
    assert sum(s.manifest["bytes"] for s in waiting) >= 40_000
    job.empty()
    assert objects(root) == set() and not list((root / SYSTEM / "repo/refs/heads").glob("swept-shelf"))


def test_a_runtime_that_another_needs_stays(job):
    root = job.machine.folder
    other = root / SYSTEM / "app/org.test.Chest/x86_64/1/c"
    shutil.copytree((root / SYSTEM / "app/org.test.Drawers/x86_64/1/active").resolve(), other, symlinks=True)
    text = (other / "metadata").read_text().replace("org.test.Drawers", "org.test.Chest")
    (other / "metadata").write_text(text)
    (other.parent / "active").symlink_to("c")
    job.survey()
    job.carry(job.prepare(job.order(DRAWERS)))
    assert listed(root) >= {"org.test.Base/x86_64/1"} and "org.test.Drawers/x86_64/1" not in listed(root)


def alone(root, place=SYSTEM):
    """The application goes by flatpak's own hand; what it needed stays."""
    env = {"FLATPAK_SYSTEM_DIR": str(root / place), "FLATPAK_CONFIG_DIR": "/dev/null/none"}
    words = ("flatpak", "--system", "uninstall", "-y", "--noninteractive", "--no-related", "org.test.Drawers")
    made.tool(*words, HOME="/dev/null/none", **env)


def test_a_runtime_that_nothing_uses_is_a_line_of_its_own_and_comes_back_as_it_was(job):
    root = job.machine.folder
    assert "runtime" not in {a.type for a in job.surveyed.survey.applications}
    alone(root)
    job.survey()
    (runtime,) = [a for a in job.surveyed.survey.applications if a.type == "runtime"]
    assert runtime.id == "flatpak:system:org.test.Base/x86_64/1" and runtime.requested_by == "pulled in"
    assert runtime.comes_back == runtime.bytes.program > 40_000 and not runtime.protected
    before = picture(root)
    run = job.carry(job.prepare(job.order(runtime.id)))
    assert set(sheet(run)) == {("done", "")} and listed(root) == set()
    assert job.clearance().lines[0].cells[0].state == "clear"
    assert job.put_back()["why"] == []
    assert listed(root) == {"org.test.Base/x86_64/1"}
    assert not differences(before, picture(root)), "\n".join(differences(before, picture(root)))
    job.carry(job.prepare(job.order(runtime.id)))
    job.empty()
    assert objects(root) == set()


def test_a_runtime_that_somebody_pinned_was_asked_for(job):
    root = job.machine.folder
    alone(root)
    config = root / SYSTEM / "repo/config"
    config.write_text(
        config.read_text().replace("[core]\n", "[core]\nxa.pinned=runtime/org.test.Base/x86_64/1;\n")
    )
    job.survey()
    (runtime,) = [a for a in job.surveyed.survey.applications if a.type == "runtime"]
    assert runtime.requested_by == "asked for"


def test_another_version_than_was_surveyed_is_not_touched(job):
    root = job.machine.folder
    run = job.prepare(job.order(DRAWERS))
    here = root / SYSTEM / "app/org.test.Drawers/x86_64/1"
    commit = os.readlink(here / "active")
    (here / ("0" * 64)).mkdir()
    shutil.copy(here / commit / "deploy", here / ("0" * 64) / "deploy")
    (here / "active").unlink()
    (here / "active").symlink_to("0" * 64)
    run = job.carry(run)
    assert "another version" in " ".join(n for _, n in sheet(run)) and (here / commit).exists()


def test_a_remote_that_only_it_came_from_comes_back_with_it(job):
    """flatpak forgets such a remote with its last application, and put back could not name it."""
    root = job.machine.folder
    config = root / SYSTEM / "repo/config"
    config.write_text(config.read_text() + "xa.noenumerate=true\n")
    job.survey()
    before = picture(root)
    job.carry(job.prepare(job.order(DRAWERS)))
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == [] and '[remote "shelf"]' in config.read_text()


def test_links_that_lead_out_of_a_repository_are_not_followed(job, tmp_path):
    root = job.machine.folder
    run = job.prepare(job.order(OTTOS))
    heads = root / PERSONAL / "repo/refs/heads"
    shutil.rmtree(heads)
    heads.symlink_to("/../../../../../../../../../etc")
    run = job.carry(run)
    assert not (root / "etc/swept-shelf").exists() and "done" not in {e for e, _ in sheet(run)}
    assert not Path("/etc/swept-shelf").exists() and "org.test.Drawers/x86_64/1" in listed(root, PERSONAL)


def test_what_is_left_of_it_is_never_looked_for_behind_a_link(job):
    """A person swaps a folder of the installation for a link while the carrier works."""
    root = job.machine.folder
    op = next(o for o in job.prepare(job.order(OTTOS)).plan.operations if o.do == "uninstall")
    machine = open_machine(root)
    made.write(root, "var/precious/1/keep", "of everyone")
    above = root / PERSONAL / "app/org.test.Drawers/x86_64"
    shutil.rmtree(above)
    above.symlink_to("/var/precious")
    left = flatpak.remains(machine, op)
    behind = [p for p in left if p.startswith(f"/{above.relative_to(root)}/")]
    assert behind
    for path in behind:
        with pytest.raises(OSError), flatpak.folder_of(machine, op, path):
            pass
    assert (root / "var/precious/1/keep").exists()


@pytest.fixture
def bus(tmp_path):
    """A message bus where the system's stands, where this computer has none: everybody may speak on it, nobody answers."""
    place = Path("/run/dbus/system_bus_socket")
    if place.exists():
        yield
        return
    place.parent.mkdir(parents=True, exist_ok=True)
    config = tmp_path / "bus.conf"
    config.write_text(
        f"<busconfig><type>system</type><listen>unix:path={place}</listen><auth>EXTERNAL</auth><policy context='default'>"
        "<allow user='*'/><allow own='*'/><allow send_type='*'/><allow receive_type='*'/></policy></busconfig>"
    )
    words = ["dbus-daemon", f"--config-file={config}", "--nofork", "--nopidfile"]
    with subprocess.Popen(words) as daemon:
        while not place.exists():
            assert daemon.poll() is None
            time.sleep(0.01)
        place.chmod(0o666)
        yield
        daemon.terminate()
    place.unlink(missing_ok=True)


def test_without_a_message_bus_a_persons_is_left(job):
    """It could be removed, and not be put back."""
    subprocess.run(["chown", "-R", "1002:1002", job.machine.folder / made.OTTO], check=True)
    job.survey()
    if not Path("/run/dbus/system_bus_socket").exists():
        with pytest.raises(Refused, match="no message bus"):
            job.prepare(job.order(OTTOS))


@pytest.mark.skipif(os.geteuid() != 0, reason="only the administrator works as somebody else")
def test_what_is_a_persons_is_changed_as_that_person(built, bus):
    """Of a uid that this computer knows: a bus asks who it is."""
    with tempfile.TemporaryDirectory(dir="/var/tmp") as folder:
        os.chmod(folder, 0o755)
        subprocess.run(["cp", "-a", built, f"{folder}/root"], check=True)
        subprocess.run(["chown", "-R", "1:1", f"{folder}/root/{made.OTTO}"], check=True)
        job = Job(SimpleNamespace(folder=make_ours(Path(folder) / "root")))
        root = job.machine.folder
        before = picture(root)
        run = job.carry(job.prepare(job.order(OTTOS)))
        assert set(sheet(run)) == {("done", "")} and listed(root, PERSONAL) == set()
        made_by = {p.lstat().st_uid for p in (root / PERSONAL).rglob("*")}
        assert made_by == {1}
        assert job.put_back()["why"] == []
        assert not differences(before, picture(root)), "\n".join(differences(before, picture(root)))


@pytest.mark.parametrize(
    ("call", "nth"),
    sampled(
        [("renameat2", 3), ("unlinkat", 1), ("unlinkat", 7), ("renameat", 1), ("unlink", 2), ("linkat", 3)], 4
    ),
)
def test_killed_anywhere_inside_it_is_finished_and_comes_back(job, call, nth):
    """The carrier, or flatpak at its work, dies; begun again it ends as it would have."""
    root = job.machine.folder
    before = picture(root)
    run = job.prepare(job.order(DRAWERS))
    cut = under_injection(job.shop.orders.carry_request(run), call, nth)
    run = job.carry(open_run(run.folder))
    assert listed(root) == set() and {e for e, _ in sheet(run)} == {"done"}, (cut, sheet(run))
    assert not [p for p in (root / SYSTEM).rglob("org.test.Drawers*") if "repo" not in p.parts], cut
    request = job.shop.shelves.request("put_back", job.row(), [])
    under_injection(request, call if call != "unlinkat" else "symlinkat", nth)
    result = job.put_back()
    assert result["why"] == [] and listed(root) == {"org.test.Drawers/x86_64/1", "org.test.Base/x86_64/1"}
    assert not differences(before, picture(root)), "\n".join(differences(before, picture(root)))


def test_what_flatpak_no_longer_tells_of_keeps_its_data(job):
    """Its record became unreadable after the survey: nothing of it is planned, and why is said."""
    root = job.machine.folder
    order = job.order(DRAWERS)
    here = root / SYSTEM / "app/org.test.Drawers/x86_64/1"
    (here / "active").resolve().joinpath("deploy").write_bytes(b"\xff")
    plan = job.shop.orders.rehearse(order, "the order").plan
    assert plan.operations == [] and "nothing of Drawers was planned" in plan.left_alone[0].why
    for part in ("app", "runtime", "exports"):
        shutil.rmtree(root / SYSTEM / part)
    plan = job.shop.orders.rehearse(order, "the order").plan
    assert {o.do for o in plan.operations} == {"shelve"}, "what it left is taken where it is gone already"
    assert all(".var/app/org.test.Drawers" in o.path for o in plan.operations)
