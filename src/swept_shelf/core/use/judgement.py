"""When it was last used, and how sure that is, over all applications at once. The model stands in docs/use.md.

Signs of one family come from one source of error and count as one witness."""

from __future__ import annotations

import functools
import operator
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import LastUse, PersonUse, Sign
from swept_shelf.core.documents.times import day
from swept_shelf.core.use.trace import DAY, FAIR, GOOD, WEAK, Trace

MONTHS = 24
AGREE = 2 * DAY
_TRUST = {GOOD: 2, FAIR: 1, WEAK: 0}
_WORDS = ("", "barely", "fairly", "sure")


_ORDER = operator.attrgetter(
    "app", "at", "kind", "person", "source", "line", "aside", "trust", "note", "doubt"
)


@functools.cache
def family(kind: str) -> str:
    """What a kind of sign has in common with others: two of one family are no two witnesses."""
    return "read" if kind.endswith(" read") else "written" if kind.endswith(" written") else kind


@dataclass(frozen=True, slots=True)
class _Table:
    """Columns over all traces: application, family as numbers; begin and end in seconds; trust; whether it counts."""

    app: NDArray[np.int64]
    family: NDArray[np.int64]
    begin: NDArray[np.int64]
    end: NDArray[np.int64]
    trust: NDArray[np.int64]
    counts: NDArray[np.bool_]
    families: list[str]


def judge(
    ids: Sequence[str], traces: Iterable[Trace], looked_at: list[str], background: set[str], now: datetime
) -> dict[str, LastUse]:
    """The judgement for each of `ids`. The order of traces does not matter."""
    known = set(ids)
    ordered = sorted(sorted((t for t in traces if t.app in known), key=lambda t: t.until or 0), key=_ORDER)
    table = _columns(ids, ordered)
    seconds = int(now.timestamp())
    newest = np.full(len(ids), -1, dtype=np.int64)
    c = table.counts
    np.maximum.at(newest, table.app[c], table.begin[c])
    near = c & (table.end >= newest[table.app] - AGREE) & (table.begin >= newest[table.app] - AGREE)
    witnesses = np.zeros(
        (len(ids), max(1, len(table.families))), dtype=np.int64
    )  # per application and family: best trust, from 1
    np.maximum.at(witnesses, (table.app[near], table.family[near]), table.trust[near] + 1)
    count, best = (witnesses > 0).sum(axis=1), witnesses.max(axis=1)
    word = np.where(
        newest < 0, 0, np.where((count > 1) & (best == 3), 3, np.where((best == 3) | (count > 1), 2, 1))
    )
    low, high = np.full(len(ids), seconds, dtype=np.int64), newest.copy()
    np.minimum.at(low, table.app[near], table.begin[near])
    top = c & (table.begin == newest[table.app])
    np.maximum.at(high, table.app[top], table.end[top])
    months = _months(len(ids), table, seconds)
    rows: dict[str, list[int]] = defaultdict(list)
    for i, t in enumerate(ordered):
        rows[t.app].append(i)
    return {
        id: _said(
            i,
            ordered,
            rows[id],
            table,
            near,
            int(newest[i]),
            int(low[i]),
            int(high[i]),
            int(word[i]),
            months[i].tolist(),
            looked_at,
            id in background,
            seconds,
        )
        for i, id in enumerate(ids)
    }


def _columns(ids: Sequence[str], traces: list[Trace]) -> _Table:
    number = {id: i for i, id in enumerate(ids)}
    families = sorted({family(t.kind) for t in traces})

    def column(values: Iterable[int]) -> NDArray[np.int64]:
        return np.fromiter(values, dtype=np.int64)

    by_family = {f: i for i, f in enumerate(families)}
    return _Table(
        column(number[t.app] for t in traces),
        column(by_family[family(t.kind)] for t in traces),
        column(t.at for t in traces),
        column(t.at if t.until is None else max(t.at, t.until) for t in traces),
        column(_TRUST[t.trust] for t in traces),
        np.fromiter((not t.aside for t in traces), dtype=bool),
        families,
    )


def _months(apps: int, table: _Table, now: int) -> NDArray[np.int64]:
    """Per application and calendar month (UTC, the newest last) the days on which any sign counts."""
    exact = table.counts & (table.end - table.begin <= AGREE)
    days, _ = np.unique(np.stack([table.app[exact], table.begin[exact] // DAY]), axis=1, return_index=True)
    age = _age(days[1], now)
    good = (age >= 0) & (age < MONTHS)
    months = np.zeros((apps, MONTHS), dtype=np.int64)
    np.add.at(months, (days[0][good], MONTHS - 1 - age[good]), 1)
    return months


def _age(days: NDArray[np.int64], now: int) -> NDArray[np.int64]:
    """How many calendar months lie between days since 1970 and now."""
    most = 3_000_000  # days: further than any calendar goes on
    month = np.clip(days, -most, most).astype("datetime64[D]").astype("datetime64[M]").astype(np.int64)
    return np.int64(np.datetime64(now // DAY, "D").astype("datetime64[M]").astype(np.int64)) - month


def _said(
    i: int,
    traces: list[Trace],
    rows: list[int],
    table: _Table,
    near: NDArray[np.bool_],
    newest: int,
    low: int,
    high: int,
    word: int,
    months: list[int],
    looked_at: list[str],
    background: bool,
    now: int,
) -> LastUse:
    signs = _signs([traces[r] for r in rows], now)
    if newest < 0:
        return LastUse(
            None,
            None,
            None,
            "",
            "",
            background,
            [],
            months,
            looked_at,
            signs,
            _nothing(signs, looked_at, background),
        )
    close = [traces[r] for r in rows if near[r]]
    people: dict[str, int] = {}
    for r in rows:
        t = traces[r]
        if t.person and table.counts[r]:
            people[t.person] = max(people.get(t.person, 0), t.at)
    named = max(
        (t for t in close if t.person), key=lambda t: (_TRUST[t.trust] == 2, t.at, t.person), default=None
    )
    return LastUse(
        _utc(newest),
        _utc(min(low, newest)),
        _utc(high),
        named.person if named else "",
        _WORDS[word],
        background,
        [PersonUse(p, _utc(t)) for p, t in sorted(people.items(), key=lambda x: (-x[1], x[0]))],
        months,
        looked_at,
        signs,
        _because(close, [traces[r] for r in rows if table.counts[r]], word),
    )


def _because(close: list[Trace], counted: list[Trace], word: int) -> str:
    """Why the word: which kinds agree, and what else the others say."""
    kinds = sorted({t.kind for t in close})
    together = " and ".join(kinds) if len(kinds) < 3 else f"{', '.join(kinds[:-1])} and {kinds[-1]}"
    if len({family(t.kind) for t in close}) > 1:
        text = f"{together} lie within two days of each other"
    else:
        text = f"only {together} says so"
        if any(t.until is not None and t.until - t.at > AGREE for t in close):
            text += ", and only between two days"
    others = [t for t in counted if family(t.kind) not in {family(c.kind) for c in close}]
    if others and word < 3:
        last = max(others, key=lambda t: (t.at, t.kind))
        text += f"; {last.kind} says {day(_utc(last.at))} last"
    return text


def _nothing(signs: list[Sign], looked_at: list[str], background: bool) -> str:
    looked = f"looked at: {', '.join(looked_at) or 'nothing that was there'}"
    if background:
        return f"runs in the background; what it served is not known ({looked})"
    aside = [s for s in signs if s.kind not in ("upgrade", "timer")]
    return f"no sign of use ({looked})" + (
        f"; {plural(len(aside), 'sign was', 'signs were')} set aside" if aside else ""
    )


def _signs(traces: list[Trace], now: int) -> list[Sign]:
    """One sign for each kind, person and reason to set it aside: its newest trace, with the days of all of them by month."""
    groups: dict[tuple[str, str, str, bool], list[Trace]] = defaultdict(list)
    for t in traces:
        groups[t.kind, t.person, t.aside, t.until is None or t.until - t.at <= AGREE].append(t)
    made = []
    for (_, _, _, exact), members in groups.items():
        first = max(members, key=lambda t: (t.at, t.source, t.line))
        days = np.array(sorted({t.at // DAY for t in members} if exact else ()), dtype=np.int64)
        ages = _age(days, now)
        months = np.bincount(MONTHS - 1 - ages[(ages >= 0) & (ages < MONTHS)], minlength=MONTHS).tolist()
        made.append(
            Sign(
                first.kind,
                _utc(first.at),
                _utc(first.until) if first.until is not None else None,
                first.person,
                first.source,
                first.trust,
                first.doubt,
                first.aside,
                first.note,
                first.line,
                months if any(months) else [],
            )
        )
    return sorted(made, key=lambda s: (bool(s.set_aside), -s.at.timestamp(), s.kind, s.person, s.set_aside))


def _utc(seconds: int) -> datetime:
    try:
        return datetime.fromtimestamp(seconds, UTC)
    except (OverflowError, ValueError, OSError):
        return datetime(9999, 1, 1, tzinfo=UTC) if seconds > 0 else datetime(1970, 1, 1, tzinfo=UTC)
