"""When schedules start something: crontab(5) and the plain forms of systemd.time(7) as minutes of the machine's own day."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, tzinfo

import numpy as np
from numpy.typing import NDArray

_NAMED = {
    "@hourly": "0 * * * *",
    "@daily": "0 0 * * *",
    "@midnight": "0 0 * * *",
    "@weekly": "0 0 * * 0",
    "@monthly": "0 0 1 * *",
    "@yearly": "0 0 1 1 *",
    "@annually": "0 0 1 1 *",
}
_CALENDAR = {
    "minutely": "* * * * *",
    "hourly": "0 * * * *",
    "daily": "0 0 * * *",
    "weekly": "0 0 * * 1",
    "monthly": "0 0 1 * *",
    "yearly": "0 0 1 1 *",
    "annually": "0 0 1 1 *",
    "quarterly": "0 0 1 1,4,7,10 *",
    "semiannually": "0 0 1 1,7 *",
}
_WORDS = {
    w: str(i)
    for i, w in enumerate(
        ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"], 1
    )
} | {w: str(i) for i, w in enumerate(["sun", "mon", "tue", "wed", "thu", "fri", "sat"])}
_OFTEN = 144  # starts a day: of what is started every ten minutes nothing can be told apart by the minute
_LONGEST = 2000  # characters of a crontab's line that hold its schedule
_DAY = 1440  # minutes
_LASTS = 180  # seconds in which what was started writes


@dataclass(frozen=True, slots=True)
class Schedule:
    """Minutes, hours, days of the month, months and days of the week (Sunday is 0) in which it starts."""

    minutes: frozenset[int]
    hours: frozenset[int]
    days: frozenset[int]
    months: frozenset[int]
    weekdays: frozenset[int]
    either: bool = False  # both kinds of days are limited: either is enough (crontab(5))
    later: int = 0  # seconds by which a start may be put off

    @property
    def often(self) -> bool:
        return len(self.minutes) * len(self.hours) > _OFTEN

    def started(self, times: NDArray[np.int64], zone: tzinfo) -> NDArray[np.bool_]:
        """Which of `times` (seconds since 1970) lie within minutes after a start."""
        minutes, which = np.unique(times // 60, return_inverse=True)
        of_day = np.zeros(_DAY, dtype=bool)
        starts = np.array([h * 60 + m for h in self.hours for m in self.minutes], dtype=np.int64)
        for late in range((self.later + _LASTS) // 60 + 1):
            of_day[(starts + late) % _DAY] = True
        return np.array([self._may(of_day, m * 60, zone) for m in minutes.tolist()], dtype=bool)[which]

    def _may(self, of_day: NDArray[np.bool_], seconds: int, zone: tzinfo) -> bool:
        try:
            t = datetime.fromtimestamp(seconds, zone)
        except (OverflowError, ValueError, OSError):
            return False
        if not of_day[t.hour * 60 + t.minute] or t.month not in self.months:
            return False
        month, week = t.day in self.days, t.isoweekday() % 7 in self.weekdays
        return month or week if self.either else month and week


def crontab(text: str) -> Schedule | None:
    """The schedule at the beginning of a crontab's line; None where it has none, or starts with the machine."""
    words = text[:_LONGEST].split()
    if words[:1] and words[0] in _NAMED:
        words = _NAMED[words[0]].split()
    if len(words) < 5:
        return None
    parts = [
        _numbers(word, low, high)
        for word, (low, high) in zip(words, ((0, 59), (0, 23), (1, 31), (1, 12), (0, 7)), strict=False)
    ]
    if any(p is None for p in parts):
        return None
    minutes, hours, days, months, week = (p or frozenset[int]() for p in parts)
    either = not words[2].startswith("*") and not words[4].startswith("*")
    return Schedule(minutes, hours, days, months, frozenset(d % 7 for d in week), either)


_TIME = re.compile(r"(?:^|\s)(\d{1,2}|\*)(?:/(\d+))?((?:,\d{1,2})*):([\d,*/]+)(?::\d+)?\s*$")
_DELAY = re.compile(
    r"^[ \t]*(?:RandomizedDelaySec|AccuracySec)[ \t]*=[ \t]*(\d{1,9})[ \t]*(\w*)[ \t]*$", re.M
)
_UNITS = {"": 1, "s": 1, "sec": 1, "m": 60, "min": 60, "minutes": 60, "h": 3600, "hour": 3600, "hours": 3600}
_MOST_LATER = 6 * 3600


def timers(text: str) -> list[Schedule]:
    """The schedules of a timer unit that name a time of the day; the days themselves are not looked at."""
    later = sum(int(n) * _UNITS.get(unit, 0) for n, unit in _DELAY.findall(text))
    found = []
    for told in re.findall(r"^[ \t]*OnCalendar[ \t]*=[ \t]*(\S[^\n]{0,200})$", text, re.M):
        told = told.strip()
        schedule = crontab(_CALENDAR[told]) if told in _CALENDAR else _of_day(told)
        if schedule is not None:
            found.append(
                Schedule(
                    schedule.minutes,
                    schedule.hours,
                    schedule.days,
                    schedule.months,
                    schedule.weekdays,
                    schedule.either,
                    min(later, _MOST_LATER),
                )
            )
    return found


def _of_day(told: str) -> Schedule | None:
    match = _TIME.search(told)
    if match is None:
        return None
    hours = _numbers(match[1] + (f"/{match[2]}" if match[2] else "") + match[3], 0, 23)
    minutes = _numbers(match[4], 0, 59)
    if hours is None or minutes is None:
        return None
    every = frozenset(range(1, 32)), frozenset(range(1, 13)), frozenset(range(7))
    return Schedule(minutes, hours, *every)


def _numbers(word: str, low: int, high: int) -> frozenset[int] | None:
    """The numbers that a field of crontab(5) means."""
    found: set[int] = set()
    for part in word.split(","):
        span, _, step = part.partition("/")
        first, dash, last = span.partition("-")
        try:
            begin = low if span == "*" else int(_WORDS.get(first.lower(), first))
            end = (
                high
                if span == "*" or (step and not dash)
                else int(_WORDS.get(last.lower(), last))
                if dash
                else begin
            )
            every = int(step) if step else 1
        except ValueError:
            return None
        if not low <= begin <= high or not begin <= end <= high or not 1 <= every <= high + 1:
            return None
        found.update(range(begin, end + 1, every))
    return frozenset(found)
