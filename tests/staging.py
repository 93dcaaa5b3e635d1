"""Machines brought to a stage once (surveyed, carried out) and copied for each test: their surveys, orders and runs are made to
mean the copy."""

from __future__ import annotations

import atexit
import functools
import json
import os
import shutil
import sqlite3
import subprocess
import tempfile
from collections.abc import Callable
from pathlib import Path

from helpers import Job, MadeUp, built, seal_anew, seal_shelves_anew


@functools.cache
def staged(make: Callable[[Job], None] | None = None, seed: int = 1) -> MadeUp:
    """A surveyed machine after what `make` did to it: the last of each stage, never to be worked on itself."""
    top, mine = Path(tempfile.mkdtemp(prefix="staged-")), os.getpid()
    atexit.register(lambda: os.getpid() == mine and shutil.rmtree(top, ignore_errors=True))
    job = Job(built(seed).copy(top / "machine"))
    if make is not None:
        make(job)
    return MadeUp(job.machine.folder).remember_times()


def copied(stage: MadeUp, to: Path) -> Job:
    """A job on a copy of a stage, at the same point of it."""
    to.parent.mkdir(parents=True, exist_ok=True)
    subprocess.run(["cp", "-a", str(stage.folder), str(to)], check=True)
    seal_anew(to)
    for name, times in sorted(stage.times.items(), key=lambda t: -t[0].count("/")):
        os.utime(to / "root" / name, ns=times, follow_symlinks=False)
    adopt(to, stage.folder)
    job = Job(MadeUp(to, stage.times), survey=False)
    job.surveyed = job.shop.latest()[1]
    return job


def adopt(folder: Path, was: Path) -> None:
    """Make what the ledger of a copied machine knows true of the copy: where it lies, which files it has."""
    root = folder / "root"
    files = {"/" + str(p.relative_to(root)): p.lstat() for p in root.rglob("*")} | {"/": root.lstat()}
    for index in {p.lstat().st_ino: p for p in (folder / "ledger").rglob("*.index")}.values():
        _index_of_copy(index, files)
    for plan in (folder / "ledger").rglob("plan.json"):
        _plan_of_copy(plan, files)
    with sqlite3.connect(folder / "ledger/ledger.sqlite") as ledger:
        for table in ("surveys", "runs"):
            ledger.execute(f"UPDATE {table} SET folder = replace(folder, ?, ?)", (str(was), str(folder)))
    ledger.close()
    seal_shelves_anew(root)


def _index_of_copy(path: Path, files: dict[str, os.stat_result]) -> None:
    index = sqlite3.connect(path)
    known = {0: "", 1: ""}
    for number, above, name in index.execute(
        "SELECT number, above, name FROM folders WHERE number > 1 ORDER BY number"
    ):
        known[number] = f"{known[above]}/{os.fsdecode(name)}"
    folders = {path: number for number, path in known.items() if number}
    index.executemany(
        "UPDATE entries SET inode = ?, changed_after = ? - mtime_ns WHERE folder = ? AND name = ?",
        (
            (s.st_ino, s.st_ctime_ns, folders[p.rpartition("/")[0]], os.fsencode(p.rpartition("/")[2]))
            for p, s in files.items()
            if p != "/" and p.rpartition("/")[0] in folders
        ),
    )
    index.commit()
    index.close()


def _plan_of_copy(path: Path, files: dict[str, os.stat_result]) -> None:
    plan = json.loads(path.read_bytes())
    for op in plan["operations"]:
        if "identity" in op and op["path"] in files:
            op["identity"]["inode"] = files[op["path"]].st_ino
            op["identity"]["ctime_ns"] = files[op["path"]].st_ctime_ns
    path.write_text(json.dumps(plan))
