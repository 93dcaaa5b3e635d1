"""A holding shelf into an archive, and an archive back onto the machine."""

from __future__ import annotations

from typing import Any

from swept_shelf.core.carry.archive.read import restore
from swept_shelf.core.carry.archive.write import write_archive
from swept_shelf.core.carry.run import carrier_lock
from swept_shelf.core.machine.awake import kept_awake
from swept_shelf.core.machine.machine import open_machine
from swept_shelf.worker.carrying import work_to_the_end
from swept_shelf.worker.channel import Channel


def archive(kind: str, request: dict[str, Any], channel: Channel) -> None:
    """Raises SweptShelfError, OSError."""
    work_to_the_end()
    machine = open_machine(request["root"])
    with carrier_lock(machine), kept_awake(f"an archive of {machine.name} is written or put back"):
        if kind == "archive":
            made = write_archive(machine, request["run"], request["file"], request["tops"], channel.tell)
            channel.tell({"event": "result", "things": len(made.things), "left_out": made.left_out})
            return
        run, stays = restore(
            machine, request["file"], request["lines"], request["elsewhere"] is True, channel.tell
        )
        why = [{"path": s.manifest.get("path") or s.manifest["name"], "why": reason} for s, reason in stays]
        channel.tell({"event": "result", "run": run, "left": len(stays), "why": why})
