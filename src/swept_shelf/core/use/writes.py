"""Signs: when an application wrote its preferences, state, data, cache or logs in a person's home, day by day."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.survey import Belonging
from swept_shelf.core.documents.terms import Kind, Share
from swept_shelf.core.use.passes import Spans, inside, joined, passes
from swept_shelf.core.use.trace import DAY, FAIR, GOOD, Look, Subject, Trace
from swept_shelf.core.use.unasked import LOGIN

KINDS = {
    Kind.PREFERENCES: "preferences written",
    Kind.STATE: "state written",
    Kind.SUPPORT: "data written",
    Kind.CACHE: "cache written",
    Kind.LOG: "log written",
}
_COPIED_SHARES = {600: 0.5}
_HOME_LEAST = 50


def look(at: Look) -> None:
    copied = {p.name: _copied(at, p.home) for p in at.people}
    uids = {p.name: p.uid for p in at.people}
    for subject in at.subjects:
        for b in subject.belongings:
            if b.kind in KINDS and b.share == Share.SOLE and b.person in copied and not b.personal:
                kind = KINDS[b.kind]
                at.saw(kind)
                for position in _days(at, b, uids[b.person]):
                    at.traces.append(_trace(subject, at, b, kind, position, copied[b.person]))


def _trace(subject: Subject, at: Look, b: Belonging, kind: str, position: int, copied: Spans) -> Trace:
    seconds, path = int(at.tree.mtime[position]) // 1_000_000_000, at.tree.paths[position]
    aside = at.timely(seconds)
    if not aside and inside(copied, seconds):
        aside = "most of this home was written then: copied or put back"
    if not aside and subject.installed is not None and seconds < subject.installed:
        aside = "older than its installation"
    if not aside and subject.background:
        aside = "runs in the background"
    at_login = LOGIN in at.unasked[subject.id].values()
    if not aside and at_login and at.logins.just_begun(b.person, seconds):
        aside = "written as it was started at login"
    doubt = (
        "it runs from login on: it may have written by itself"
        if at_login
        else "a copied home keeps old times"
    )
    return Trace(
        subject.id,
        kind,
        seconds,
        b.person,
        path,
        GOOD if b.kind not in (Kind.CACHE, Kind.LOG) and not at_login else FAIR,
        None,
        0,
        doubt,
        aside,
    )


def _days(at: Look, b: Belonging, uid: int) -> list[int]:
    """Positions of the last file written on each day, in what is this belonging and its person's own file."""
    tree = at.tree
    part = tree.slice(b.path)
    if not part:
        return []
    wanted = tree.is_content[part.start : part.stop] & tree.without(part, b.except_)
    if not at.machine.in_user_namespace:
        wanted &= tree.uid[part.start : part.stop] == uid
    positions: NDArray[Any] = np.flatnonzero(wanted) + part.start
    order = positions[np.argsort(tree.mtime[positions], kind="stable")]
    days = tree.mtime[order] // (DAY * 1_000_000_000)
    return order[np.flatnonzero(np.append(days[1:] != days[:-1], True))].tolist() if len(order) else []


def _copied(at: Look, home: str) -> Spans:
    """When most files of a home were written within minutes: it was copied or put back then."""
    tree = at.tree
    part = tree.slice(home)
    if not part:
        return joined([])
    times = tree.mtime[part.start : part.stop][tree.is_file[part.start : part.stop]] // 1_000_000_000
    return passes(times.tolist(), _COPIED_SHARES) if len(times) >= _HOME_LEAST else joined([])
