"""Times: always aware, in UTC; written as RFC 3339."""

from __future__ import annotations

from datetime import UTC, datetime

LATEST = 9_223_372_035  # seconds: the last whole second whose nanoseconds 64 bits hold, in the year 2262


def held_ns(nanoseconds: int) -> int:
    """A time that a file system may hold as one of 64 bits: what lies beyond has the nearest second, and its own fraction."""
    seconds, fraction = divmod(nanoseconds, 1_000_000_000)
    return max(-LATEST, min(seconds, LATEST)) * 1_000_000_000 + fraction


def from_ns(nanoseconds: int) -> datetime:
    """Nanoseconds since 1970 as UTC; times that no calendar holds become its nearest end."""
    try:
        return datetime.fromtimestamp(nanoseconds // 1_000_000_000, UTC)
    except (OverflowError, ValueError, OSError):
        return datetime(1970, 1, 1, tzinfo=UTC) if nanoseconds < 0 else datetime(9999, 1, 1, tzinfo=UTC)


def is_moment(text: object) -> bool:
    """Whether a text is a time with its zone, as documents write it."""
    try:
        return (
            isinstance(text, str) and datetime.fromisoformat(text.replace("Z", "+00:00")).tzinfo is not None
        )
    except ValueError:
        return False


def rfc3339(moment: datetime) -> str:
    return moment.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


def day(moment: datetime | None) -> str:
    """A day for people, in local time: 3 Mar 2021."""
    if moment is None:
        return ""
    local = moment.astimezone()
    return f"{local.day} {local.strftime('%b %Y')}"


def short_day(moment: datetime, now: datetime) -> str:
    """A day within the last year without its year: 3 Mar; else like `day`."""
    return day(moment)[:-5] if 0 <= (now - moment).days < 330 else day(moment)


def day_and_clock(moment: datetime | None) -> str:
    """A moment for people, in local time: 3 Mar 2021 14:05."""
    return f"{day(moment)} {clock(moment)}" if moment else ""


def clock(moment: datetime) -> str:
    return moment.astimezone().strftime("%H:%M")
