"""Sign: the system journal: scopes and units of applications, and messages of their programs.

Never read whole: the journal's own tool lists the values of an indexed field, then gives the newest entry for each
application, file by file from the newest on, within a time bound."""

from __future__ import annotations

import json
import re
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from time import monotonic

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import run
from swept_shelf.core.use.trace import FAIR, GOOD, Look, Trace
from swept_shelf.core.use.unasked import LOGIN, SCHEDULE, SEARCH, SERVICE

KIND = "journal"
TIME_BOUND = 4.0  # seconds for all files together
_PLACES = ("/var/log/journal", "/run/log/journal")
_FIELDS = ("USER_UNIT", "_SYSTEMD_USER_UNIT", "_EXE", "_COMM")
_ASKED = "_UID,USER_UNIT,UNIT,_SYSTEMD_UNIT,_SYSTEMD_USER_UNIT,_EXE,_COMM"
_BY_UNIT = ("USER_UNIT", "_SYSTEMD_USER_UNIT")
_AT_ONCE, _VALUES, _UNITS = 100, 40, 400  # entries of one answer; values of one application, units of people in one question
_HEAD = re.compile(r"^(Head|Tail) realtime timestamp: .*\(([0-9a-f]+)\)$|^File path: (.+)$", re.M)
_SCHEDULERS = re.compile(r"^(cron|crond|atd|anacron)\.service$")
# How desktops name what they start (systemd.io, desktop environment integration).
_SCOPE = re.compile(
    r"^app-(?:[A-Za-z0-9_]+-)?(?P<id>.+?)(?:-[0-9a-f]+)?\.scope$|^app-(?:[A-Za-z0-9_]+-)?(?P<unit>.+?)(?:@[^.]+)?\.service$"
)


@dataclass(frozen=True, slots=True)
class _File:
    """One journal file; `oldest`, `newest` in microseconds."""

    path: str
    oldest: int
    newest: int


def look(at: Look) -> None:
    until = monotonic() + TIME_BOUND
    for top in _PLACES:
        for id in at.machine.names(top):
            try:
                _folder(at, f"{top}/{id}", until)
            except CouldNotRead as error:
                at.trouble(error.path or f"{top}/{id}", error.reason)


def _folder(at: Look, folder: str, until: float) -> None:
    names = [n for n in at.machine.names(folder) if n.endswith(".journal")]
    if not names:
        return
    with at.machine.handed(folder) as (handle, fd):
        files = []
        for name in names:
            try:
                files.append(_header(f"{handle}/{name}", fd))
            except CouldNotRead as error:
                at.trouble(f"{folder}/{name}", error.reason)
        files.sort(key=lambda f: -f.newest)
        if not files:
            return
        at.saw(KIND)
        since = min(f.oldest for f in files) // 1_000_000
        at.journal_since = since if at.journal_since is None else min(at.journal_since, since)
        seen: set[tuple[str, str, int]] = set()
        for i, file in enumerate(files):
            if monotonic() > until:
                when = files[i].newest // 1_000_000
                at.trouble(folder, f"its older {len(files) - i} files, up to {_day(when)}, were not looked at: they would take too long")
                break
            try:
                _keep(at, f"{folder}/{file.path.rsplit('/', 1)[1]}", _entries(at, file, fd, until), seen)
            except CouldNotRead as error:
                at.trouble(f"{folder}/{file.path.rsplit('/', 1)[1]}", error.reason)


def _day(seconds: int) -> str:
    from swept_shelf.core.documents.times import day, from_ns

    return day(from_ns(seconds * 1_000_000_000))


def _header(path: str, fd: int) -> _File:
    said = run("journalctl", "--quiet", "--header", f"--file={path}", fds=[fd])
    found = {m[1]: int(m[2], 16) for m in _HEAD.finditer(said.out.decode("utf-8", "replace")) if m[1]}
    if said.status or not found.get("Tail"):
        raise CouldNotRead(f"is no whole journal file: {said.err.strip()[:120] or 'it has no entries'}")
    return _File(path, found.get("Head") or found["Tail"], found["Tail"])


def _entries(at: Look, file: _File, fd: int, until: float) -> Iterator[tuple[str, dict[str, str]]]:
    """(application, an entry) of one file: its newest by a person, and its newest at all."""
    wanted: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for field in _FIELDS:
        for value in _values(file, fd, field):
            if (id := _means(at, field, value)) and len(wanted[id]) < _VALUES:
                wanted[id].append((field, value))
    if not any(wanted.values()):
        return
    sessions = [f"_SYSTEMD_UNIT={u}" for u in _values(file, fd, "_SYSTEMD_UNIT") if u.startswith("session-")][:_UNITS]
    scopes = [f"_SYSTEMD_USER_UNIT={u}" for u in _values(file, fd, "_SYSTEMD_USER_UNIT") if not _unasked(u) and not at.to.unit(u)][:_UNITS]
    people = [f"_UID={p.uid}" for p in at.people if p.uid >= 1000]
    yield from _newest(at, file, fd, until, wanted, (([*people, *sessions] if people and sessions else []), scopes))
    yield from _newest(at, file, fd, until, wanted, None)


def _values(file: _File, fd: int, field: str) -> list[str]:
    said = run("journalctl", "--quiet", f"--file={file.path}", f"--field={field}", fds=[fd])
    return said.out.decode("utf-8", "surrogateescape").splitlines()


def _newest(at: Look, file: _File, fd: int, until: float, terms: dict[str, list[tuple[str, str]]],
            conditions: tuple[list[str], ...] | None) -> Iterator[tuple[str, dict[str, str]]]:  # fmt: skip
    """Each application's newest entry: those found leave the question until nobody is left.

    `conditions`: sets of terms of which one must hold too, so that only what people started is found; None asks for anything."""
    left = {id: [t for t in rows if conditions is None or not _unasked(t[1])] for id, rows in terms.items()}
    while (left := {id: rows for id, rows in left.items() if rows}) and monotonic() < until:
        said = run("journalctl", "--quiet", f"--file={file.path}", "--reverse", "--output=json", f"--output-fields={_ASKED}",
                   f"--lines={_AT_ONCE}", *_question(left, conditions), fds=[fd])  # fmt: skip
        found: dict[str, dict[str, str]] = {}
        for line in said.out.splitlines():
            entry = _entry(line)
            for field in _FIELDS:
                if (id := _means(at, field, entry.get(field, ""))) in left:
                    found.setdefault(id, entry)
        if not found:
            return
        for id, entry in found.items():
            yield id, entry
            del left[id]


def _question(left: dict[str, list[tuple[str, str]]], conditions: tuple[list[str], ...] | None) -> list[str]:
    """Terms of one field mean any of them, of different fields all of them; + begins another way (journalctl(1))."""
    by_field: dict[str, list[str]] = defaultdict(list)
    for rows in left.values():
        for field, value in rows:
            by_field[field].append(f"{field}={value}")
    ways = []
    for field, terms in by_field.items():
        if conditions is None or field in _BY_UNIT:
            ways.append(terms)
        else:
            ways += [[*terms, *more] for more in conditions if more]
    return [word for i, way in enumerate(ways) for word in (["+", *way] if i else way)] or ["_EXE="]


def _unasked(unit: str) -> bool:
    """Whether a unit's name says that no person started it."""
    return "@autostart" in unit or "-autostart" in unit or "SearchProvider" in unit


def _entry(line: bytes) -> dict[str, str]:
    try:
        return {k: v for k, v in json.loads(line).items() if isinstance(v, str)}
    except ValueError:
        return {}


def _means(at: Look, field: str, value: str) -> str:
    """Which application a field's value names."""
    if not value:
        return ""
    if field == "_EXE":
        return at.command(value)
    if field == "_COMM":
        return at.comm(value)
    if id := at.to.unit(value):
        return id
    match = _SCOPE.match(value)
    if match is None:
        return ""
    name = re.sub(r"\\x([0-9a-f]{2})", lambda m: chr(int(m[1], 16)), match["id"] or match["unit"])
    name = name.removesuffix("-autostart").removesuffix("@autostart")
    return at.launched(name) or at.launched(name.rsplit("-", 1)[0]) or at.command(name) or _flatpak(at, name)


def _flatpak(at: Look, name: str) -> str:
    return next((s.id for s in at.subjects if s.app.registry == "flatpak" and s.id.split(":")[-1].split("/")[0] == name), "")


def _keep(at: Look, path: str, entries: Iterator[tuple[str, dict[str, str]]], seen: set[tuple[str, str, int]]) -> None:
    for id, entry in entries:
        when = int(entry.get("__REALTIME_TIMESTAMP", "0")) // 1_000_000
        uid = entry.get("_UID", "")
        person = at.person(int(uid)) if uid.isdigit() and int(uid) >= 1000 else ""
        if not person and (found := re.search(r"user-(\d+)[.@]", path)):
            person = at.person(int(found[1]))
        if (key := (id, person, when)) in seen:
            continue
        seen.add(key)
        exact = any(entry.get(f) for f in ("USER_UNIT", "_SYSTEMD_USER_UNIT")) or bool(at.command(entry.get("_EXE", "")))
        note = entry.get("USER_UNIT") or entry.get("_SYSTEMD_USER_UNIT") or entry.get("_EXE") or entry.get("_COMM", "")
        at.traces.append(Trace(id, KIND, when, person, path, GOOD if exact and person else FAIR, None, 0,
                               "a program that runs on says things nobody asked for", at.timely(when) or _aside(at, id, entry, person), note))  # fmt: skip


def _aside(at: Look, id: str, entry: dict[str, str], person: str) -> str:
    unit = entry.get("USER_UNIT") or entry.get("_SYSTEMD_USER_UNIT") or ""
    if _unasked(unit):
        return SEARCH if "SearchProvider" in unit else LOGIN
    system = entry.get("UNIT") or entry.get("_SYSTEMD_UNIT") or ""
    if _SCHEDULERS.match(system):
        return SCHEDULE
    if at.by_id[id].background:
        return "runs in the background"
    if at.to.unit(unit):
        return SERVICE
    if not person and system.endswith(".service"):
        return SERVICE
    if not unit.startswith("app-") and (why := next(iter(at.unasked[id].values()), "")):
        return why
    return ""
