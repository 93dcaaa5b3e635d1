"""Arithmetic over the columns of a walk in folder order."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def stops_of(depth: NDArray[np.integer], is_folder: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Per folder, the position after everything below it; per other path, the next position. All of shape (n,).

    `depth`: how many folders a path lies below the root's own."""
    stops = np.arange(1, len(depth) + 1)
    for level in np.flatnonzero(np.bincount(depth[is_folder])).tolist():
        ends = np.append(np.flatnonzero(depth <= level), len(depth))
        folders = np.flatnonzero(is_folder & (depth == level))
        stops[folders] = ends[np.searchsorted(ends, folders, side="right")]
    return stops
