"""A last use in words."""

from __future__ import annotations

from datetime import datetime

from swept_shelf.core.documents.survey import LastUse
from swept_shelf.core.documents.times import day, day_and_clock


def last_used(used: LastUse) -> str:
    """In half a sentence: when, and by whom."""
    if used.at is None:
        return "no sign that anybody used it"
    return f"last used {day(used.at)}{f' by {used.person}' if used.person else ''}"


def used_in_words(used: LastUse) -> list[str]:
    """When it was last used, by whom, how sure, and why, as lines."""
    if used.at is None:
        return [used.because or f"no sign of use (looked at: {', '.join(used.looked_at)})"]
    when = day_and_clock(used.at)
    if used.wide:
        when = f"between {when} and {day_and_clock(used.to)}"
    who = f" by {used.person}" if used.person else ", by whom is not known"
    return [f"last used {when}{who} ({used.certainty})", used.because]


def months_of_use(used: LastUse, now: datetime) -> str:
    """The months that hold days with a sign of use, the newest first: “Nov 26: 12, Sep 26: 3”."""
    found = []
    for back, days in enumerate(reversed(used.months)):
        if days:
            month = now.year * 12 + now.month - 1 - back
            found.append(f"{datetime(month // 12, month % 12 + 1, 1).strftime('%b %y')}: {days}")
    return ", ".join(found)
