"""`swept-shelf-helper look|carry`: started by pkexec, sudo or su. One request on standard input, the worker's events on standard output.

It trusts nothing it is told: it looks at this computer itself, an order must be borne out by a survey of its own, the plan is
its own, every check is made again. Its surveys and runs stand below /var/lib/swept-shelf and are root's; what the person who
asked may have of them is handed over with that person's rights."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import pwd
import shutil
import signal
import sys
import threading
import time
import uuid
from dataclasses import asdict
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from swept_shelf.core.carry.prepare import prepare
from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.carry.shelf import slots_on_shelves
from swept_shelf.core.documents.clearance import REMNANTS
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.documents.wire import read_document, read_order
from swept_shelf.core.machine.machine import open_machine
from swept_shelf.core.machine.own_folders import ROOTS
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders import Scope, check_order
from swept_shelf.core.tree.index import Index
from swept_shelf.logbook import keep_log
from swept_shelf.rights.action import CARRY, LOOK
from swept_shelf.rights.handing_over import STOP, Caller, caller, fetch, hand_over
from swept_shelf.rights.mirror import ARCHIVE, WAITING
from swept_shelf.rights.requests import (
    LONGEST,
    Carry,
    Follow,
    Look,
    Pack,
    Prove,
    Request,
    Shelf,
    Unpack,
    read_request,
)
from swept_shelf.running import begin
from swept_shelf.worker.channel import Channel
from swept_shelf.worker.client import run_worker

_STEPS = ("begin", "done", "skipped", "left", "returned", "stays")
_PATIENCE = 10  # seconds that a person's folder may hold the work up
_LARGE = 4 * 3600  # seconds that an archive may take on its way
_OFTEN = 1.0  # seconds between two looks of the person's at the journal
_HANDED = ("run.json", "plan.json", "journal.jsonl", "result.json")
_SURVEY = ("survey.json", "survey.index")
_LOOKS_KEPT, _CUT_OFF = 4, 3600
_OF_REMNANTS = "of-remnants"
_ORDER = "the order"


class Helper:
    """`root`: the machine's, always / but in tests; `place`: where it keeps its surveys and runs."""

    def __init__(self, whom: Caller, channel: Channel, root: str = "/", place: Path = ROOTS) -> None:
        self._whom = whom
        self._channel = channel
        self._root = root
        self._looks = place / "looks"
        self._runs = place / "runs"
        for folder in (self._looks, self._runs):
            folder.mkdir(parents=True, exist_ok=True, mode=0o700)

    def answer(self, request: Request) -> None:
        """Raises SweptShelfError, with nothing changed that the journal of the run does not know."""
        self._channel.tell({"event": "granted"})
        if isinstance(request, Look):
            result = self._look(request)
        elif isinstance(request, Prove):
            result = self._prove(request)
        elif isinstance(request, Follow):
            result = self._follow(request)
        elif isinstance(request, Carry):
            result = self._carry(request)
        elif isinstance(request, Pack):
            result = self._pack(request)
        elif isinstance(request, Unpack):
            result = self._unpack(request)
        else:
            result = self._shelf(request)
        self._channel.tell(result)

    # -- looking ----------------------------------------------------------------------------------------------

    def _look(self, request: Look) -> dict[str, Any]:
        folder = self._looks / f".{uuid.uuid4()}"
        folder.mkdir(mode=0o700)
        try:
            asked: dict[str, Any] = {"do": "survey", "root": self._root, "folder": str(folder)}
            asked |= {"ours": request.ours, "rules": request.rules}
            if not request.whole and (earlier := self._newest()):
                survey = read_document(Survey, (earlier / "survey.json").read_bytes(), str(earlier))
                since = survey.evidence.trusted_since or survey.surveyed_at
                asked |= {"before": str(earlier), "before_at": rfc3339(since)}
            result = run_worker(asked, self._pass_on)
            kept = self._looks / str(uuid.UUID(result["id"]))
            folder.rename(kept)
        except BaseException:
            shutil.rmtree(folder, ignore_errors=True)
            raise
        hand_over(self._whom, request.folder, {n: kept / n for n in _SURVEY})
        for old in self._kept_looks()[:-_LOOKS_KEPT]:
            shutil.rmtree(old, ignore_errors=True)
        for part in self._looks.glob(".*"):
            if time.time() - part.stat().st_mtime > _CUT_OFF:
                shutil.rmtree(part, ignore_errors=True)
        return result

    def _newest(self) -> Path | None:
        """The newest whole survey: what was found left after a run is a small one, and its folder says so."""
        whole = [p for p in self._kept_looks() if not (p / _OF_REMNANTS).exists()]
        return whole[-1] if whole else None

    def _kept_looks(self) -> list[Path]:
        kept = [p for p in self._looks.iterdir() if not p.name.startswith(".")]
        return sorted(kept, key=lambda p: p.stat().st_mtime_ns)

    def _prove(self, request: Prove) -> dict[str, Any]:
        run = self._run(request.run)
        folder = run.folder / "looking"
        folder.mkdir(exist_ok=True, mode=0o700)
        asked = {"do": "clearance", "root": self._root, "run_folder": str(run.folder), "folder": str(folder)}
        result = run_worker(asked, self._pass_on)
        self._hand_over_found(folder, "clearance.json", request.folder)
        if (remnants := folder / REMNANTS).is_dir():  # an order for what was found is drawn from it
            data = (remnants / "survey.json").read_bytes()
            kept = self._looks / read_document(Survey, data, str(remnants)).id
            shutil.copytree(remnants, kept, dirs_exist_ok=True)
            (kept / _OF_REMNANTS).touch()
        return result

    def _follow(self, request: Follow) -> dict[str, Any]:
        """Looks, and keeps nothing that an order could be drawn from: what to look for is the person's word alone."""
        folder = self._looks / f".{uuid.uuid4()}"
        folder.mkdir(mode=0o700)
        try:
            asked: dict[str, Any] = {"do": "trace", "root": self._root, "name": request.name}
            asked |= {"folder": str(folder)}
            if request.since:
                asked |= {"id": request.id, "names": request.names, "since": request.since}
            result = run_worker(asked, self._pass_on)
            self._hand_over_found(folder, "trace.json", request.folder)
        finally:
            shutil.rmtree(folder, ignore_errors=True)
        return result

    def _hand_over_found(self, folder: Path, name: str, to: str) -> None:
        """What was looked at, and the small survey of what is left."""
        hand_over(self._whom, to, {name: folder / name})
        if (remnants := folder / REMNANTS).is_dir():
            hand_over(self._whom, str(Path(to) / REMNANTS), {n: remnants / n for n in _SURVEY})

    def _pass_on(self, event: dict[str, Any]) -> None:
        """How far the worker is; how it ended is said when all is handed over."""
        if event.get("event") not in ("result", "failed"):
            self._channel.tell(event)

    # -- carrying -----------------------------------------------------------------------------------------------

    def _carry(self, request: Carry) -> dict[str, Any]:
        order = read_order(json.dumps(request.order).encode(), _ORDER)
        if (self._runs / request.run).exists():
            run = self._run(request.run)
            if run.order != order:
                raise Refused("is not the order of this run", _ORDER)
            if run.state.mode in (Task.PUT_BACK, Task.EMPTY):
                raise Refused(
                    f"order {order.id} was put back or emptied: look again and draw a new one", _ORDER
                )
        else:
            machine = open_machine(self._root)
            folder = self._looks / str(uuid.UUID(order.survey.id))
            if not (folder / "survey.index").exists():
                raise Refused(
                    "was drawn from a survey that was not taken with these rights, or is too old: look again",
                    _ORDER,
                )
            scope = _scope(folder)
            check_order(order, scope, _ORDER)
            run, _ = prepare(order, _ORDER, scope, folder, machine, self._runs, id=request.run)
        asked = {
            "do": Task.CARRY_OUT,
            "root": self._root,
            "runs": str(self._runs),
            "run_folder": str(run.folder),
        }
        return self._carried(request, run, asked)

    def _shelf(self, request: Shelf) -> dict[str, Any]:
        run = self._run(request.run)
        asked: dict[str, Any] = {"do": request.do, "root": self._root, "runs": str(self._runs), "run": run.id}
        asked |= {"run_folder": str(run.folder), "lines": request.lines}
        return self._carried(request, run, asked)

    def _pack(self, request: Pack) -> dict[str, Any]:
        run = self._run(request.run)
        with TemporaryDirectory(dir=self._runs.parent) as folder:
            file = Path(folder) / ARCHIVE
            asked = {
                "do": "archive",
                "root": self._root,
                "run": run.id,
                "file": str(file),
                "tops": run.state.tops,
            }
            result = run_worker(asked, self._pass_on)
            hand_over(self._whom, request.folder, {ARCHIVE: file}, _LARGE)
        return result

    def _unpack(self, request: Unpack) -> dict[str, Any]:
        """From a copy of the helper's own: what the person's file becomes meanwhile is nothing to it."""
        with TemporaryDirectory(dir=self._runs.parent) as folder:
            file = Path(folder) / ARCHIVE
            with open(file, "xb") as copy:
                fetch(self._whom, request.file, copy.fileno(), _LARGE)
            asked = {"do": "restore", "root": self._root, "file": str(file), "lines": request.lines}
            return run_worker(asked | {"elsewhere": request.elsewhere}, self._pass_on)

    def _carried(self, request: Carry | Shelf, run: Run, asked: dict[str, Any]) -> dict[str, Any]:
        """The worker's result; its journal is handed over as it grows and when it ended, however that was. Where the person asks to
        stop meanwhile, the worker is told."""
        last = 0.0

        def tell(event: dict[str, Any]) -> None:
            nonlocal last
            self._pass_on(event)
            if event["event"] in _STEPS and time.monotonic() - last > _OFTEN:
                journal = run.journal_path
                with contextlib.suppress(Refused, FileNotFoundError):
                    if hand_over(self._whom, request.folder, {journal.name: journal}, _PATIENCE):
                        (run.folder / STOP).touch()
                last = time.monotonic()

        (run.folder / STOP).unlink(missing_ok=True)

        try:
            return run_worker(asked, tell)
        finally:
            self._hand_over(request, run)

    def _hand_over(self, request: Carry | Shelf, run: Run) -> None:
        """A person's folder that is gone, or full, holds nothing up: what stands here is the truth."""
        machine = open_machine(self._root)
        tops = run.state.tops
        slots = [
            asdict(s) for s in slots_on_shelves(machine, read_volumes(machine), tops=tops) if s.run == run.id
        ]
        files: dict[str, Path | bytes] = {n: run.folder / n for n in _HANDED if (run.folder / n).exists()}
        with contextlib.suppress(Refused):
            hand_over(self._whom, request.folder, files | {WAITING: json.dumps(slots).encode()})

    def _run(self, id: str) -> Run:
        folder = self._runs / id
        if not folder.exists():
            raise Refused(f"no run {id} was carried out with these rights on this computer")
        return open_run(folder)


def _scope(folder: Path) -> Scope:
    data = (folder / "survey.json").read_bytes()
    survey = read_document(Survey, data, str(folder))
    return Scope(survey, hashlib.sha256(data).hexdigest(), Index(folder / "survey.index"))


def main() -> int:
    begin()
    signal.signal(signal.SIGPIPE, signal.SIG_IGN)
    channel = Channel()
    try:
        whom = caller()
        if os.geteuid() != 0:
            raise Refused("has not the administrator’s rights")
        _bare_environment()
        keep_log(None)
        mode = sys.argv[1] if len(sys.argv) == 2 else ""
        request = read_request(sys.stdin.buffer.readline(LONGEST))
        if mode != (LOOK if isinstance(request, Look | Prove) else CARRY):
            raise Refused("is not what the rights were asked for")
        if mode == LOOK:
            threading.Thread(target=_end_with_caller, daemon=True).start()
        else:
            signal.signal(signal.SIGINT, signal.SIG_IGN)
            signal.signal(signal.SIGHUP, signal.SIG_IGN)
        helper = Helper(whom, channel)
        keep_log(str(ROOTS))
        helper.answer(request)
    except Exception as error:
        channel.failed(error)
        return 2
    return 0


def _end_with_caller() -> None:
    """Looking ends with whoever asked, who may not end it by a signal; the worker ends with this process."""
    with contextlib.suppress(OSError):
        while os.read(0, 4096):
            pass
    os._exit(128 + signal.SIGHUP)


def _bare_environment() -> None:
    """Nothing of whoever asked is in the environment of what works with these rights."""
    entry = pwd.getpwuid(0)
    kept = {k: v for k, v in os.environ.items() if k in ("LANG", "LC_ALL", "LC_CTYPE", "TZ")}
    os.environ.clear()
    os.environ |= kept | {"HOME": entry.pw_dir, "USER": "root", "LOGNAME": "root", "SHELL": "/bin/sh"}
    os.environ["PATH"] = "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin"
    os.umask(0o077)
    os.chdir("/")
