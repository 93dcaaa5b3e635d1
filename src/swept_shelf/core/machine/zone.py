"""The machine's own time zone: what its logs without a zone are written in."""

from __future__ import annotations

import io
from datetime import UTC, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

_MOST = 1 << 20


def zone(machine: Machine) -> tzinfo:
    """By its /etc/localtime (localtime(5)), else by the name in /etc/timezone; UTC where it says neither."""
    real = machine.resolve("/etc/localtime")
    if real is not None:
        try:
            return ZoneInfo.from_file(io.BytesIO(machine.read_bytes(real, _MOST)))
        except (CouldNotRead, ValueError, EOFError, OverflowError):
            pass
    try:
        return ZoneInfo(machine.text("/etc/timezone").strip())
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return UTC
