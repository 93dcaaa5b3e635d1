"""Sign: a process of it now, since when, and whether a person started it."""

from __future__ import annotations

from swept_shelf.core.use.trace import GOOD, Look, Trace
from swept_shelf.core.use.unasked import LOGIN, SCHEDULE, SERVICE

KIND = "running"
_ASIDE = {"login": LOGIN, "schedule": SCHEDULE, "service": SERVICE}


def look(at: Look) -> None:
    at.saw(KIND)
    for process in at.processes:
        id = next((i for p in process.programs if (i := at.command(p))), "")
        if not id:
            continue
        started = int(process.started.timestamp())
        aside = _ASIDE.get(process.how, "")
        if not aside and not process.how and at.unasked[id]:
            aside = next(iter(at.unasked[id].values()))
        if not aside and at.by_id[id].background:
            aside = "runs in the background"
        at.traces.append(
            Trace(
                id,
                KIND,
                min(started, at.now),
                process.user,
                f"/proc/{process.pid}",
                GOOD,
                at.now,
                0,
                "left open it says little",
                aside,
                f"process {process.pid}, {_HOW.get(process.how, 'started by nobody that is known')}",
            )
        )


_HOW = {
    "login": "started at login",
    "schedule": "started by a schedule",
    "service": "started as a service",
    "terminal": "started from a terminal",
    "launched": "started from the desktop",
}
