"""The survey itself: imported only when the looking worker stands in its namespaces."""

from __future__ import annotations

import hashlib
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.belongings.corrections import Rule
from swept_shelf.core.documents.survey import NotRead, Obstacle, Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.survey.ground import Before
from swept_shelf.core.survey.obstacles import of_volumes
from swept_shelf.core.survey.so_far import SO_FAR
from swept_shelf.core.survey.take import take_survey
from swept_shelf.worker.channel import Channel
from swept_shelf.worker.memory import peak_memory


def take(
    machine: Machine,
    request: dict[str, Any],
    processes: list[Any],
    channel: Channel,
    doubts: list[NotRead],
    volumes: list[Volume],
    in_the_way: list[Obstacle],
) -> None:
    out = request["folder"]
    before = (
        Before(request["before"], datetime.fromisoformat(request["before_at"]))
        if "before" in request
        else None
    )
    ours = [(datetime.fromisoformat(a), datetime.fromisoformat(b)) for a, b in request.get("ours", ())]
    rules = [Rule(**r) for r in request.get("rules", ())]
    volumes = volumes or read_volumes(machine)
    in_the_way += of_volumes(machine, volumes)
    survey = take_survey(
        machine,
        out,
        processes,
        channel.progress,
        doubts,
        volumes,
        in_the_way,
        before,
        ours,
        rules,
        (lambda known: channel.tell({"event": "so_far", "known": known})) if request.get("so_far") else None,
    )
    (Path(out) / SO_FAR).unlink(missing_ok=True)
    digest = hashlib.sha256((Path(out) / "survey.json").read_bytes()).hexdigest()
    channel.tell(
        {
            "event": "result",
            "id": survey.id,
            "sha256": digest,
            "complete": survey.complete,
            "memory": peak_memory(),
        }
    )
