"""Carrying out, putting back, emptying. A carrier outlives whoever started it: its journal is the truth."""

from __future__ import annotations

import os
import signal
from pathlib import Path
from typing import Any

from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.execute import carry_out
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.run import carrier_lock, must_be_ours, open_run
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.machine.awake import kept_awake
from swept_shelf.core.machine.descend import room_to_descend
from swept_shelf.core.machine.machine import open_machine
from swept_shelf.worker.channel import Channel


def work_to_the_end() -> None:
    """Whatever becomes of whoever started this process."""
    for number in (signal.SIGINT, signal.SIGHUP, signal.SIGPIPE):
        signal.signal(number, signal.SIG_IGN)
    room_to_descend()


def carry(kind: str, request: dict[str, Any], channel: Channel) -> None:
    work_to_the_end()
    machine = open_machine(request["root"])
    folder = Path(request["run_folder"]) if request.get("run_folder") else None
    with (
        carrier_lock(machine),
        kept_awake(f"applications of {machine.name} are being carried out or put back"),
    ):
        channel.tell({"event": "working", "pid": os.getpid()})
        if kind == Task.CARRY_OUT:
            assert folder is not None
            must_be_ours(folder)
            result = carry_out(open_run(folder), machine, channel.tell)
            skipped = len(result.unfinished)
            channel.tell({"event": "result", "state": result.state, "left": skipped})
            return
        act = put_back if kind == Task.PUT_BACK else empty_shelf
        journal = folder / "journal.jsonl" if folder and folder.exists() else None
        left = act(
            machine,
            request["run"],
            request.get("lines", ()),
            journal,
            channel.tell,
            request.get("taken_over", False) is True,
        )
        why = [
            {
                "line": slot.manifest["line"] if slot else "",
                "path": slot.manifest.get("path", "") if slot else "",
                "why": reason,
            }
            for slot, reason in left
        ]
        channel.tell({"event": "result", "state": kind, "left": len(left), "why": why})
