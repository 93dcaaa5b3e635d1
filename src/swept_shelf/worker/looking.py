"""Looking: survey and clearance, in a private mount namespace with every mount read-only where that is allowed."""

from __future__ import annotations

import hashlib
import os
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.belongings.told import Rule
from swept_shelf.core.documents.survey import NotRead, Obstacle, Volume
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine, open_machine
from swept_shelf.core.machine.processes import read_processes
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.survey.ground import Before
from swept_shelf.core.survey.obstacles import of_processes, of_volumes
from swept_shelf.worker.channel import Channel


def look(kind: str, request: dict[str, Any], channel: Channel) -> None:
    """Processes first (a user namespace hides them) and how volumes are mounted, then behind read-only mounts everything else.

    A made-up machine's volumes are counted file by file, which must not move a time either: behind those mounts."""
    out = request["folder"]
    os.environ["SQLITE_TMPDIR"] = out  # everything else will be read-only
    machine = open_machine(request["root"])
    processes = read_processes(machine)
    volumes = [] if machine.description else read_volumes(machine)
    in_the_way = of_processes(machine, volumes) if kind == "survey" else []
    why_not = beneath.look_without_trace(out)
    if not why_not:
        machine = open_machine(request["root"])
        machine.in_user_namespace = os.getuid() != 0
    doubts = [NotRead("/", f"access times may move: {why_not}")] if why_not and not machine.live else []
    if kind == "survey":
        before = Before(request["before"], datetime.fromisoformat(request["before_at"])) if "before" in request else None
        ours = [(datetime.fromisoformat(a), datetime.fromisoformat(b)) for a, b in request.get("ours", ())]
        rules = [Rule(**r) for r in request.get("rules", ())]
        _survey(machine, out, processes, channel, doubts, volumes, in_the_way, before, ours, rules)
    else:
        _clearance(machine, request["run_folder"], out, processes, channel)


def _survey(machine: Machine, out: str, processes: list[Any], channel: Channel, doubts: list[NotRead],
            volumes: list[Volume], in_the_way: list[Obstacle], before: Before | None, ours: list[tuple[datetime, datetime]],
            rules: list[Rule]) -> None:  # fmt: skip
    from swept_shelf.core.survey.take import take_survey

    volumes = volumes or read_volumes(machine)
    in_the_way += of_volumes(machine, volumes)
    survey = take_survey(machine, out, processes, channel.progress, doubts, volumes, in_the_way, before, ours, rules)
    digest = hashlib.sha256((Path(out) / "survey.json").read_bytes()).hexdigest()
    channel.tell({"event": "result", "id": survey.id, "sha256": digest, "complete": survey.complete})


def _clearance(machine: Machine, run_folder: str, out: str, processes: list[Any], channel: Channel) -> None:
    from swept_shelf.core.carry.run import open_run
    from swept_shelf.core.clearance import look_again
    from swept_shelf.core.documents.run import RunResult
    from swept_shelf.core.documents.wire import read_document, to_json

    run = open_run(Path(run_folder))
    path = run.folder / "result.json"
    result = read_document(RunResult, path.read_bytes(), str(path)) if path.exists() else None
    clearance = look_again(run, result, machine, processes, channel.progress)
    (Path(out) / "clearance.json").write_bytes(to_json(clearance))
    channel.tell({"event": "result", "id": clearance.id, "findings": clearance.findings, "unread": clearance.unread})
