"""Looking: survey and clearance, in namespaces of its own with every mount read-only where that is allowed.

Nothing that starts a thread may be imported before those are entered: the rest of core is read afterwards."""

from __future__ import annotations

import os
import signal
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.clearance import REMNANTS
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.machine import confine
from swept_shelf.core.machine.held import AllHeld, read_held
from swept_shelf.core.machine.machine import open_machine
from swept_shelf.core.machine.processes import read_processes
from swept_shelf.core.machine.scratch import keep_copies_in
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.registries.holding import of_processes
from swept_shelf.worker.channel import Channel
from swept_shelf.worker.memory import give_memory_back

_FILES, _FILE_SIZE = 4096, 16 << 30


def look(kind: str, request: dict[str, Any], channel: Channel) -> None:
    """Processes first (a user namespace hides them) and how volumes are mounted, then behind read-only mounts everything else.

    A made-up machine's volumes are counted file by file, which must not move a time either: behind those mounts."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    os.umask(0o077)
    out = request["folder"]
    machine = open_machine(request["root"])
    processes = read_processes(machine) if kind == "survey" else []
    held = read_held(machine) if kind != "survey" else AllHeld()
    volumes = [] if machine.description else read_volumes(machine)
    in_the_way = of_processes(machine, volumes) if kind == "survey" else []
    keep_copies_in(out)
    why_not = confine.look_without_trace(out)
    confine.keep_rights(confine.READING)
    if not (machine.live or machine.chrootless):
        confine.speak_to_nobody()  # of this computer's own root, and of a made-up one, a service may be asked
    confine.limit(files=_FILES, file_size=_FILE_SIZE)
    if "parent" in request:
        confine.end_with(request["parent"])
    give_memory_back()
    if not why_not:
        machine = open_machine(request["root"])
        machine.in_user_namespace = os.getuid() != 0
    doubts = [NotRead("/", f"access times may move: {why_not}")] if why_not else []
    if machine.unheeded:
        doubts.append(
            NotRead("/", f"{machine.unheeded} does not carry this person’s seal: nothing it says was heeded")
        )
    if kind == "survey":
        from swept_shelf.worker.surveying import take

        take(machine, request, processes, channel, doubts, volumes, in_the_way)
    elif kind == "trace":
        _trace(machine, request, held, channel)
    else:
        _clearance(machine, Path(request["run_folder"]), Path(out), held, channel)


def _trace(machine: Any, request: dict[str, Any], held: AllHeld, channel: Channel) -> None:
    from swept_shelf.core.clearance.trace import named_only, trace
    from swept_shelf.core.documents.wire import to_json
    from swept_shelf.core.references.pointees import pointee_from

    name, since = request["name"], request.get("since")
    pointee = pointee_from(request["id"], request["names"]) if since else named_only(name)
    when = datetime.fromisoformat(since) if since else None
    left = Path(request["folder"]) / REMNANTS
    found = trace(machine, held, name, pointee, when, channel.progress, left)
    (Path(request["folder"]) / "trace.json").write_bytes(to_json(found))
    channel.tell({"event": "result", "findings": found.findings, "unread": found.unread})


def _clearance(machine: Any, run_folder: Path, out: Path, held: AllHeld, channel: Channel) -> None:
    from swept_shelf.core.carry.run import open_run
    from swept_shelf.core.clearance import look_again
    from swept_shelf.core.documents.run import RunResult
    from swept_shelf.core.documents.wire import read_document, to_json

    run = open_run(run_folder)
    path = run.folder / "result.json"
    result = read_document(RunResult, path.read_bytes(), str(path)) if path.exists() else None
    clearance = look_again(run, result, machine, held, channel.progress, out / REMNANTS)
    (out / "clearance.json").write_bytes(to_json(clearance))
    channel.tell(
        {"event": "result", "id": clearance.id, "findings": clearance.findings, "unread": clearance.unread}
    )
