"""A clearance: the proof after the work. Lines x families, each clear, found, could_not_look or not_part."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from swept_shelf.core.documents.masking import masked
from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.survey import MachineFacts, NotRead
from swept_shelf.core.documents.terms import Looked, Verdict

FAMILIES = (
    "registry",
    "files",
    "launchers",
    "startup",
    "schedules",
    "file_types",
    "shell",
    "services",
    "security",
    "accounts",
    "sources",
    "processes",
    "other_programs",
    "recents",
    "logs",
)


@dataclass(frozen=True, slots=True)
class Finding:
    path: MachinePath
    line: int
    text: str
    detail: str
    before: list[str]
    after: list[str]

    def __post_init__(self) -> None:
        object.__setattr__(self, "text", masked(self.text))
        for name in ("before", "after"):
            object.__setattr__(self, name, [masked(line) for line in getattr(self, name)])


@dataclass(frozen=True, slots=True)
class Cell:
    family: str
    state: Looked
    looked_at: str
    findings: list[Finding]


@dataclass(frozen=True, slots=True)
class ClearanceLine:
    id: str
    name: str
    verdict: Verdict
    cells: list[Cell]


@dataclass(frozen=True, slots=True)
class VolumeResult:
    """Bytes promised against bytes measured. `on_shelf` waits until emptied; `other` is neither ours nor held."""

    volume: str
    mount: MachinePath
    capacity: int
    free_before: int
    free_now: int
    promised: int
    promised_now: int
    on_shelf: int

    @property
    def came_back(self) -> int:
        return self.free_now - self.free_before


@dataclass(frozen=True, slots=True)
class Clearance:
    format: str
    version: int
    id: str
    looked_at: datetime
    finished_at: datetime
    order: str
    run: str
    machine: MachineFacts
    lines: list[ClearanceLine]
    volumes: list[VolumeResult]
    not_read: list[NotRead]

    @property
    def findings(self) -> int:
        return sum(len(c.findings) for line in self.lines for c in line.cells)

    @property
    def unread(self) -> int:
        return sum(c.state == Looked.COULD_NOT_LOOK for line in self.lines for c in line.cells)


CLEARANCE_FORMAT, CLEARANCE_VERSION = "swept-shelf/clearance", 1
