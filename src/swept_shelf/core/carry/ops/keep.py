"""Keeping a package's original: rebuilt from the root alone, and checked, before its registry removes it."""

from __future__ import annotations

from typing import Any

from swept_shelf.core.carry.ask import Ask
from swept_shelf.core.carry.originals import keep_original
from swept_shelf.core.carry.work import Work
from swept_shelf.core.documents.errors import Gone
from swept_shelf.core.documents.operations import KeepOriginal
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import change

STOPS = True  # without it there is no way back


def describe(op: KeepOriginal) -> tuple[str, str]:
    return "Keep the original", f"{op.package} {op.version}"


def why_not_mine(op: KeepOriginal, machine: Machine) -> str:
    return ""


def room(op: KeepOriginal, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {}  # counted by whoever knows where originals go


def check(op: KeepOriginal, ask: Ask) -> None:
    """Its registry is asked once, with the removal."""


def do(op: KeepOriginal, number: int, work: Work) -> dict[str, Any]:
    if not work.going(op.line, [op.package]):
        return {"without": [op.package], "note": "still needed: it is not removed"}
    status, _ = change.states(work.machine, [op.package])[op.package]
    if status in ("not-installed", "config-files"):
        raise Gone("was gone already", op.package)
    with work.originals(make=True) as folder:
        return {"bytes": keep_original(work.machine, op, folder)["bytes"]}
