"""All kinds of signs read one after the other, and judged; what one cannot read does not stop the rest."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from types import ModuleType

from swept_shelf.core.documents.survey import LastUse
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.use import (
    access_times,
    accounting,
    audit,
    boxes,
    crashes,
    desktop_records,
    journal,
    recent_documents,
    running,
    schedules,
    served,
    shell_history,
    starts,
    thumbnails,
    upgrades,
    writes,
)
from swept_shelf.core.use.judgement import judge
from swept_shelf.core.use.trace import Look
from swept_shelf.core.use.unasked import schedules_of, started_unasked

SIGNS: tuple[ModuleType, ...] = (
    running,
    shell_history,
    journal,
    recent_documents,
    desktop_records,
    boxes,
    writes,
    access_times,
    accounting,
    audit,
    crashes,
    thumbnails,
    served,
    schedules,
    upgrades,
    starts,  # behind all others: of a kernel nothing else counts
)
_MEMORY = 512 << 20  # a journal's and a history's columns
_NO_USE = (schedules.KIND, upgrades.KIND)


def last_uses(look: Look, now: datetime) -> dict[str, LastUse]:
    """When each application was last used, by all signs of this machine. What could not be read stands in `look.not_read`."""
    for s in look.subjects:
        with fence(s.id, look.trouble):
            look.schedules[s.id] = schedules_of(s, look)
        look.unasked[s.id] = started_unasked(s, look)
    for module in SIGNS:
        with fence("/", _named(look, module.__name__.rsplit(".", 1)[1].replace("_", " ")), memory=_MEMORY):
            module.look(look)
    looked_at = [k for k in look.kinds if k not in _NO_USE]
    background = {s.id for s in look.subjects if s.background}
    return judge([s.id for s in look.subjects], look.traces, looked_at, background, now)


def _named(look: Look, name: str) -> Callable[[str, str], None]:
    def trouble(path: str, reason: str) -> None:
        look.trouble(path, f"{name}: {reason}")

    return trouble
