"""Keeps the computer from going to sleep while something is carried out (systemd's inhibitor locks)."""

from __future__ import annotations

import contextlib
import subprocess
from collections.abc import Iterator
from pathlib import Path

from swept_shelf.core.machine.commands import start

_BOOTED = Path("/run/systemd/system")


@contextlib.contextmanager
def kept_awake(why: str) -> Iterator[bool]:
    """Hold a lock against sleep and idle; it ends with this process, however that ends. False where none is to be had.

    The lock's holder waits for the end of its input, which this process alone keeps open (systemd-inhibit(1))."""
    if not _BOOTED.exists():
        yield False
        return
    try:
        holder = start(
            "systemd-inhibit", "--what=sleep:idle", "--who=Swept Shelf", f"--why={why}", "--mode=block", "cat"
        )
    except FileNotFoundError:
        yield False
        return
    try:
        yield True
    finally:
        assert holder.stdin is not None
        with contextlib.suppress(OSError):
            holder.stdin.close()
        try:
            holder.wait(5)
        except subprocess.TimeoutExpired:
            holder.kill()
            holder.wait()
