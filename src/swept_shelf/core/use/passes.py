"""Runs of times that show that something passed over everything: a backup, an indexer, a copied home."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

Spans = NDArray[np.int64]
LEAST = 12  # fewer files at once show nothing
_JOINED = 7200  # seconds: a backup goes from one folder to the next
_EDGE = 120


def passes(times: Iterable[int] | NDArray[np.int64], shares: dict[int, float]) -> Spans:
    """Spans (n, 2) in seconds in which unusually many of `times` lie; `shares`: window in seconds to the part of all
    that must lie within it. The order of `times` does not matter."""
    sorted_times = np.sort(times if isinstance(times, np.ndarray) else np.fromiter(times, dtype=np.int64))
    sorted_times = sorted_times[sorted_times > 0]
    found: list[NDArray[np.int64]] = []
    for window, share in shares.items():
        stop = np.searchsorted(sorted_times, sorted_times + window, side="right")
        count = stop - np.arange(len(sorted_times))
        begun = np.flatnonzero(count >= max(LEAST, share * len(sorted_times)))
        found.append(np.stack([sorted_times[begun], sorted_times[stop[begun] - 1]], axis=1))
    return _made_one(np.concatenate(found), _JOINED)


def joined(spans: Iterable[tuple[int, int]], gap: int = _JOINED) -> Spans:
    """Spans with those made one that lie at most `gap` seconds apart, oldest first."""
    return _made_one(np.array(list(spans), dtype=np.int64).reshape(-1, 2), gap)


def _made_one(spans: Spans, gap: int) -> Spans:
    in_order = spans[np.argsort(spans[:, 0], kind="stable")]
    begins, ends = in_order[:, 0], np.maximum.accumulate(in_order[:, 1])
    first = np.ones(len(begins), dtype=np.bool_)
    first[1:] = begins[1:] - ends[:-1] > gap
    last = np.append(first[1:], True)[: len(first)]
    return np.stack([begins[first], ends[last]], axis=1)


def inside(spans: Spans, at: int, edge: int = _EDGE) -> bool:
    return bool(((spans[:, 0] - edge <= at) & (at <= spans[:, 1] + edge)).any())
