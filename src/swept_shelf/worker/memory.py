"""What memory a worker takes: the C library is made to give large blocks back, which a walk takes and leaves; and its peak."""

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


def peak_memory() -> int:
    """Bytes that this process held at most since it became what it is (proc_pid_status(5), VmHWM)."""
    with open("/proc/self/status", "rb") as table:
        return next((int(line.split()[1]) * 1024 for line in table if line.startswith(b"VmHWM:")), 0)
