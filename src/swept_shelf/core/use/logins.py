"""When people were logged in: wtmp (utmp(5)) with its rotated parts, or its database."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.databases import copied_database
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.unpacked import rotated, unpacked_bytes

DATABASE = "/var/lib/wtmpdb/wtmp.db"
_SHORT = np.dtype(
    [
        ("type", "<i2"),
        ("", "S2"),
        ("pid", "<i4"),
        ("line", "S32"),
        ("id", "S4"),
        ("user", "S32"),
        ("host", "S256"),
        ("exit", "<i4"),
        ("session", "<i4"),
        ("seconds", "<i4"),
        ("micro", "<i4"),
        ("rest", "S36"),
    ]
)
_LONG = np.dtype(
    [
        ("type", "<i2"),
        ("", "S2"),
        ("pid", "<i4"),
        ("line", "S32"),
        ("id", "S4"),
        ("user", "S32"),
        ("host", "S256"),
        ("exit", "<i4"),
        ("session", "<i8"),
        ("seconds", "<i8"),
        ("micro", "<i8"),
        ("rest", "S40"),
    ]
)
_RUN_LEVEL, _BOOT, _USER, _DEAD = 1, 2, 7, 8
_SLACK = 900


@dataclass(frozen=True, slots=True)
class Session:
    """`ended`: False where it goes on, or nobody wrote that it ended: `end` is then when it was looked."""

    person: str
    begin: int
    end: int
    ended: bool = True


@dataclass(frozen=True, slots=True)
class Logins:
    """`since`: from when on logins were written down; None where they are not. `starts`: (when, release, file)
    of each kernel started."""

    sessions: tuple[Session, ...] = ()
    since: int | None = None
    starts: tuple[tuple[int, str, str], ...] = ()

    def nobody(self, at: int) -> bool:
        """True when logins were written down and nobody was there."""
        if self.since is None or at < self.since or not self.sessions:
            return False
        return not any(s.begin - _SLACK <= at <= s.end + _SLACK for s in self.sessions)

    def endings(self, person: str) -> NDArray[np.int64]:
        """When this person's sessions ended, as spans (n, 2) of no length."""
        ends = sorted({s.end for s in self.sessions if s.person == person and s.ended})
        return np.array([(e, e) for e in ends], dtype=np.int64).reshape(-1, 2)

    def beginnings(self, person: str) -> NDArray[np.int64]:
        """When this person's sessions began, likewise."""
        begun = sorted({s.begin for s in self.sessions if s.person == person})
        return np.array([(b, b) for b in begun], dtype=np.int64).reshape(-1, 2)

    def only(self, at: int) -> str:
        """Who alone was logged in then; "" where nobody was, or several."""
        there = {s.person for s in self.sessions if s.begin <= at <= s.end}
        return next(iter(there)) if len(there) == 1 else ""


def read_logins(machine: Machine, now: int) -> tuple[Logins, list[tuple[str, str]]]:
    """Sessions oldest first, and (path, reason) of what could not be read. A broken record is left out, the rest counts."""
    problems: list[tuple[str, str]] = []
    rows: list[tuple[int, int, str, str, str]] = []
    starts: list[tuple[int, str, str]] = []
    for path in rotated(machine, "/var/log", "wtmp"):
        try:
            told = _records(unpacked_bytes(machine, path), now)
        except CouldNotRead as error:
            problems.append((path, error.reason))
            continue
        rows += told
        starts += [(at, host, path) for at, kind, _, _, host in told if kind == _BOOT and host]
    sessions = _sessions(rows, now)
    since = min((at for at, *_ in rows), default=None)
    if machine.exists(DATABASE):
        try:
            with copied_database(machine, DATABASE) as db:
                kept = db.execute("SELECT Type, User, Login, Logout FROM wtmp ORDER BY Login").fetchall()
        except CouldNotRead as error:
            problems.append((DATABASE, error.reason))
        else:
            kept = [
                (t, u, a, b if isinstance(b, int) else 0)
                for t, u, a, b in kept
                if isinstance(a, int) and 0 < a < 1 << 60
            ]
            been = [
                Session(str(u), a // 1_000_000, b // 1_000_000, True)
                if 0 < b < 1 << 60
                else Session(str(u), a // 1_000_000, now, False)
                for t, u, a, b in kept
                if t == 3
            ]
            sessions += [s for s in been if 0 < s.begin <= now]
            since = min([a // 1_000_000 for _, _, a, _ in kept] + ([since] if since else []), default=since)
    in_order = tuple(sorted(sessions, key=lambda s: (s.begin, s.end, s.person)))
    return Logins(in_order, since, tuple(starts)), problems


def _records(data: bytes, now: int) -> list[tuple[int, int, str, str, str]]:
    """(time, type, line, user, host), in the order of the file."""
    layout: NDArray[np.void]
    size = (
        _LONG.itemsize if len(data) % _SHORT.itemsize and not len(data) % _LONG.itemsize else _SHORT.itemsize
    )
    layout = np.frombuffer(
        data[: len(data) // size * size], dtype=_LONG if size == _LONG.itemsize else _SHORT
    )
    times = layout["seconds"].astype(np.int64)
    good = (times > 0) & (times <= now + 60) & np.isin(layout["type"], (_RUN_LEVEL, _BOOT, _USER, _DEAD))
    return [
        (
            int(r["seconds"]),
            int(r["type"]),
            r["line"].decode("utf-8", "replace"),
            r["user"].decode("utf-8", "replace"),
            r["host"].decode("utf-8", "replace"),
        )
        for r in layout[good]
    ]


def _sessions(rows: list[tuple[int, int, str, str, str]], now: int) -> list[Session]:
    found: list[Session] = []
    there: dict[str, tuple[str, int]] = {}
    for at, kind, line, user, _ in rows:
        if kind == _USER and user:
            if line in there:
                found.append(Session(*there.pop(line), at))
            there[line] = (user, at)
        elif kind == _DEAD and line in there:
            found.append(Session(*there.pop(line), at))
        elif kind == _BOOT or (kind == _RUN_LEVEL and user == "shutdown"):
            found += [Session(*begun, at) for begun in there.values()]
            there.clear()
    return found + [Session(*begun, now, False) for begun in there.values()]
