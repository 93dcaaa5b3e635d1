"""Makes the C library give memory back: a walk's large blocks come and go, and must not stay with this process."""

from __future__ import annotations

import ctypes

_TRIM_THRESHOLD, _MMAP_THRESHOLD = -1, -3  # mallopt(3)
_AT_MOST = 1 << 20


def give_memory_back() -> None:
    """Fix both thresholds, which glibc else raises after each large block that was freed. Other C libraries: nothing."""
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:
        mallopt(_MMAP_THRESHOLD, _AT_MOST)
        mallopt(_TRIM_THRESHOLD, _AT_MOST)
