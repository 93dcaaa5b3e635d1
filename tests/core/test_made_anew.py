"""What the system's tools made of parts that go: made anew without them, and as it was when they come back."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

import pytest

from debs import install
from helpers import Job, differences, picture
from kills import sampled, under_injection
from registries import write
from staging import copied, staged
from swept_shelf.core.carry.journal import read_journal
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import MakeAnew
from swept_shelf.core.machine import made_files, open_machine
from swept_shelf.core.machine.made_files import made_of, make, standing

PLOT, ASH = "files:/opt/plot7", "debian:ashen"
DATA = "home/edda/.local/share"
TYPES, ICONS, SCHEMAS = f"{DATA}/mime", f"{DATA}/icons/hicolor", f"{DATA}/glib-2.0/schemas"
MADE = (f"{TYPES}/mime.cache", f"{TYPES}/globs2", f"{ICONS}/icon-theme.cache", f"{SCHEMAS}/gschemas.compiled")


def bring(root: Path, name: str) -> None:
    """What an installer in a home puts there."""
    glob = (
        f'<mime-type type="application/x-{name}"><comment>x</comment><glob pattern="*.{name}"/></mime-type>'
    )
    head = '<?xml version="1.0"?>\n<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">'
    write(root, f"{TYPES}/packages/{name}.xml", f"{head}{glob}</mime-info>\n")
    write(root, f"{ICONS}/48x48/apps/{name}.png", "a picture")
    key = '<key name="level" type="i"><default>1</default></key>'
    schema = f'<schema id="org.example.{name}" path="/org/example/{name}/">{key}</schema>'
    write(root, f"{SCHEMAS}/org.example.{name}.gschema.xml", f"<schemalist>{schema}</schemalist>")


def tools(root: Path) -> None:
    """As the tools of a desktop do after something was put there."""
    for command in (
        ["update-mime-database", root / TYPES],
        ["gtk-update-icon-cache", "-q", "-f", "-t", root / ICONS],
        ["glib-compile-schemas", root / SCHEMAS],
    ):
        subprocess.run(command, check=True, capture_output=True)


def furnish(job: Job) -> None:
    """A program in a folder of its own and one of a package, both with parts in one home."""
    root, top = job.machine.root, job.machine.folder / "debs"
    with (root / "etc/passwd").open("a") as people:
        people.write("edda:x:1050:1050::/home/edda:/bin/bash\n")
    launcher = "[Desktop Entry]\nType=Application\nName={0}\nExec={1}\nIcon={0}\n"
    write(root, "opt/plot7/bin/plot7", b"\x7fELF" + bytes(200), 0o755)
    text = launcher.format("plot7", "/opt/plot7/bin/plot7")
    write(root, "usr/local/share/applications/org.example.plot7.desktop", text)
    files = {"usr/bin/ashen": "#!/bin/sh\n"}
    files["usr/share/applications/org.example.ashen.desktop"] = launcher.format("ashen", "ashen")
    install(job.machine, top, "ashen", "1", files)
    for name in ("plot7", "ashen"):
        bring(root, name)
    tools(root)
    for above, _, names in os.walk(root / "home/edda"):
        for path in (above, *(f"{above}/{n}" for n in names)):
            shutil.chown(path, 1050, 1050)
    shutil.rmtree(top)
    job.survey()


@pytest.fixture
def job(tmp_path):
    return copied(staged(furnish), tmp_path / "machine")


def read(root: Path) -> dict[str, bytes]:
    return {p: (root / p).read_bytes() for p in MADE if (root / p).exists()}


def notes(run) -> list[str]:
    return [e.note for e in read_journal(run.journal_path) if e.note]


def test_what_was_made_of_it_is_made_without_it_and_is_as_it_was_afterwards(job, tmp_path):
    root = job.machine.root
    before, first = picture(root), read(root)
    assert all(b"plot7" in data for data in first.values())
    run = job.prepare(job.order(PLOT))
    made = {op.path: op for op in run.plan.operations if isinstance(op, MakeAnew)}
    assert set(made) == {f"/{TYPES}", f"/{ICONS}", f"/{SCHEMAS}"}
    assert {op.rights for op in made.values()} == {"edda"}
    job.carry(run)
    assert notes(run) == []
    after = read(root)
    assert all(b"plot7" not in data and b"ashen" in data for data in after.values())
    assert not (root / TYPES / "application/x-plot7.xml").exists()
    assert (root / ICONS / "icon-theme.cache").stat().st_mtime >= (root / ICONS).stat().st_mtime
    assert {p.stat().st_uid for p in (root / TYPES).iterdir()} == {1050}
    again = tmp_path / "again"
    shutil.copytree(root / DATA, again / DATA)
    tools(again)
    assert read(again) == after, "the tools themselves make nothing else of what is left"
    assert job.clearance().findings == 0
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []


def test_both_go_in_one_order_and_come_back_one_by_one(job):
    root = job.machine.root
    before, first = picture(root), read(root)
    job.carry(job.prepare(job.order(PLOT, ASH)))
    assert all(b"plot7" not in d and b"ashen" not in d for d in read(root).values())
    assert job.put_back([PLOT])["why"] == []
    assert all(b"plot7" in d and b"ashen" not in d for d in read(root).values())
    assert job.put_back()["why"] == []
    assert read(root) == first
    assert differences(before, picture(root), times=False) == []


def test_what_was_made_anew_by_others_since_is_made_of_what_comes_back(job):
    """Something new was installed meanwhile, and the tools ran: nothing of it is lost, nothing of what returns is missing."""
    root = job.machine.root
    job.carry(job.prepare(job.order(PLOT)))
    bring(root, "later")
    tools(root)
    assert job.put_back()["why"] == []
    now = read(root)
    assert all(b"plot7" in d and b"ashen" in d and b"later" in d for d in now.values())
    tools(root)
    assert read(root) == now
    assert not list(root.rglob("*swept-shelf"))


def test_where_no_such_tool_is_the_rest_goes_and_what_stays_is_said(job, monkeypatch):
    monkeypatch.setattr(made_files, "available", lambda _: False)
    run = job.prepare(job.order(PLOT))
    assert not [op for op in run.plan.operations if isinstance(op, MakeAnew)]
    left = {x.path: x.why for x in run.plan.left_alone}
    assert "update-mime-database is not on this computer" in left[f"/{TYPES}/mime.cache"]


def test_what_is_no_part_or_not_the_tools_own_is_left_alone(tmp_path):
    root = tmp_path / "root"
    bring(root, "plot7")
    tools(root)
    own = write(root, f"{TYPES}/text/x-own.xml", "<mime-type/>")
    os.link(root / TYPES / "globs", root / TYPES / "second")
    os.mkfifo(root / TYPES / "packages/pipe.xml")
    machine = open_machine(root)
    stands = standing(machine, "mime", f"/{TYPES}")
    assert "application/x-plot7.xml" in stands and "globs" not in stands
    assert str(own.relative_to(root / TYPES)) not in stands
    with pytest.raises(CouldNotRead) as refused:
        make(machine, "mime", f"/{TYPES}")
    assert "pipe.xml" in str(refused.value)
    assert list(made_of("/home/a/mime/readme.xml")) == []
    (root / TYPES / "packages/pipe.xml").unlink()
    write(root, "etc/secret", "<mime-info/>", 0o600)
    os.chown(root / TYPES, 1050, 1050)
    (root / TYPES / "packages/link.xml").symlink_to("/etc/secret")
    with pytest.raises(CouldNotRead, match="somebody else’s file"):
        make(machine, "mime", f"/{TYPES}")
    write(root, f"{SCHEMAS}/broken.gschema.xml", "<schemalist><schema")
    assert set(make(machine, "schemas", f"/{SCHEMAS}")) == {"gschemas.compiled"}
    (root / ICONS / "48x48/apps/loop").symlink_to("..")
    (root / ICONS / "48x48/apps/out.png").symlink_to("/etc/passwd")
    assert b"plot7" in make(machine, "icons", f"/{ICONS}")["icon-theme.cache"]


CARRYING = [("renameat2", n) for n in range(1, 19)] + [("mkdir", n) for n in range(4, 10)]
CARRYING += [("unlink", n) for n in range(1, 3)] + [("fsync", n) for n in range(20, 70, 5)]
RETURNING = [("renameat2", n) for n in range(1, 13)] + [("unlinkat", n) for n in range(1, 30, 3)]
RETURNING += [("utimensat", n) for n in range(1, 6)]


@pytest.mark.parametrize(
    ("task", "call", "nth"),
    sampled([("carry_out", *p) for p in CARRYING], 12) + sampled([("put_back", *p) for p in RETURNING], 12),
)
def test_cut_off_anywhere_it_is_finished_and_comes_back(job, task, call, nth):
    root = job.machine.root
    before = picture(root)
    run = job.prepare(job.order(PLOT))
    request = job.shop.orders.carry_request(run)
    if task == "put_back":
        job.carry(run)
        request = job.shop.shelves.request(task, job.row(), [])
    assert under_injection(request, call, nth).died
    if task == "carry_out":
        job.carry(run)
        assert all(b"plot7" not in d and b"ashen" in d for d in read(root).values())
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []
