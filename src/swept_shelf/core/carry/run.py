"""A run folder: order, plan, journal, result. What a carrier needs and what it leaves."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import shutil
import stat
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.carry.journal import read_journal
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import Operation, Plan
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.run import RUN_FORMAT, RUN_VERSION, Record, RunResult
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.wire import from_plain, read_document, read_order, to_json
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.index import Index

MODES = ("carry_out", "put_back", "empty")


@dataclass(frozen=True, slots=True)
class Run:
    """One run folder, read once. `head` is run.json: machine, root, volume figures, where originals go."""

    folder: Path
    id: str
    order: Order
    survey: Survey
    plan: Plan
    head: dict[str, Any]

    @property
    def journal_path(self) -> Path:
        return self.folder / "journal.jsonl"

    @property
    def index(self) -> Index:
        return Index(self.folder / "survey.index")

    def state(self) -> tuple[str, bool]:
        """(last mode, whether it ended); ("", True) when nothing was begun."""
        mode, ended = "", True
        for record in read_journal(self.journal_path):
            if record["event"] == "mode":
                mode, ended = record["mode"], False
            elif record["event"] == "end":
                ended = True
        return mode, ended

    @property
    def interrupted(self) -> bool:
        return not self.state()[1]


def create_run(
    runs: Path, machine: Machine, order: Order, survey_folder: Path, plan: Plan, originals: str
) -> Run:
    """Make a run folder with everything a carrier needs, on the disk. Raises OSError (no room for the journal)."""
    id = str(uuid.uuid4())
    part = runs / f".{id}.part"
    try:
        part.mkdir(parents=True, mode=0o700)
        head = {
            "format": RUN_FORMAT,
            "version": RUN_VERSION,
            "id": id,
            "machine_key": machine.key,
            "root": machine.root,
            "originals": originals,
        }
        for name, data in (
            ("order.json", to_json(order)),
            ("plan.json", to_json(plan)),
            ("run.json", json.dumps(head).encode()),
        ):
            (part / name).write_bytes(data)
        for name in ("survey.json", "survey.index"):
            shutil.copyfile(survey_folder / name, part / name)
        with open(part / "room", "wb") as room:
            room.write(b"\0" * (64 << 10) + b"\0" * 512 * len(plan.operations))
            room.flush()
            os.fsync(room.fileno())
        part.rename(runs / id)
    except OSError:
        shutil.rmtree(part, ignore_errors=True)
        raise
    return open_run(runs / id)


def open_run(folder: Path) -> Run:
    """Raises CouldNotRead when the folder is not a whole run."""
    try:
        head = json.loads((folder / "run.json").read_bytes())
        plan = from_plain(Plan, json.loads((folder / "plan.json").read_bytes()))
        survey = read_document(Survey, (folder / "survey.json").read_bytes(), str(folder / "survey.json"))
        order = read_order((folder / "order.json").read_bytes(), str(folder / "order.json"))
    except (OSError, ValueError, KeyError, Refused) as error:
        raise CouldNotRead(f"is not a whole run: {error}", str(folder)) from None
    return Run(folder, head["id"], order, survey, plan, head)


def must_be_ours(folder: Path) -> None:
    """A carrier works by what stands in a run folder: it must be its own, and closed to others. Raises Refused."""
    status = folder.lstat()
    if not stat.S_ISDIR(status.st_mode) or status.st_uid != os.geteuid() or status.st_mode & 0o022:
        raise Refused("is not this carrier’s own run folder: nothing was done by it", str(folder))


@contextlib.contextmanager
def carrier_lock(runs: Path, machine_key: str) -> Iterator[None]:
    """One carrier per machine. Raises Refused while another works."""
    runs.mkdir(parents=True, exist_ok=True)
    fd = os.open(runs / f"{machine_key}.lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        try:
            fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise Refused("another carrier works on this machine") from None
        yield
    finally:
        os.close(fd)


def carrier_works(runs: Path, machine_key: str) -> bool:
    try:
        with carrier_lock(runs, machine_key):
            return False
    except Refused:
        return True


def records_of(run: Run) -> list[Record]:
    """Every operation as it went, from plan and journal."""
    states: dict[int, dict[str, Any]] = {}
    for record in read_journal(run.journal_path):
        if "n" not in record:
            continue
        if record["event"] == "begin":
            states[record["n"]] = {**record, "state": "now"}
        else:
            state = {"returned": "put_back"}.get(record["event"], record["event"])
            states[record["n"]] = {**states.get(record["n"], {}), **record, "state": state}
    _, ended = run.state()
    found = []
    for n, op in enumerate(run.plan.operations, 1):
        known = states.get(n, {})
        state = known.get("state", "waits")
        if state == "now" and ended:
            state = "skipped"
        what, where = describe(op)
        found.append(
            Record(
                n,
                op.line,
                what,
                where,
                getattr(op, "bytes", 0),
                state,
                known.get("note", ""),
                known.get("seconds", 0.0),
            )
        )
    return found


def describe(op: Operation) -> tuple[str, str]:
    """What an operation does and where, in a technician's words."""
    if op.do == "keep_original":
        return "Keep the original", f"{op.package} {op.version}"
    if op.do == "remove_packages":
        return "Remove " + plural(len(op.packages), "package"), ", ".join(op.packages)
    if op.do == "purge_packages":
        return "Forget its settings in the registry", ", ".join(op.packages)
    if op.do == "shelve":
        return "To the holding shelf", op.path
    numbers = ", ".join(str(e.line) for e in op.edits[:4]) + (" …" if len(op.edits) > 4 else "")
    return f"Take out {len(op.edits)} line{'s' if len(op.edits) != 1 else ''}", f"{op.path}, line {numbers}"


def result_of(run: Run, state: str, before: dict[str, int], after: dict[str, int]) -> RunResult:
    journal = read_journal(run.journal_path)
    times = [datetime.fromisoformat(r["at"].replace("Z", "+00:00")) for r in journal]
    return RunResult(
        RUN_FORMAT,
        RUN_VERSION,
        run.id,
        run.order.id,
        run.order.machine.key,
        times[0],
        times[-1],
        state,
        records_of(run),
        before,
        after,
    )
