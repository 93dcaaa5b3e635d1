"""Sign, never of use: when a package of its own came or was upgraded, which explains misleading times."""

from __future__ import annotations

from swept_shelf.core.use.trace import GOOD, Look, Trace

KIND = "upgrade"
_NEWEST = 6


def look(at: Look) -> None:
    for subject in at.subjects:
        for when in sorted(set(subject.changed), reverse=True)[:_NEWEST]:
            at.saw(KIND)
            what = (
                "installed"
                if subject.installed is not None and abs(when - subject.installed) < 3600
                else "installed or upgraded"
            )
            at.traces.append(
                Trace(
                    subject.id,
                    KIND,
                    when,
                    "",
                    subject.app.receipt or subject.app.source,
                    GOOD,
                    None,
                    0,
                    "",
                    f"{what}: no use",
                    what,
                )
            )
