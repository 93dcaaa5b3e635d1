"""Sign: the records of starts, which name the kernel that was started (utmp(5)). A kernel is used in no other way."""

from __future__ import annotations

from swept_shelf.core.applications.kernels import release_of
from swept_shelf.core.use.trace import GOOD, Look, Trace

KIND = "record of a start"


def look(at: Look) -> None:
    releases: dict[str, str] = {}
    for subject in at.subjects:
        if subject.app.type == "kernel":
            releases |= dict.fromkeys((release_of(p) for p in subject.app.own_packages), subject.id)
    if not releases:
        return
    if at.logins.starts:
        at.saw(KIND)
    kernels = set(releases.values())
    at.traces[:] = [
        t for t in at.traces if t.app not in kernels
    ]  # whoever reads or writes its files starts nothing
    for when, release, path in at.logins.starts:
        if id := releases.get(release):
            at.traces.append(Trace(id, KIND, when, "", path, GOOD, aside=at.timely(when)))
