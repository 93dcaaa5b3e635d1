"""Our own store under bad luck and in bad company: whole or not there, closed to others, never another's."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import threading
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import disk
import pytest

from helpers import cli, others_may_read
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.ledger import Ledger, opening, store
from swept_shelf.core.machine import open_machine
from swept_shelf.worker.client import worker_command
from swept_shelf.workshop import Workshop


def test_a_ledger_is_closed_to_everybody_else(tmp_path):
    folder = tmp_path / "own"
    ledger = Ledger(folder / "ledger.sqlite")
    ledger.new_survey_folder()
    assert {stat.S_IMODE(p.stat().st_mode) for p in folder.rglob("*") if p.is_file()} == {0o600}
    assert {stat.S_IMODE(p.stat().st_mode) for p in (folder, *folder.rglob("*")) if p.is_dir()} == {0o700}
    (folder / "ledger.sqlite").chmod(0o644)
    Ledger(folder / "ledger.sqlite")
    assert stat.S_IMODE((folder / "ledger.sqlite").stat().st_mode) == 0o600


@pytest.mark.parametrize("make", ["another's tables", "an empty database", "text", "a folder", "a pipe"])
def test_what_is_no_ledger_is_refused_and_stays_as_it_is(tmp_path, make):
    path = tmp_path / "x.sqlite"
    if make == "text":
        path.write_text("this is no database " * 100)
    elif make == "a folder":
        path.mkdir()
    elif make == "a pipe":
        os.mkfifo(path)
    else:
        base = sqlite3.connect(path)
        base.execute("PRAGMA user_version = 7")
        if make == "another's tables":
            base.executescript(
                "CREATE TABLE letters(a); CREATE TABLE alembic_version(version_num); INSERT INTO alembic_version VALUES ('0001');"
            )
        base.commit()
        base.close()
    before = path.read_bytes() if path.is_file() else b""
    with pytest.raises((Refused, CouldNotRead)):
        Ledger(path)
    assert (path.read_bytes() if path.is_file() else b"") == before and sorted(
        p.name for p in tmp_path.iterdir()
    ) == ["x.sqlite"]


@pytest.mark.skipif(os.geteuid() != 0, reason="mounts a small file system")
def test_a_disk_that_is_full_while_the_ledger_is_made_leaves_nothing_behind(tmp_path):
    place = tmp_path / "small"
    place.mkdir()
    code = f"""
import sys
sys.path.insert(0, {str(Path(__file__).parents[1])!r})
from swept_shelf.core.ledger import Ledger
from swept_shelf.core.documents.errors import SweptShelfError
from pathlib import Path
place = Path({str(place)!r})
size = 0
with open(place / "fill", "wb", buffering=0) as fill:
    try:
        while True:
            fill.write(b"x" * 1024)
    except OSError:
        pass
with open(place / "fill", "r+b") as fill:
    fill.truncate(max(0, fill.seek(0, 2) - 24576))
try:
    Ledger(place / "ledger.sqlite")
    print("made")
except SweptShelfError as error:
    print("refused", error)
(place / "fill").unlink()
Ledger(place / "ledger.sqlite")
print("then made", sorted(p.name for p in place.iterdir() if p.name.startswith(".")))
"""
    (tmp_path / "code.py").write_text(code)
    script = f"mount -t tmpfs -o size=262144 tmpfs {place} && exec {sys.executable} {tmp_path / 'code.py'}"
    said = subprocess.run(["unshare", "--mount", "sh", "-c", script], capture_output=True, text=True)
    assert (
        said.stdout.splitlines()[0].startswith("refused") and said.stdout.splitlines()[1] == "then made []"
    ), said


def test_a_survey_that_cannot_be_taken_in_now_is_taken_in_next_time(job, monkeypatch):
    request = job.shop.survey_request()
    from swept_shelf.worker.client import run_worker

    result = run_worker(request)
    monkeypatch.setattr(opening, "_BUSY", 0.2)
    shop = Workshop(str(job.machine.folder))
    held = sqlite3.connect(job.shop.ledger.file, isolation_level=None)
    held.execute("BEGIN EXCLUSIVE")
    try:
        with pytest.raises(Refused, match="taken in next time"):
            shop.keep_survey(request, result)
    finally:
        held.rollback()
        held.close()
    assert Workshop(str(job.machine.folder)).latest()[1].survey.id == result["id"]


def test_a_ledger_held_for_a_while_is_waited_for(job):
    held = sqlite3.connect(job.shop.ledger.file, isolation_level=None, check_same_thread=False)
    held.execute("BEGIN EXCLUSIVE")

    def let_go() -> None:
        time.sleep(1.5)
        held.rollback()

    thread = threading.Thread(target=let_go)
    thread.start()
    job.survey()
    thread.join()
    held.close()
    assert job.shop.latest()[1].survey.id == job.surveyed.survey.id


def test_a_clock_that_is_set_back_hides_nothing(job, monkeypatch):
    first = job.shop.latest()[1].survey.id
    monkeypatch.setattr(store, "_now", lambda: datetime.now(UTC).replace(tzinfo=None) - timedelta(days=400))
    job.survey()
    assert job.shop.latest()[1].survey.id == job.surveyed.survey.id != first


@pytest.mark.skipif(os.geteuid() != 0, reason="what root may not read is tried as another person")
def test_a_ledger_copied_without_its_runs_still_answers(job, tmp_path):
    job.carry(job.prepare(job.order(job.machine.id("map", "7"))))
    shutil.rmtree(job.machine.folder / "ledger/runs")
    (job.machine.folder / "ledger/runs").write_text("a file stands there now")
    for command in ("visits", "survey"):
        said = cli("--root", str(job.machine.folder), command)
        assert said.returncode == 0 and "Traceback" not in said.stderr, said.stderr


def test_two_roots_with_one_machine_id_are_two_machines(tmp_path):
    for name in ("one", "two"):
        disk.put(disk.plain_root(tmp_path / name), "etc/machine-id", "0123456789abcdef0123456789abcdef\n")
    one, two = open_machine(tmp_path / "one"), open_machine(tmp_path / "two")
    assert one.key != two.key and one.key == open_machine(tmp_path / "one").key
    (tmp_path / "one").rename(tmp_path / "moved")
    assert open_machine(tmp_path / "moved").key == one.key


def test_an_earlier_ledger_is_brought_up_to_date_with_everything_in_its_order(tmp_path):
    """A ledger of the first version, by its own tables."""
    path = tmp_path / "ledger.sqlite"
    ledger = Ledger(path)
    ledger._engine.dispose()
    base = sqlite3.connect(path)
    for table in ("surveys", "orders", "runs", "clearances"):
        base.execute(f"ALTER TABLE {table} DROP COLUMN place")
    for table in ("surveys", "runs"):
        base.execute(f"ALTER TABLE {table} DROP COLUMN left_of")
    base.executescript("DROP TABLE left_findings; DROP TABLE sign_offs")
    base.execute("UPDATE alembic_version SET version_num = '0001'")
    base.execute("INSERT INTO machines VALUES ('k', 'm')")
    base.execute("INSERT INTO visits VALUES ('v', 'k', 1, '2026-01-01', '2026-01-01', NULL)")
    for id, at in (("b", "2026-01-02"), ("a", "2026-01-01")):
        base.execute("INSERT INTO surveys VALUES (?, 'v', ?, 'x', ?, '{}')", (id, at, str(tmp_path)))
    base.commit()
    base.close()
    Ledger(path)
    base = sqlite3.connect(path)
    assert base.execute("SELECT id, place FROM surveys ORDER BY place").fetchall() == [("a", 1), ("b", 2)]
    base.close()


def test_looking_with_a_rehearsal_makes_no_lock_and_moves_no_access_time(job):
    if os.geteuid() != 0:
        pytest.skip("what others may read is root's")
    order = job.order(job.machine.id("map", "7"))
    for name in ("lock", "lock-frontend"):
        (job.machine.root / "var/lib/dpkg" / name).unlink(missing_ok=True)
    before = disk.picture_with_access(job.machine.root)
    assert job.shop.orders.rehearse(order, "the order").registry
    after = disk.picture_with_access(job.machine.root)
    assert {k: v for k, v in after.items() if before.get(k) != v} == {}


@pytest.mark.skipif(os.geteuid() != 0, reason="mounts")
def test_a_rehearsal_on_a_read_only_mount_says_so(job, tmp_path):
    order = tmp_path / "order.json"
    from swept_shelf.core.documents.wire import to_json

    order.write_bytes(to_json(job.order(job.machine.id("map", "7"))))
    root = job.machine.root
    script = (
        f"mount --bind {root} {root} && mount -o remount,bind,ro {root} && "
        f"{sys.executable} -m swept_shelf --root {job.machine.folder} rehearse {order}"
    )
    said = subprocess.run(["unshare", "--mount", "sh", "-c", script], capture_output=True, text=True)
    assert (
        said.returncode in (1, 2) and "Traceback" not in said.stderr and "read-only" in said.stderr.lower()
    ), said


def test_an_ordinary_person_looks_in_namespaces_of_their_own_too(tmp_path):
    """Nothing starts a thread before: then the kernel would refuse."""
    if os.geteuid() != 0:
        pytest.skip("as root another person is tried")
    top = Path("/tmp") / f"swept-shelf-person-{os.getpid()}"
    root = disk.plain_root(top / "disk")
    (top / "out").mkdir()
    for path in (top, top / "out"):
        os.chown(path, 65500, 65500)
        path.chmod(0o700)
    for path in root.rglob("*"):
        os.chown(path, 65500, 65500, follow_symlinks=False)
    os.chown(root, 65500, 65500)
    disk.put(root, f"{disk.HOME}/.bashrc", "alias l=lantern\n").chmod(
        0
    )  # root's own, and nobody else's to read
    disk.put(root, f"{disk.HOME}/.config/autostart/x.desktop", "[Desktop Entry]\n").chmod(0)
    os.mkfifo(root / disk.HOME / ".bash_history", 0o666)
    (root / disk.HOME / ".zsh_history").symlink_to("/etc/shadow")
    (root / "var/lib/closed").mkdir(mode=0o700)
    try:
        before = disk.picture_with_access(root)
        request = {"do": "survey", "root": str(root), "folder": str(top / "out")}
        if not others_may_read(65500):
            pytest.skip("this copy of the project, or its Python, may not be read by other people")
        done = subprocess.run(
            ["setpriv", "--reuid=65500", "--regid=65500", "--clear-groups", *worker_command()],
            input=json.dumps(request).encode() + b"\n",
            stdout=subprocess.PIPE,
            cwd="/",
            env={"HOME": str(top), "PATH": os.environ["PATH"]},
        )
        assert json.loads(done.stdout.splitlines()[-1])["event"] == "result", done.stdout[-500:]
        survey = json.loads((top / "out/survey.json").read_bytes())
        assert not [n for n in survey["not_read"] if "access times" in n["reason"]], survey["not_read"]
        named = {n["path"]: n["reason"] for n in survey["not_read"]}
        assert (
            named["/var/lib/closed"] == "may not be read"
            and f"/{disk.HOME}/.config/autostart/x.desktop" in named
        ), named
        assert disk.picture_with_access(root) == before
    finally:
        shutil.rmtree(top)
