"""A trace: whether anything of a name is left anywhere on a machine, family by family as in a clearance."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from swept_shelf.core.documents.clearance import Cell, Finding, LookedIn
from swept_shelf.core.documents.survey import MachineFacts, NotRead
from swept_shelf.core.documents.terms import Looked

TRACE_FORMAT, TRACE_VERSION = "swept-shelf/trace", 1


@dataclass(frozen=True, slots=True)
class Trace:
    """`known_as`: the id by which an earlier survey knew it, "" where only the name was looked for; `looked_for`: the names and
    places under which others could point at it; the rest as in a clearance."""

    format: str
    version: int
    looked_at: datetime
    finished_at: datetime
    machine: MachineFacts
    name: str
    known_as: str
    known_since: datetime | None
    looked_for: dict[str, list[str]]
    cells: list[Cell]
    not_read: list[NotRead]
    mentions: list[Finding] = field(default_factory=list)
    rights: str = ""
    looked_in: list[LookedIn] = field(default_factory=list)
    searched: int = 0
    remnants: str = ""

    @property
    def findings(self) -> int:
        return sum(len(c.findings) for c in self.cells)

    @property
    def unread(self) -> int:
        return sum(c.state == Looked.COULD_NOT_LOOK for c in self.cells)
