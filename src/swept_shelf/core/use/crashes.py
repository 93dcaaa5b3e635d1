"""Sign: crash records that name it: it ran at that moment."""

from __future__ import annotations

import re

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.use.trace import FAIR, GOOD, Look, Trace

KIND = "crash record"
_REPORTS, _CORES = "/var/crash", "/var/lib/systemd/coredump"
_REPORT = re.compile(r"^(.+)\.(\d+)\.crash$")
_CORE = re.compile(r"^core\.(.+)\.(\d+)\.[0-9a-f]{32}\.\d+\.(\d{10,17})(?:\.\w+)?$")


def look(at: Look) -> None:
    for name in at.machine.names(_REPORTS):
        path = f"{_REPORTS}/{name}"
        if name.endswith(".crash") and at.tree.kind(path) == "file":
            at.saw(KIND)
            match = _REPORT.match(name)
            program = (match[1] if match else name.removesuffix(".crash")).replace("_", "/")
            try:
                told = re.search(
                    r"^ExecutablePath: *(/\S+)",
                    at.machine.read_bytes(path, 1 << 16).decode("utf-8", "replace"),
                    re.M,
                )
            except CouldNotRead as error:
                at.trouble(path, error.reason)
                continue
            _note(
                at,
                path,
                told[1] if told else program,
                int(at.tree.mtime[at.tree.where[path]]) // 1_000_000_000,
                match and int(match[2]),
            )
    for name in at.machine.names(_CORES):
        at.saw(KIND)
        if match := _CORE.match(name):
            digits = int(match[3])
            _note(
                at,
                f"{_CORES}/{name}",
                match[1],
                digits // 1_000_000 if digits > 10**13 else digits,
                int(match[2]),
            )


def _note(at: Look, path: str, program: str, when: int, uid: int | None) -> None:
    id = at.command(program) or at.comm(program)
    if id:
        person = at.person(uid) if uid is not None else ""
        aside = at.timely(when) or (
            "runs in the background"
            if at.by_id[id].background
            else ""
            if person or uid is None
            else "run by an account that is no person’s"
        )
        at.traces.append(Trace(id, KIND, when, person, path, GOOD if person else FAIR, None, 0, "", aside))
