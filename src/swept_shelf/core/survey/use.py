"""Hands the signs of use what they work on, and says what this machine keeps as evidence."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from swept_shelf.core.applications.assemble import Assembled, Known
from swept_shelf.core.documents.survey import Belonging, Evidence, LastUse, NotRead, Reference
from swept_shelf.core.documents.times import day, from_ns
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.survey.ground import Ground
from swept_shelf.core.use import access_times
from swept_shelf.core.use.gather import last_uses
from swept_shelf.core.use.logins import Logins, read_logins
from swept_shelf.core.use.trace import Look, Subject

_FRESH = timedelta(days=30)


def look_for_use(
    ground: Ground,
    known: Assembled,
    files: dict[str, list[str]],
    belongings: dict[str, list[Belonging]],
    references: dict[str, list[Reference]],
    to: Pointees,
    processes: list[Process],
    now: datetime,
    ours: Iterable[tuple[datetime, datetime]],
) -> Look:
    changed = _changes(ground)
    subjects = [
        Subject(a, files[a.id], belongings[a.id], references.get(a.id, []), _changed(a, changed))
        for a in known.applications
    ]
    logins, problems = Logins((), None), list[tuple[str, str]]()
    with fence("/var/log/wtmp", lambda path, reason: problems.append((path, reason))):
        logins, problems = read_logins(ground.machine, int(now.timestamp()))
    listed = (
        {p.name: tuple(sorted(changed.get(p.plain_name, ()))) for p in ground.registry.packages.values()}
        if ground.registry
        else {}
    )
    owner = ground.ownership.owner
    look = Look(
        ground.machine,
        ground.tree,
        ground.people,
        ground.volumes,
        subjects,
        to,
        processes,
        logins,
        int(now.timestamp()),
        lambda path: tuple(t for p in owner.get(path, ()) for t in listed.get(p, ())),
        tuple((int(a.timestamp()), int(b.timestamp()) + 1) for a, b in ours),
        tuple((int(t.timestamp()), c) for t, c in ground.registry.commands) if ground.registry else (),
    )
    for path, reason in problems:
        look.trouble(path, reason)
    return look


def _changes(ground: Ground) -> dict[str, set[int]]:
    """Per package (plain name) when it was installed or upgraded, by its registry's log and database."""
    found: dict[str, set[int]] = defaultdict(set)
    if ground.registry:
        for event in ground.registry.history:
            if event.action in ("install", "upgrade"):
                found[event.package.split(":")[0]].add(int(event.at.timestamp()))
        for p in ground.registry.packages.values():
            if p.changed_at:
                found[p.plain_name].add(int(p.changed_at.timestamp()))
    return found


def _changed(app: Known, changes: dict[str, set[int]]) -> tuple[int, ...]:
    times = {t for p in app.own_packages for t in changes.get(p.split(":")[0], ())}
    times |= {
        int(t.timestamp())
        for t in (app.installed_first, app.installed_last)
        if t and app.registry != "debian"
    }
    return tuple(sorted(times))


@dataclass(frozen=True, slots=True)
class Uses:
    """What came of a look, as it can be sent from one process to another. `odd`: as the machine keeps it."""

    last: dict[str, LastUse]
    evidence: Evidence
    not_read: list[NotRead]
    odd: dict[str, str]


def uses_by(look: Look, now: datetime) -> Uses:
    last = last_uses(look, now)
    return Uses(last, _evidence_of(look), look.not_read, look.machine.odd)


def _evidence_of(look: Look) -> Evidence:
    """What signs stand on here, and in sentences why there may be too few of them."""
    times = access_times.behaviour(look.machine, look.volumes)
    journal, logins = look.journal_since, look.logins.since
    little = []
    if times == "noatime":
        little.append("access times are not kept (noatime)")
    if journal is None:
        little.append("no journal is kept")
    elif look.now - journal < _FRESH.total_seconds():
        little.append(f"the journal goes back to {day(from_ns(journal * 10**9))} only")
    came = [t for s in look.subjects for t in s.changed]
    if came and look.now - min(came) < _FRESH.total_seconds():
        little.append(f"everything was installed since {day(from_ns(min(came) * 10**9))}")
    hidden = [p.name for p in look.people if p.read != "all"]
    if hidden:
        little.append(f"not all could be read of {', '.join(hidden)}")
    return Evidence(times, _at(journal), _at(logins), little)


def _at(seconds: int | None) -> datetime | None:
    return None if seconds is None else from_ns(seconds * 10**9)
