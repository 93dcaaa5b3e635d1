"""When it was last used, and how sure that is. The three words are defined in docs/use.md.

sure: two kinds of sign lie within two days of each other. fairly: a write by the program stands alone.
barely: only an access time."""

from __future__ import annotations

from datetime import datetime, timedelta

from swept_shelf.core.documents.survey import LastUse, PersonUse, Sign

_AGREE = timedelta(days=2)
MONTHS = 24


def judge(signs: list[Sign], looked_at: list[str], background: bool, now: datetime) -> LastUse:
    """The judgement over all signs; those set aside do not count. The order of signs does not matter."""
    ordered = sorted(signs, key=lambda s: (s.at, s.kind, s.person, s.source), reverse=True)
    counted = [s for s in ordered if not s.set_aside]
    months = [0] * MONTHS
    for s in counted:
        age = (now - s.at).days // 30
        if 0 <= age < MONTHS:
            months[MONTHS - 1 - age] += 1
    people: dict[str, datetime] = {}
    for s in counted:
        if s.person:
            people[s.person] = max(people.get(s.person, s.at), s.at)
    if not counted:
        return LastUse(None, None, None, "", "", background, [], months, looked_at, ordered)
    at = counted[0].at
    near = [s for s in counted if at - s.at <= _AGREE]
    written = [s for s in near if s.trust == "good"]
    certainty = "sure" if len({s.kind for s in near}) > 1 else "fairly" if written else "barely"
    person = written[0].person if written else ""
    return LastUse(at, min(s.at for s in near), at, person, certainty, background,
                   [PersonUse(p, t) for p, t in sorted(people.items())], months, looked_at, ordered)  # fmt: skip
