"""Sign: the system journal: scopes and units of applications, and messages of their programs.

Never read whole: the journal's own tool lists the values of an indexed field, then gives the newest entry for each
application, file by file from the newest on, within a time bound."""

from __future__ import annotations

import json
import re
import stat
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from time import monotonic

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.times import day, from_ns
from swept_shelf.core.machine.commands import run
from swept_shelf.core.use.trace import FAIR, GOOD, Look, Trace
from swept_shelf.core.use.unasked import LOGIN, SCHEDULE, SEARCH, SERVICE

KIND = "journal"
TIME_BOUND = 4.0  # seconds for all files together
_OFTEN_BOUND = 2.0  # seconds after which nothing more is asked about how often
_PLACES = ("/var/log/journal", "/run/log/journal")
_CRASHED = "COREDUMP_EXE"  # of what broke down, as systemd-coredump(8) tells it: also where its record is gone by now
_FIELDS = ("USER_UNIT", "_SYSTEMD_USER_UNIT", "_EXE", "_COMM", "UNIT", "_SYSTEMD_UNIT", _CRASHED)
_ASKED = "_UID,USER_UNIT,UNIT,_SYSTEMD_UNIT,_SYSTEMD_USER_UNIT,_EXE,_COMM,COREDUMP_EXE,COREDUMP_UID,COREDUMP_USER_UNIT"
_OF_SYSTEM = ("UNIT", "_SYSTEMD_UNIT")
_BY_UNIT = ("USER_UNIT", "_SYSTEMD_USER_UNIT")
_TOGETHER, _LINES = (
    10,
    30,
)  # applications in one question, entries of one answer: long questions are slow ones
_VALUES, _UNITS, _LISTED = (
    3,
    60,
    4000,
)  # of each field the newest: of one application, units of people in one question, read at all
_HEAD = re.compile(r"^(Head|Tail) realtime timestamp: .*\(([0-9a-f]+)\)$", re.M)
_MOST_FILES = 400
_PATTERN = re.compile(r"[*?\[\]\\\n]")  # what --file= would take for a pattern
_SCHEDULERS = re.compile(r"^(cron|crond|atd|anacron)\.service$")
# How desktops name what they start (systemd.io, desktop environment integration).
_SCOPE = re.compile(
    r"^app-(?:[A-Za-z0-9_]+-)?(?P<id>.+?)(?:-[0-9a-f]+)?\.scope$|^app-(?:[A-Za-z0-9_]+-)?(?P<unit>.+?)(?:@[^.]+)?\.service$"
)


@dataclass(slots=True)
class _File:
    """One journal file; `oldest`, `newest` in microseconds; `terms`: per application what names it, as (field, value)."""

    path: str
    oldest: int
    newest: int
    terms: dict[str, list[tuple[str, str]]] = field(default_factory=dict)
    sessions: list[str] = field(default_factory=list)
    scopes: list[str] = field(default_factory=list)

    @property
    def name(self) -> str:
        return self.path.rsplit("/", 1)[1]

    @property
    def owner(self) -> str:
        """Whose file it is: user-1001, or system."""
        return re.split(r"[@.]", self.name)[0]


def look(at: Look) -> None:
    until = monotonic() + TIME_BOUND
    for top in _PLACES:
        for id in at.machine.names(top):
            try:
                _folder(at, f"{top}/{id}", until)
            except CouldNotRead as error:
                at.trouble(error.path or f"{top}/{id}", error.reason)


def _folder(at: Look, folder: str, until: float) -> None:
    """Newest file first. Each application is asked for once in each person's files; then, while time is left, in the
    older ones too, for how often it was used."""
    if not any(n.endswith(".journal") for n in at.machine.names(folder)):
        return
    with at.machine.handed(folder) as (handle, fd):
        files = _headers(at, folder, handle, fd)
        if not files:
            return
        at.saw(KIND)
        since = min(f.oldest for f in files) // 1_000_000
        at.journal_since = since if at.journal_since is None else min(at.journal_since, since)
        settled: dict[str, set[str]] = defaultdict(set)
        seen: set[tuple[str, str, int]] = set()
        with ThreadPoolExecutor(2) as pool:
            ready = list(zip(files, pool.map(lambda f: _list_values(at, f, fd, until), files), strict=True))
            late = [f for f, listed in ready if not listed]
            for often in (False, True):
                bound = until - TIME_BOUND + _OFTEN_BOUND if often else until
                for file in (f for f, listed in ready if listed):
                    ids = {i for i in file.terms if (i in settled[file.owner]) == often}
                    for id, entry in _entries(at, file, fd, bound, ids, pool):
                        if _keep(at, f"{folder}/{file.name}", id, entry, seen):
                            settled[file.owner].add(id)
                    if not often and ids and monotonic() > until:
                        late.append(file)
        if late:
            newest = _day(max(f.newest for f in late) // 1_000_000)
            at.trouble(
                folder,
                f"{len(late)} of {len(files)} files, up to {newest}, were not looked at whole: it would take too long",
            )


def _day(seconds: int) -> str:
    return day(from_ns(seconds * 1_000_000_000))


def _headers(at: Look, folder: str, handle: str, fd: int) -> list[_File]:
    """All files of a folder that have entries, the newest first; what is no journal file is named."""
    plain = [
        n
        for n in at.machine.names(folder)
        if n.endswith((".journal", ".journal~")) and _is_plain(at, f"{folder}/{n}")
    ]
    if not plain:
        return []
    found = _heads(handle, fd, plain[:_MOST_FILES])
    for name in set(plain) - {f.name for f in found}:
        alone = _heads(handle, fd, [name])
        if not alone and name.endswith(".journal"):
            at.trouble(f"{folder}/{name}", "is no whole journal file")
        found += alone
    return sorted((f for f in found if f.newest), key=lambda f: -f.newest)


def _heads(handle: str, fd: int, names: list[str]) -> list[_File]:
    """Files with the times of their first and last entry; 0 for one without any."""
    said = run("journalctl", "--quiet", "--header", *(f"--file={handle}/{n}" for n in names), fds=[fd])
    found: list[_File] = []
    for part in re.split(r"^File path: ", said.out.decode("utf-8", "replace"), flags=re.M)[1:]:
        times = {m[1]: int(m[2], 16) for m in _HEAD.finditer(part)}
        found.append(
            _File(
                f"{handle}/{part.splitlines()[0].rsplit('/', 1)[1]}",
                times.get("Head") or times.get("Tail", 0),
                times.get("Tail", 0),
            )
        )
    return found


def _is_plain(at: Look, path: str) -> bool:
    """Whether it is a file of its own with something in it: journalctl(1) would follow a link out of the root."""
    status = None if _PATTERN.search(path) else at.machine.lstat(path)
    return status is not None and stat.S_ISREG(status.st_mode) and status.st_size > 0


def _list_values(at: Look, file: _File, fd: int, until: float) -> bool:
    """Fill in what of this file's indexed values names an application; False where there was no time."""
    for name in _FIELDS:
        if monotonic() > until:
            return False
        said = run("journalctl", "--quiet", f"--file={file.path}", f"--field={name}", fds=[fd])
        values = said.out.decode("utf-8", "surrogateescape").split("\n", _LISTED)[
            :_LISTED
        ]  # the newest come first
        if name == "_SYSTEMD_UNIT":
            file.sessions = [f"{name}={u}" for u in values if u.startswith("session-")][:_UNITS]
        for value in values:
            if id := _means(at, name, value):
                terms = file.terms.setdefault(id, [])
                if sum(n == name for n, _ in terms) < _VALUES and not (
                    name == "_COMM" and any(n == "_EXE" for n, _ in terms)
                ):
                    terms.append((name, value))
        if name == "_SYSTEMD_USER_UNIT":
            file.scopes = [f"{name}={u}" for u in values if u and not _unasked(u) and not at.to.unit(u)][
                :_UNITS
            ]
    return True


def _entries(
    at: Look, file: _File, fd: int, until: float, ids: set[str], pool: ThreadPoolExecutor
) -> Iterator[tuple[str, dict[str, str]]]:
    """(application, an entry) of one file: its newest. Of what the machine also starts by itself, its newest by a person
    too: a question with two conditions walks through the file, so only these few are asked in that way."""
    people = [f"_UID={p.uid}" for p in at.people if p.uid >= 1000]
    conditions = ([*people, *file.sessions] if people and file.sessions else []), file.scopes
    doubtful = [i for i in sorted(ids) if at.unasked[i] or any(_unasked(v) for _, v in file.terms[i])]
    for asked, more in ((doubtful, conditions), (sorted(ids), None)):
        for found in pool.map(
            lambda part, more=more: _newest(at, file, fd, until, part, more), _parts(file, asked)
        ):
            yield from found.items()


def _parts(file: _File, ids: list[str]) -> list[dict[str, list[tuple[str, str]]]]:
    return [{id: file.terms[id] for id in ids[i : i + _TOGETHER]} for i in range(0, len(ids), _TOGETHER)]


def _newest(
    at: Look,
    file: _File,
    fd: int,
    until: float,
    terms: dict[str, list[tuple[str, str]]],
    conditions: tuple[list[str], ...] | None,
) -> dict[str, dict[str, str]]:
    """Each application's newest entry: those found leave the question until nobody is left.

    `conditions`: sets of terms of which one must hold too, so that only what people started is found; None asks for anything."""
    left = {
        id: [t for t in rows if conditions is None or not (t[0] in _OF_SYSTEM or _unasked(t[1]))]
        for id, rows in terms.items()
    }
    found: dict[str, dict[str, str]] = {}
    while (
        left := {id: rows for id, rows in left.items() if rows and id not in found}
    ) and monotonic() < until:
        question = _question(left, conditions)
        said = (
            run(
                "journalctl",
                "--quiet",
                f"--file={file.path}",
                "--reverse",
                "--output=json",
                f"--output-fields={_ASKED}",
                f"--lines={_LINES}",
                *question,
                fds=[fd],
            )
            if question
            else None
        )
        before = len(found)
        for line in said.out.splitlines() if said else ():
            entry = _entry(line)
            for name in _FIELDS:
                if (id := _means(at, name, entry.get(name, ""))) in left:
                    found.setdefault(id, entry)
        if len(found) == before:
            break
    return found


def _question(left: dict[str, list[tuple[str, str]]], conditions: tuple[list[str], ...] | None) -> list[str]:
    """Terms of one field mean any of them, of different fields all of them; + begins another way (journalctl(1))."""
    by_field: dict[str, list[str]] = defaultdict(list)
    for rows in left.values():
        for name, value in rows:
            by_field[name].append(f"{name}={value}")
    ways = []
    for name, terms in by_field.items():
        if conditions is None or name in _BY_UNIT:
            ways.append(terms)
        else:
            ways += [[*terms, *more] for more in conditions if more]
    return [word for i, way in enumerate(ways) for word in (["+", *way] if i else way)]


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
    if field in ("_EXE", _CRASHED):
        return at.command(value)
    if field == "_COMM":
        return at.comm(value)
    if (id := at.to.unit(value)) or field in _OF_SYSTEM:
        return id
    match = _SCOPE.match(value)
    if match is None:
        return ""
    name = re.sub(r"\\x([0-9a-f]{2})", lambda m: chr(int(m[1], 16)), match["id"] or match["unit"])
    name = name.removesuffix("-autostart").removesuffix("@autostart")
    return at.launched(name) or at.launched(name.rsplit("-", 1)[0]) or at.command(name) or _flatpak(at, name)


def _flatpak(at: Look, name: str) -> str:
    return next(
        (
            s.id
            for s in at.subjects
            if s.app.registry == "flatpak" and s.id.split(":")[-1].split("/")[0] == name
        ),
        "",
    )


def _keep(at: Look, path: str, id: str, entry: dict[str, str], seen: set[tuple[str, str, int]]) -> bool:
    """Note the entry; True when it counts as use by a person."""
    when = int(entry.get("__REALTIME_TIMESTAMP", "0")) // 1_000_000
    broke_down = bool(entry.get(_CRASHED))
    if broke_down:  # told by the service that keeps core dumps, of another's process
        entry = entry | {
            "_UID": entry.get("COREDUMP_UID", ""),
            "USER_UNIT": entry.get("COREDUMP_USER_UNIT", ""),
            "_EXE": entry[_CRASHED],
            **dict.fromkeys(("UNIT", "_SYSTEMD_UNIT", "_SYSTEMD_USER_UNIT", "_COMM"), ""),
        }
    uid = entry.get("_UID", "")
    person = at.person(int(uid)) if uid.isdigit() and int(uid) >= 1000 else ""
    if not person and (found := re.search(r"user-(\d+)[.@]", path)):
        person = at.person(int(found[1]))
    aside = at.timely(when) or _aside(at, id, entry, person)
    if (id, person, when) not in seen:
        seen.add((id, person, when))
        exact = any(entry.get(f) for f in _BY_UNIT) or bool(at.command(entry.get("_EXE", "")))
        note = (
            entry.get("USER_UNIT")
            or entry.get("_SYSTEMD_USER_UNIT")
            or entry.get("_EXE")
            or entry.get("_COMM", "")
        )
        note = f"broke down: {note}" if broke_down else note
        at.traces.append(
            Trace(
                id,
                KIND,
                when,
                person,
                path,
                GOOD if exact and person else FAIR,
                None,
                0,
                "a program that runs on says things nobody asked for",
                aside,
                note,
            )
        )
    return bool(person) and not aside


def _aside(at: Look, id: str, entry: dict[str, str], person: str) -> str:
    unit = entry.get("USER_UNIT") or entry.get("_SYSTEMD_USER_UNIT") or ""
    if _unasked(unit):
        return SEARCH if "SearchProvider" in unit else LOGIN
    system = entry.get("UNIT") or entry.get("_SYSTEMD_UNIT") or ""
    if _SCHEDULERS.match(system):
        return SCHEDULE
    if at.by_id[id].background:
        return "runs in the background"
    if at.to.unit(unit) or at.to.unit(system):
        return SERVICE
    if not person and system.endswith(".service"):
        return SERVICE
    if not unit.startswith("app-") and (why := next(iter(at.unasked[id].values()), "")):
        return why
    return ""
