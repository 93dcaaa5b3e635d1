"""Where each path of a walk stands: an open-addressing table of positions, a tenth of what a dictionary would take."""

from __future__ import annotations

from array import array
from collections.abc import Iterator, Mapping

import numpy as np


class Positions(Mapping[str, int]):
    """Path to position, for paths that are all different."""

    def __init__(self, paths: list[str]) -> None:
        self._paths = paths
        size = 1 << max(4, (2 * len(paths)).bit_length())
        self._mask = size - 1
        table = np.full(size, -1, dtype=np.int32)
        slots = np.fromiter(map(hash, paths), dtype=np.int64, count=len(paths)) & self._mask
        waiting = np.arange(len(paths), dtype=np.int32)
        while len(waiting):  # each round, of those that want one free slot the last one gets it
            free = table[slots] < 0
            table[slots[free]] = waiting[free]
            placed = table[slots] == waiting
            waiting, slots = waiting[~placed], (slots[~placed] + 1) & self._mask
        self._table = array("i", table.tobytes())

    def get(self, path: object, default: int | None = None) -> int | None:  # type: ignore[override]
        table, paths, mask = self._table, self._paths, self._mask
        slot = hash(path) & mask
        while (position := table[slot]) >= 0:
            if paths[position] == path:
                return position
            slot = (slot + 1) & mask
        return default

    def __getitem__(self, path: str) -> int:
        position = self.get(path)
        if position is None:
            raise KeyError(path)
        return position

    def __contains__(self, path: object) -> bool:
        return self.get(path) is not None

    def __len__(self) -> int:
        return len(self._paths)

    def __iter__(self) -> Iterator[str]:
        return iter(self._paths)
