"""A clearance: the proof after the work. Lines x families, each clear, found, could_not_look or not_part."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
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
    """`id`: by which it is taken out or left; `action`: take_out, ask (somebody made it, or it serves others too) or leave (not
    by an order)."""

    path: MachinePath
    line: int
    text: str
    detail: str
    before: list[str]
    after: list[str]
    id: str = ""
    kind: str = ""
    action: str = "leave"
    in_effect: bool = True

    def __post_init__(self) -> None:
        object.__setattr__(self, "text", masked(self.text))
        for name in ("before", "after"):
            object.__setattr__(self, name, [masked(line) for line in getattr(self, name)])

    @property
    def to_do(self) -> str:
        """What can be done about it, in a sentence."""
        if self.action == "take_out":
            return "It can be taken out."
        if self.action == "ask":
            return "Somebody made it, or it serves others too: it goes only if you say so."
        if self.kind == "path":
            return "No order takes it from here."
        if self.kind == "row":
            return "No order changes it: end what runs, or let its registry mend itself."
        return "No order takes it out: its own tool does."


@dataclass(frozen=True, slots=True)
class Cell:
    """`helps`: what would let one look where one could not."""

    family: str
    state: Looked
    looked_at: str
    findings: list[Finding]
    helps: str = ""


@dataclass(frozen=True, slots=True)
class LookedIn:
    """The places of a family that were looked at, with how many files were read in each of them."""

    family: str
    places: dict[str, int]


@dataclass(frozen=True, slots=True)
class ClearanceLine:
    """`mentions`: configuration that names it, nobody knows what for: weaker than a finding, and no reason against clear."""

    id: str
    name: str
    verdict: Verdict
    cells: list[Cell]
    mentions: list[Finding] = field(default_factory=list)

    @property
    def found(self) -> list[tuple[str, Finding]]:
        """Every finding with its family."""
        return [(cell.family, f) for cell in self.cells for f in cell.findings]


@dataclass(frozen=True, slots=True)
class VolumeResult:
    """Bytes promised against bytes measured. `on_shelf` waits until emptied, `still_open` until processes end; what is neither
    was written, or freed, by others meanwhile."""

    volume: str
    mount: MachinePath
    capacity: int
    free_before: int
    free_now: int
    promised: int
    promised_now: int
    on_shelf: int
    still_open: int = 0

    @property
    def came_back(self) -> int:
        return self.free_now - self.free_before

    @property
    def by_others(self) -> int:
        """Bytes written by others since, less what they freed."""
        return self.promised - self.came_back - self.on_shelf - self.still_open


@dataclass(frozen=True, slots=True)
class Clearance:
    """`rights`: with which it was looked; `searched`: files of settings searched for mentions; `remnants`: the id of the small
    survey from which what was found can be taken out, "" where nothing can."""

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
    rights: str = ""
    looked_in: list[LookedIn] = field(default_factory=list)
    searched: int = 0
    remnants: str = ""

    @property
    def findings(self) -> int:
        return sum(len(c.findings) for line in self.lines for c in line.cells)

    @property
    def unread(self) -> int:
        return sum(c.state == Looked.COULD_NOT_LOOK for line in self.lines for c in line.cells)


CLEARANCE_FORMAT, CLEARANCE_VERSION = "swept-shelf/clearance", 1
REMNANTS = "left"  # the folder beside a clearance with what was found left, as a survey


def standing_id(whose: str, path: str, text: str = "") -> str:
    """The id of a finding that is no reference: a path that stands there, or a row of a registry."""
    return hashlib.sha256(f"{whose}\0{path}\0{text}".encode("utf-8", "surrogateescape")).hexdigest()[:12]
