"""Signs: when an application wrote its preferences, state, data, cache or logs in a person's home, day by day."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.survey import Belonging
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.use.company import Times, crowds, during, put_back
from swept_shelf.core.use.passes import Spans, joined, passes
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
_EDGE = 120  # seconds before and after a copy
_SAME_MOMENT = 5  # seconds in which
_TOGETHER = 3  # applications' files, or more, are written by no person's using them
_AFTER_LOGIN, _LOGGING_OUT, _LOGGED_OUT = 300, 15, 120  # seconds
_GAMES = ("/var/games/", "/var/lib/games/")  # where games keep everybody's scores (FHS 3.0, 5.7)


class _Written(NamedTuple):
    """Files of one belonging that its person wrote: positions in the walk and seconds."""

    subject: Subject
    belonging: Belonging
    person: str
    positions: NDArray[np.intp]
    times: Times


class _Home(NamedTuple):
    """What says that a person's files were written by no use of theirs: when the home was copied, when its programs' places
    were put back, when several programs wrote in one moment, when sessions began and ended."""

    copied: Spans
    restored: Spans
    crowded: Spans
    begun: Spans
    ended: Spans


def look(at: Look) -> None:
    written = [w for s in at.subjects for b in s.belongings for w in _written(at, s, b)]
    nothing = np.zeros((0, 2), dtype=np.int64)
    homes = {p.name: _home(at, p.name, p.home, written) for p in at.people}
    homes[""] = _Home(nothing, nothing, nothing, nothing, nothing)
    for w in written:
        for position, aside in _days(at, w, homes[w.person]):
            at.traces.append(_trace(at, w, position, aside))


def _written(at: Look, subject: Subject, b: Belonging) -> list[_Written]:
    """A belonging in a home, with its person; of a game's scores each person who has a file among them."""
    games = b.person == EVERYONE and f"{b.path}/".startswith(_GAMES)
    if b.kind not in KINDS or b.share != Share.SOLE or (b.personal and not games):
        return []
    people = (
        [p for p in at.people if p.uid >= 1000] if games else [p for p in at.people if p.name == b.person]
    )
    if people:
        at.saw(KINDS[b.kind])
    tree, part = at.tree, at.tree.slice(b.path)
    if not part:
        return []
    wanted = tree.is_content[part.start : part.stop] & tree.without(part, b.except_)
    found = []
    for person in people:
        mine = wanted
        if games or not at.machine.in_user_namespace:
            mine = wanted & (tree.uid[part.start : part.stop] == person.uid)
        positions = np.flatnonzero(mine) + part.start
        if len(positions):
            found.append(_Written(subject, b, person.name, positions, tree.mtime[positions] // 1_000_000_000))
    if games and not found and (positions := np.flatnonzero(wanted) + part.start).size:
        # The game's own account keeps it: who played is known where only one person is.
        name = people[0].name if len(people) == 1 else ""
        found.append(_Written(subject, b, name, positions, tree.mtime[positions] // 1_000_000_000))
    return found


def _home(at: Look, person: str, home: str, written: list[_Written]) -> _Home:
    mine: dict[str, list[Times]] = {}
    for w in written:
        if w.person == person:
            mine.setdefault(w.subject.id, []).append(w.times)
    by_app = {id: np.concatenate(times) for id, times in mine.items()}
    events = ((t, id) for id, times in by_app.items() for t in set(times.tolist()))
    return _Home(
        _copied(at, home, [_places(at, s, person) for s in at.subjects]),
        put_back(by_app),
        crowds(events, _SAME_MOMENT, _TOGETHER),
        at.logins.beginnings(person),
        at.logins.endings(person),
    )


def _days(at: Look, w: _Written, home: _Home) -> list[tuple[int, str]]:
    """(position, why it does not count) of the last file written on each day, of those that count and of each reason."""
    subject, times = w.subject, w.times
    at_login = LOGIN in at.unasked[subject.id].values()
    never = np.zeros(len(times), dtype=bool)
    reasons = [
        ("most of this home was written then: copied or put back", during(home.copied, times, _EDGE, _EDGE)),
        ("most programs’ files in this home were written then: put back", during(home.restored, times)),
        (
            "older than its installation",
            times < subject.installed if subject.installed is not None else never,
        ),
        ("runs in the background", ~never if subject.background else never),
        (
            "written as it was started at login",
            during(home.begun, times, 0, _AFTER_LOGIN) if at_login else never,
        ),
        *(
            ("written when a schedule had started it", s.started(times, at.zone))
            for s in at.schedules.get(subject.id, ())
            if not s.often
        ),
        ("written as the session ended", during(home.ended, times, _LOGGING_OUT, _LOGGED_OUT)),
        ("several programs wrote their files in the same moment", during(home.crowded, times)),
    ]
    which = np.zeros(len(times), dtype=np.int64)
    for number, (_, here) in enumerate(reasons, 1):
        which[(which == 0) & here] = number
    order = np.lexsort((w.positions, times, which))
    day = times[order] // DAY
    last = np.append((day[1:] != day[:-1]) | (which[order][1:] != which[order][:-1]), True)
    texts = ["", *(text for text, _ in reasons)]
    return [(int(w.positions[i]), texts[which[i]]) for i in order[last].tolist()]


def _trace(at: Look, w: _Written, position: int, aside: str) -> Trace:
    seconds = int(at.tree.mtime[position]) // 1_000_000_000
    unasked = at.unasked[w.subject.id].values()
    at_login, often = LOGIN in unasked, any(s.often for s in at.schedules.get(w.subject.id, ()))
    doubt = (
        "it runs from login on: it may have written by itself"
        if at_login
        else "a schedule starts it every few minutes: it may have written by itself"
        if often
        else "a copied home keeps old times"
    )
    kind = w.belonging.kind
    return Trace(
        w.subject.id,
        KINDS[kind],
        seconds,
        w.person,
        at.tree.paths[position],
        GOOD if kind not in (Kind.CACHE, Kind.LOG) and w.person and not at_login and not often else FAIR,
        None,
        0,
        doubt,
        at.timely(seconds) or aside or _whose(w.belonging),
    )


def _whose(b: Belonging) -> str:
    """Why what was written in a place says nothing of the application: that it is named is all that is known of it."""
    return "" if b.certain or b.proof != By.DECLARED else "only a name in its program says whose the place is"


def _places(at: Look, subject: Subject, person: str) -> NDArray[np.intp]:
    """Positions of everything that lies in an application's places in a person's home, work of the person's own among it."""
    parts = [at.tree.slice(b.path) for b in subject.belongings if b.person == person and b.is_path]
    return np.unique(
        np.concatenate([np.zeros(0, dtype=np.intp), *(np.arange(p.start, p.stop) for p in parts)])
    )


def _copied(at: Look, home: str, apps: list[NDArray[np.intp]]) -> Spans:
    """When most files of a home were written within minutes: it was copied or put back then. `apps`: positions of each
    application's files in it; what one of them wrote alone, however much, is its own work."""
    tree = at.tree
    part = tree.slice(home)
    files = (
        np.flatnonzero(tree.is_file[part.start : part.stop]) + part.start
        if part
        else np.zeros(0, dtype=np.intp)
    )
    if len(files) < _HOME_LEAST:
        return joined([])
    times = tree.mtime[files] // 1_000_000_000
    spans = passes(times, _COPIED_SHARES)
    of_all = [_is_of_all(files, times, (int(a), int(b)), apps) for a, b in spans]
    return spans[np.array(of_all, dtype=np.bool_)]


def _is_of_all(
    files: NDArray[np.intp], times: Times, span: tuple[int, int], apps: list[NDArray[np.intp]]
) -> bool:
    """Whether more than half of what is not the one application's that wrote most in that time was written then, too."""
    then = (span[0] <= times) & (times <= span[1])
    most = max(
        apps, key=lambda mine: int(np.isin(files[then], mine).sum()), default=np.zeros(0, dtype=np.intp)
    )
    others = ~np.isin(files, most)
    return bool(2 * (then & others).sum() > others.sum())
