"""What happened in company: several applications' files read or written within the same moments, as no person uses programs."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.use.passes import Spans, joined

Times = NDArray[np.int64]
# Seconds to the part of a person's applications that were written whole within them.
_PUT_BACK = {600: 0.5, 3600: 0.7}
_WHOLE, _LEAST = 0.8, 4


def crowds(events: Iterable[tuple[int, str]], window: int, least: int) -> Spans:
    """Spans (n, 2) in seconds in which `least` different ones or more did something within `window` seconds of each other.

    `events`: (seconds, who), in any order."""
    rows = sorted(set(events))
    found: list[list[int]] = []
    inside: dict[str, int] = {}
    start = 0
    for at, who in rows:
        inside[who] = inside.get(who, 0) + 1
        while rows[start][0] < at - window:
            gone = rows[start][1]
            inside[gone] -= 1
            if not inside[gone]:
                del inside[gone]
            start += 1
        if len(inside) >= least:
            if found and rows[start][0] <= found[-1][1]:
                found[-1][1] = at
            else:
                found.append([rows[start][0], at])
    return np.array(found, dtype=np.int64).reshape(-1, 2)


def put_back(written: dict[str, Times]) -> Spans:
    """When most applications of a home had nearly all their files written within minutes: the home was copied, or put back,
    without its times. `written`: per application when each of its files in the home was."""
    found: list[tuple[int, int]] = []
    for window, share in _PUT_BACK.items():
        whole = sorted(span for times in written.values() if len(times) and (span := _densest(times, window)))
        starts = np.array([begin for begin, _ in whole], dtype=np.int64)
        for i, (begin, _) in enumerate(whole):
            together = int(np.searchsorted(starts, begin + window, side="right")) - i
            if together >= max(_LEAST, share * len(written)):
                found.append((begin, max(end for _, end in whole[i : i + together])))
    return joined(found, 0)


def _densest(times: Times, window: int) -> tuple[int, int] | None:
    """The span of `window` seconds that holds nearly all of `times`, if there is one."""
    order = np.sort(times)
    stop = np.searchsorted(order, order + window, side="right")
    best = int(np.argmax(stop - np.arange(len(order))))
    count = int(stop[best]) - best
    return (int(order[best]), int(order[stop[best] - 1])) if count >= _WHOLE * len(order) else None


def during(spans: Spans, times: Times, before: int = 0, after: int = 0) -> NDArray[np.bool_]:
    """Which of `times` lie in a span, or at most that many seconds before or after one. `spans`: oldest first, apart from each
    other or overlapping."""
    if not len(spans):
        return np.zeros(len(times), dtype=bool)
    begins, ends = spans[:, 0] - before, np.maximum.accumulate(spans[:, 1] + after)
    at = np.searchsorted(begins, times, side="right") - 1
    return (at >= 0) & (times <= ends[np.maximum(at, 0)])
