"""Sign, never of use: when a timer last started one of its units (systemd.timer(5), Persistent=)."""

from __future__ import annotations

from swept_shelf.core.documents.paths import base
from swept_shelf.core.use.trace import FAIR, Look, Trace
from swept_shelf.core.use.unasked import SCHEDULE

KIND = "timer"


def look(at: Look) -> None:
    places = [
        ("/var/lib/systemd/timers", ""),
        *((f"{p.home}/.local/share/systemd/timers", p.name) for p in at.people),
    ]
    for folder, person in places:
        for name in at.machine.names(folder):
            path = f"{folder}/{name}"
            if name.startswith("stamp-") and (status := at.machine.lstat(path)):
                at.saw(KIND)
                unit = base("/" + name.removeprefix("stamp-"))
                if id := at.to.unit(unit) or at.to.unit(unit.removesuffix(".timer") + ".service"):
                    at.traces.append(
                        Trace(id, KIND, int(status.st_mtime), person, path, FAIR, None, 0, "", SCHEDULE, unit)
                    )
