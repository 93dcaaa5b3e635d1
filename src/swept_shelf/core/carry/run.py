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
from functools import cached_property
from pathlib import Path

import psutil

from swept_shelf.core.carry.journal import State, read_journal, replay
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import Plan
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.run import RunHead
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.wire import from_plain, read_document, read_order, to_json
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.index import Index


@dataclass(frozen=True)
class Run:
    """One run folder, read once."""

    folder: Path
    order: Order
    survey: Survey
    plan: Plan
    head: RunHead

    @property
    def id(self) -> str:
        return self.head.id

    @property
    def journal_path(self) -> Path:
        return self.folder / "journal.jsonl"

    @cached_property
    def index(self) -> Index:
        return Index(self.folder / "survey.index")

    @property
    def state(self) -> State:
        """What its journal tells now."""
        return replay(read_journal(self.journal_path))

    @property
    def interrupted(self) -> bool:
        return not self.state.ended


def create_run(
    runs: Path, machine: Machine, order: Order, survey_folder: Path, plan: Plan, originals: str, id: str = ""
) -> Run:
    """Make a run folder with everything a carrier needs, on the disk. Raises Refused where it cannot be kept."""
    id = id or str(uuid.uuid4())
    part = runs / f".{id}.part"
    try:
        part.mkdir(parents=True, mode=0o700)
        head = RunHead("swept-shelf/run", 2, id, machine.key, machine.root, originals)
        documents = (
            ("order.json", to_json(order)),
            ("plan.json", to_json(plan)),
            ("run.json", to_json(head)),
        )
        for name, data in documents:
            (part / name).write_bytes(data)
        for name in ("survey.json", "survey.index"):
            _linked(survey_folder / name, part / name)
        with open(part / "room", "wb") as room:
            room.write(b"\0" * (64 << 10) + b"\0" * 1024 * len(plan.operations))
            room.flush()
            os.fsync(room.fileno())
        part.rename(runs / id)
    except OSError as error:
        shutil.rmtree(part, ignore_errors=True)
        raise Refused(
            f"the run cannot be kept there, nothing was changed: {error.strerror}", str(runs)
        ) from None
    return open_run(runs / id)


def _linked(source: Path, target: Path) -> None:
    """A survey never changes: a second name is enough where both lie on one file system."""
    try:
        os.link(source, target)
    except OSError:
        shutil.copyfile(source, target)


def open_run(folder: Path) -> Run:
    """Raises CouldNotRead when the folder is not a whole run."""
    try:
        head = from_plain(RunHead, json.loads((folder / "run.json").read_bytes()))
        plan = from_plain(Plan, json.loads((folder / "plan.json").read_bytes()))
        survey = read_document(Survey, (folder / "survey.json").read_bytes(), str(folder / "survey.json"))
        order = read_order((folder / "order.json").read_bytes(), str(folder / "order.json"))
    except (OSError, ValueError, RecursionError, Refused, CouldNotRead) as error:
        raise CouldNotRead(f"is not a whole run: {_first_line(error)}", str(folder)) from None
    return Run(folder, order, survey, plan, head)


def _first_line(error: BaseException) -> str:
    return str(error).split("\n", 1)[0]


def must_be_ours(folder: Path) -> None:
    """A carrier works by what stands in a run folder: it must be its own, and closed to others. Raises Refused."""
    status = folder.lstat()
    if not stat.S_ISDIR(status.st_mode) or status.st_uid != os.geteuid() or status.st_mode & 0o022:
        raise Refused("is not this carrier’s own run folder: nothing was done by it", str(folder))


# -- one carrier per machine ------------------------------------------------------------------------------------


@contextlib.contextmanager
def carrier_lock(machine: Machine) -> Iterator[None]:
    """One carrier per machine, by whatever path, ledger or person it was started: the lock is on the root folder itself.

    Raises Refused while another works, and says who."""
    fd = os.open(machine.root, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    try:
        try:
            fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise Refused(f"another carrier works on this machine{_who(os.fstat(fd))}") from None
        yield
    finally:
        os.close(fd)


def _who(status: os.stat_result) -> str:
    """The process that holds the lock, by /proc/locks (proc_locks(5))."""
    place = f"{os.major(status.st_dev):02x}:{os.minor(status.st_dev):02x}:{status.st_ino}"
    with contextlib.suppress(OSError, ValueError, psutil.Error), open("/proc/locks") as table:
        for line in table:
            parts = line.split()
            if parts[1] == "FLOCK" and parts[5] == place:
                process = psutil.Process(int(parts[4]))
                return f": process {process.pid} ({process.name()}) of {process.username()}"
    return ""


def carrier_works(machine: Machine) -> bool:
    try:
        with carrier_lock(machine):
            return False
    except Refused:
        return True
