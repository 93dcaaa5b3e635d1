"""Sign: the records of starts, which name the kernel that was started (utmp(5)). A kernel is used in no other way."""

from __future__ import annotations

from swept_shelf.core.applications.kernels import is_image, release_of
from swept_shelf.core.use.trace import GOOD, Look, Trace

KIND = "record of a start"


def look(at: Look) -> None:
    kernels = {s.id: s.app.own_packages for s in at.subjects if s.app.type == "kernel"}
    if not kernels:
        return
    if at.logins.starts:
        at.saw(KIND)
    # Whoever reads or writes its files starts nothing.
    at.traces[:] = [t for t in at.traces if t.app not in kernels]
    of = {release_of(p): id for id, packages in kernels.items() for p in packages if is_image(p)}
    for when, release, path in at.logins.starts:
        if id := of.get(release):
            at.traces.append(Trace(id, KIND, when, "", path, GOOD, aside=at.timely(when)))
