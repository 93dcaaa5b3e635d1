"""What tests share: made-up machines, whole pictures of a root, and the job's steps without a window."""

from __future__ import annotations

import atexit
import contextlib
import ctypes
import functools
import gc
import hashlib
import importlib
import json
import os
import shutil
import signal
import stat
import subprocess
import sys
import tempfile
import time
import traceback
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from swept_shelf.__main__ import main as swept_shelf_main
from swept_shelf.core.carry.checks import bounds_of
from swept_shelf.core.carry.journal import State
from swept_shelf.core.carry.records import FORMAT, VERSION, write_record
from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.carry.times import times_of
from swept_shelf.core.carry.work import Work
from swept_shelf.core.demo import build_demo
from swept_shelf.core.documents.operations import Operation
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.machine import Machine, open_machine
from swept_shelf.core.machine.description import NAME, write_description
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders import Choice
from swept_shelf.core.survey.take import take_survey
from swept_shelf.core.tree.index import Index
from swept_shelf.core.use import journal
from swept_shelf.worker.__main__ import main as worker_main
from swept_shelf.worker.events import Heard
from swept_shelf.workshop import Surveyed, Workshop

# What put back cannot restore (docs/put-back.md): the registry's own logs, backups, locks and file times.
EXCUSED = (
    "/var/lib/dpkg/status-old",
    "/var/lib/dpkg/diversions-old",
    "/var/lib/dpkg/statoverride-old",
    "/var/lib/dpkg/lock",
    "/var/lib/dpkg/lock-frontend",
    "/var/lib/dpkg/triggers/Lock",
    "/var/log/dpkg.log",
    "/var/log/alternatives.log",
)
EXCUSED_TIMES = (
    "/var/lib/dpkg",
    "/var/lib/dpkg/info",
    "/var/lib/dpkg/updates",
    "/var/lib/dpkg/triggers",
    "/var/lib/dpkg/status",
    "/var/lib/dpkg/triggers/Unincorp",
    "/var/lib/dpkg/triggers/File",
    "/var/lib/apt/extended_states",
    "/var/log",
)


@dataclass
class MadeUp:
    folder: Path
    times: dict[str, tuple[int, int]] = field(default_factory=dict)

    @property
    def root(self) -> Path:
        return self.folder / "root"

    @property
    def truth(self) -> dict[str, Any]:
        return json.loads((self.folder / "truth.json").read_text())

    def remember_times(self) -> MadeUp:
        for path in _everything(self.root):
            status = path.lstat()
            self.times[str(path.relative_to(self.root))] = (status.st_atime_ns, status.st_mtime_ns)
        return self

    def copy(self, to: Path) -> MadeUp:
        to.parent.mkdir(parents=True, exist_ok=True)
        subprocess.run(["cp", "-a", str(self.folder), str(to)], check=True)
        seal_anew(to)
        for name, times in sorted(self.times.items(), key=lambda t: -t[0].count("/")):
            os.utime(to / "root" / name, ns=times, follow_symlinks=False)
        return MadeUp(to, self.times)

    def id(self, role: str, more: str = "") -> str:
        return f"debian:{self.truth['app'][role].lower()}{more}"


def seal_anew(folder: Path) -> None:
    """A copy of a made-up machine is nobody's until this person's own builder seals it."""
    write_description(folder, json.loads((folder / NAME).read_text()))


def make_ours(root: Path) -> Path:
    """Describe and seal `root` (a folder called root) as a made-up machine of this person's."""
    volume = {"id": "v", "mount": "/", "file_system": "ext4", "capacity": 10**12, "base": 0}
    write_description(
        root.parent,
        {
            "format": "swept-shelf/machine",
            "version": 1,
            "name": "Bench",
            "key": "bench",
            "clock": None,
            "ledger": "ledger/ledger.sqlite",
            "volumes": [volume],
        },
    )
    return root


def slot_manifest(number: int, do: str, **more: Any) -> dict[str, Any]:
    """A manifest as the carrier writes it, for slots that a test makes by itself."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "run": "a-run",
        "order": "1.1",
        "machine": "m",
        "number": number,
        "line": "line",
        "name": "Line",
        "do": do,
        "at": "2026-01-01T00:00:00Z",
        "bytes": 0,
        "files": 0,
        "volume": "v",
        **more,
    }


class ByHand(Work):
    """A carrier's work without a run: operations that a test makes by itself, on any folder as a root."""

    def __init__(self, machine: Machine, index: Index | None = None) -> None:
        self.machine, self.volumes, self.bounds = machine, read_volumes(machine), bounds_of(machine)
        self.run = SimpleNamespace(id="a-run", index=index)  # type: ignore[assignment]
        self.state, self.noted, self.shrunk = State(), {}, {}
        slots = self.slots()
        self._earlier = {}
        self.times = times_of(machine, slots)
        self.edits = [s for s in slots if s.manifest["do"] == "edit_lines"]

    def _note_top(self, top: str, before: int) -> None:
        self.noted[top] = before

    def manifest(self, number: int, op: Operation, **more: Any) -> dict[str, Any]:
        return slot_manifest(number, op.do, **more) | {"line": op.line}

    def other_names(self, line: str) -> frozenset[str]:
        return frozenset()


def seal_shelves_anew(root: Path) -> None:
    """Seal every record on the shelves of a copied machine for the places where they stand now."""
    machine = open_machine(root.parent)
    for record in root.glob("**/.swept-shelf/**/*.json"):
        if "item" not in record.parts:
            fd = os.open(record.parent, os.O_RDONLY)
            content = json.loads(record.read_bytes())["content"]
            if (
                record.name == "manifest.json"
                and "identity" in content
                and os.path.lexists(record.parent / "item")
            ):
                content["identity"]["inode"] = (record.parent / "item").lstat().st_ino
            write_record(machine, fd, record.name, content)
            os.close(fd)


@functools.cache
def built(seed: int, scale: float = 0.004) -> MadeUp:
    top, mine = tempfile.mkdtemp(prefix=f"made-up-{seed}-"), os.getpid()
    atexit.register(lambda: os.getpid() == mine and shutil.rmtree(top, ignore_errors=True))
    folder = Path(top) / "machine"
    build_demo(folder, seed, scale)
    return MadeUp(folder).remember_times()


def _everything(root: Path) -> list[Path]:
    return [root, *(Path(d) / n for d, ds, fs in os.walk(root) for n in (*ds, *fs))]


def picture(root: Path, shelf: bool = False) -> dict[str, tuple[Any, ...]]:
    """Type, mode, owner, time, attributes and content of everything; the holding shelf only when asked for."""
    found = {}
    top = str(root)
    everything = [top, *(f"{d}/{n}" for d, ds, fs in os.walk(top) for n in (*ds, *fs))]
    for path in everything:
        name = path[len(top) :] or "/"
        if ".swept-shelf" in name and not shelf:
            continue
        s = os.lstat(path)
        content, attributes = "", {}
        if stat.S_ISLNK(s.st_mode):
            content = os.readlink(path)
        else:
            attributes = {n: os.getxattr(path, n) for n in os.listxattr(path)}
        if stat.S_ISREG(s.st_mode):
            with open(path, "rb", opener=lambda p, flags: os.open(p, flags | os.O_NOATIME)) as handle:
                content = hashlib.md5(handle.read()).hexdigest()
        found[name] = (s.st_mode, s.st_uid, s.st_gid, s.st_mtime_ns, content, attributes)
    return found


def differences(
    before: dict[str, tuple[Any, ...]], after: dict[str, tuple[Any, ...]], times: bool = True
) -> list[str]:
    """Paths that differ in anything put back must restore."""
    wrong = []
    for path in sorted(set(before) | set(after)):
        if path in EXCUSED:
            continue
        a, b = before.get(path), after.get(path)
        if a is None or b is None:
            wrong.append(f"{path}: {'new' if a is None else 'missing'}")
            continue
        if not times or path in EXCUSED_TIMES:
            a, b = (*a[:3], *a[4:]), (*b[:3], *b[4:])
        if a != b:
            wrong.append(f"{path}: {[(x, y) for x, y in zip(a, b, strict=True) if x != y]}")
    return wrong


UNHURRIED = 600.0  # seconds: a computer that stalls is not what most tests are about


@functools.cache
def ready_to_fork() -> None:
    """What a worker would import and make ready at each start stands here already, shared by all that are forked and left
    alone."""
    journal.TIME_BOUND = UNHURRIED
    for name in ("swept_shelf.worker.surveying", "swept_shelf.worker.carrying", "yaml", "PySquashfsImage"):
        importlib.import_module(name)
    with tempfile.TemporaryDirectory() as out:
        take_survey(open_machine(built(1).folder), out, [])
    gc.collect()
    gc.freeze()


def forked(
    act: Callable[[], int], given: bytes = b"", timeout: float = 120, tracer: Sequence[str] = ()
) -> tuple[int, bytes, bytes]:
    """(status, output, errors) of `act` in a process of its own, begun where this one stands: nothing is imported again.

    `tracer`: an strace(1) that is attached before it does anything."""
    ready_to_fork()
    with tempfile.TemporaryFile() as inner, tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as err:
        inner.write(given)
        inner.seek(0)
        pid = os.fork()
        if pid == 0:
            status = 70
            try:
                os.setsid()
                for fd, handle in ((0, inner), (1, out), (2, err)):
                    os.dup2(handle.fileno(), fd)
                sys.stdin, sys.stdout, sys.stderr = open(0), open(1, "w"), open(2, "w")  # noqa: SIM115
                if tracer:
                    os.kill(os.getpid(), signal.SIGSTOP)
                status = act()
            except SystemExit as error:
                status = error.code if isinstance(error.code, int) else 1
            except BaseException:
                traceback.print_exc()
            finally:
                for stream in (sys.stdout, sys.stderr):
                    with contextlib.suppress(Exception):
                        stream.flush()
                os._exit(status)
        if tracer:
            os.waitpid(pid, os.WUNTRACED)
            tracing = subprocess.Popen([*tracer, "-p", str(pid)])
            while f"TracerPid:\t{tracing.pid}\n" not in Path(f"/proc/{pid}/status").read_text():
                assert tracing.poll() is None, "strace could not be attached"
                time.sleep(0.002)
            os.kill(pid, signal.SIGCONT)
        until = time.monotonic() + timeout
        while (ended := os.waitpid(pid, os.WNOHANG))[0] == 0:
            if time.monotonic() > until:
                os.killpg(pid, 9)
                os.waitpid(pid, 0)
                raise subprocess.TimeoutExpired("a forked process", timeout)
            time.sleep(0.002)
        if tracer:
            tracing.wait(timeout)
        for handle in (out, err):
            handle.seek(0)
        return os.waitstatus_to_exitcode(ended[1]), out.read(), err.read()


def run_forked(request: dict[str, Any]) -> dict[str, Any]:
    """The worker's result, like run_worker: the worker's own main in a forked process."""
    given = json.dumps(request | {"parent": os.getpid()}).encode() + b"\n"
    status, out, _ = forked(worker_main, given)
    heard = Heard()
    heard.take(out)
    return heard.outcome(status)


class Job:
    """The steps of a job on one machine, each through the worker as the command line does it."""

    def __init__(self, machine: MadeUp, survey: bool = True) -> None:
        self.machine = machine
        self.shop = Workshop(str(machine.folder))
        self.surveyed: Surveyed | None = self.survey() if survey else None

    def survey(self, whole: bool = False) -> Surveyed:
        request = self.shop.survey_request(whole)
        self.surveyed = self.shop.keep_survey(request, run_forked(request))
        return self.surveyed

    def app(self, id: str) -> Application:
        assert self.surveyed is not None
        found = self.surveyed.survey.find(id)
        assert isinstance(found, Application), id
        return found

    def order(
        self, *ids: str, verdict: str = "remove", answers: dict[str, str] | None = None, **more: Any
    ) -> Order:
        visit, surveyed = self.shop.latest()
        settled = {f"personal:{i}": "they_stay" for i in ids} | (answers or {})
        choice = Choice(dict.fromkeys(ids, verdict), answers=settled, **more)
        order = self.shop.orders.draw(visit, surveyed, choice)
        self.shop.ledger.add_order(visit.id, order)
        return order

    def prepare(self, order: Order, originals: str = "") -> Run:
        return self.shop.orders.prepare_run(order, "the order", originals)

    def carry(self, run: Run) -> Run:
        run_forked(self.shop.orders.carry_request(run))
        self.shop.ledger.take_in()
        return open_run(run.folder)

    def row(self):
        visit, _ = self.shop.latest()
        return self.shop.proof.last_run(visit)

    def put_back(self, lines: list[str] | None = None) -> dict[str, Any]:
        row = self.row()
        result = run_forked(self.shop.shelves.request("put_back", row, lines or []))
        self.shop.shelves.keep_result("put_back", row, lines or [], result)
        return result

    def empty(self) -> dict[str, Any]:
        row = self.row()
        result = run_forked(self.shop.shelves.request("empty", row, []))
        self.shop.shelves.keep_result("empty", row, [], result)
        return result

    def clearance(self):
        visit, _ = self.shop.latest()
        request = self.shop.proof.clearance_request(self.row())
        run_forked(request)
        return self.shop.proof.keep_clearance(visit, request)


def as_user(uid: int, act: Callable[[], Any]) -> Any:
    """What `act` returns when done as an ordinary user, in a process of its own. Modules must be imported before.

    Skips where this copy of the project, or its Python, may not be read by others (a clone in root's own home)."""
    if not others_may_read(uid):
        pytest.skip(
            "this copy of the project, or its Python, may not be read by other people: nothing of it can be tried as one of them"
        )
    ready_to_fork()
    reader, writer = os.pipe()
    pid = os.fork()
    if pid == 0:
        try:
            os.setgroups([])
            os.setgid(uid)
            os.setuid(uid)
            ctypes.CDLL(None).prctl(4, 1)  # as after a login: /proc/self is its own (PR_SET_DUMPABLE)
            os.write(writer, json.dumps(act()).encode())
        except BaseException as error:
            os.write(writer, json.dumps({"raised": f"{type(error).__name__}: {error}"}).encode())
        finally:
            os._exit(0)
    os.close(writer)
    with os.fdopen(reader, "rb") as pipe:
        text = pipe.read()
    os.waitpid(pid, 0)
    done = json.loads(text)
    assert not isinstance(done, dict) or set(done) != {"raised"}, done
    return done


@functools.cache
def others_may_read(uid: int) -> bool:
    """Whether an ordinary user can start the project's own Python and import the project."""
    done = subprocess.run(
        [
            "setpriv",
            f"--reuid={uid}",
            f"--regid={uid}",
            "--clear-groups",
            sys.executable,
            "-I",
            "-c",
            "import swept_shelf.worker.client",
        ],
        capture_output=True,
        cwd="/",
    )
    return done.returncode == 0


def open_to_all(folder: Path) -> None:
    """Let ordinary users reach a folder below the temporary one."""
    for above in (folder, *folder.parents):
        if str(above).startswith(tempfile.gettempdir() + "/"):
            above.chmod(above.stat().st_mode | 0o755)


def cli(*arguments: str, **more: Any) -> subprocess.CompletedProcess[str]:
    """The command line as a person calls it. With anything special about its process it is started for real, else forked."""
    if set(more) - {"timeout"}:
        return subprocess.run(
            [sys.executable, "-m", "swept_shelf", *arguments],
            **{"capture_output": True, "text": True, "timeout": 120, **more},
        )

    def act() -> int:
        sys.argv = ["swept-shelf", *arguments]
        swept_shelf_main()
        return 0

    status, out, err = forked(act, timeout=more.get("timeout", 120))
    return subprocess.CompletedProcess(
        list(arguments), status, out.decode("utf-8", "replace"), err.decode("utf-8", "replace")
    )


@contextlib.contextmanager
def running_now(job: Job, id: str):
    script = job.machine.root / "usr/bin" / id.removeprefix("debian:")
    kept = script.stat()
    text = script.read_bytes()
    script.write_text("#!/bin/sh\nsleep 60 &\nwait\n")
    process = subprocess.Popen([str(script)], start_new_session=True)
    try:
        yield
    finally:
        os.killpg(process.pid, 9)
        process.wait()
        script.write_bytes(text)
        os.utime(script, ns=(kept.st_atime_ns, kept.st_mtime_ns))


def dpkg_status(machine: MadeUp, name: str) -> str:
    done = subprocess.run(
        ["dpkg-query", f"--admindir={machine.root}/var/lib/dpkg", "-W", "-f", "${db:Status-Status}", name],
        capture_output=True,
        text=True,
    )
    return done.stdout or "not-installed"


def program_and_page(machine):
    """The program of the map viewer, and a page that its package lists."""
    hero = Job(machine).app(machine.id("map", "7"))
    name = hero.own_packages[0]
    listed = (machine.root / f"var/lib/dpkg/info/{name}.list").read_text().splitlines()
    return hero.executables[0], next(
        p for p in listed if p.startswith("/usr/share/doc/") and p.count("/") == 5
    )


def add_rows(root: Path, program: str, page: str, other: str) -> None:
    """Rows of the registry's tables for `program` and its `page`, beside those of others: chosen by hand, put aside, with rights
    of its own."""
    for path in (program, other, "/usr/share/man/man1/plain.1", "/usr/share/man/man1/other.1"):
        (root / path[1:]).parent.mkdir(parents=True, exist_ok=True)
        if path != program:
            (root / path[1:]).write_text("x\n")
    (root / other[1:]).chmod(0o755)
    (root / "etc/alternatives").mkdir(parents=True, exist_ok=True)
    (root / "var/lib/dpkg/alternatives").mkdir(parents=True, exist_ok=True)
    for path, mode in ((program, "0755"), (other, "4755")):
        tool("dpkg-statoverride", root, "--add", "root", "root", mode, path)
    for path in ("/usr/bin/pen", page):
        tool("dpkg-divert", root, "--local", "--rename", "--divert", f"{path}.old", "--add", path)
    for path, priority, name in ((program, 5, "plain"), (other, 50, "other")):
        slave = (
            "--slave",
            "/usr/share/man/man1/map-viewer.1",
            "map-viewer.1",
            f"/usr/share/man/man1/{name}.1",
        )
        link = "--install", "/usr/bin/map-viewer", "map-viewer", path, str(priority)
        tool("update-alternatives", root, *link, *slave)
    tool("update-alternatives", root, "--set", "map-viewer", program)


def tool(name: str, root: Path, *arguments: str) -> None:
    """One of the registry's tools on a made-up root."""
    subprocess.run([name, "--quiet", "--root", str(root), *arguments], check=True)
