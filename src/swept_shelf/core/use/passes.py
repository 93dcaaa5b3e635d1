"""Runs of times that show that something passed over everything: a backup, an indexer, a copied home."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

Spans = NDArray[np.int64]
LEAST = 12  # fewer files at once show nothing
_JOINED = 7200  # seconds: a backup goes from one folder to the next
_EDGE = 120


def passes(times: Iterable[int], shares: dict[int, float]) -> Spans:
    """Spans (n, 2) in seconds in which unusually many of `times` lie; `shares`: window in seconds to the part of all
    that must lie within it. The order of `times` does not matter."""
    sorted_times = np.sort(np.fromiter(times, dtype=np.int64))
    sorted_times = sorted_times[sorted_times > 0]
    found: list[tuple[int, int]] = []
    for window, share in shares.items():
        stop = np.searchsorted(sorted_times, sorted_times + window, side="right")
        count = stop - np.arange(len(sorted_times))
        for i in np.flatnonzero(count >= max(LEAST, share * len(sorted_times))).tolist():
            found.append((int(sorted_times[i]), int(sorted_times[stop[i] - 1])))
    return joined(found)


def joined(spans: Iterable[tuple[int, int]], gap: int = _JOINED) -> Spans:
    """Spans with those made one that lie at most `gap` seconds apart, oldest first."""
    found: list[list[int]] = []
    for begin, end in sorted(spans):
        if found and begin - found[-1][1] <= gap:
            found[-1][1] = max(found[-1][1], end)
        else:
            found.append([begin, end])
    return np.array(found, dtype=np.int64).reshape(-1, 2)


def inside(spans: Spans, at: int, edge: int = _EDGE) -> bool:
    return bool(((spans[:, 0] - edge <= at) & (at <= spans[:, 1] + edge)).any())
