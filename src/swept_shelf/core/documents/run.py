"""What carrying out leaves in its run folder: one record per operation, and the result."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar, Literal

from swept_shelf.core.documents.order import STRICT
from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.terms import Ended, Task, Went


@dataclass(frozen=True, slots=True)
class RunHead:
    """What a run folder says of itself. `originals`: where originals are kept, "" for the holding shelf."""

    __pydantic_config__: ClassVar = STRICT
    format: Literal["swept-shelf/run"]
    version: Literal[2]
    id: str
    machine_key: str
    root: MachinePath
    originals: MachinePath


@dataclass(frozen=True, slots=True)
class Entry:
    """One record of a journal. `n` is the number of an operation, from 1; `numbers` are those of a line that were left
    together; `without`: packages that an operation could not take with the others; `path` and `before` are a folder and its
    time in nanoseconds before a shelf was made in it, or taken away."""

    __pydantic_config__: ClassVar = STRICT
    event: Literal[
        "mode", "free", "shelf", "top", "begin", "done", "skipped", "left", "stays", "returned", "end"
    ]
    at: datetime
    n: int = 0
    line: str = ""
    what: str = ""
    where: MachinePath = ""
    note: str = ""
    seconds: float = 0.0
    mode: Task | Literal[""] = ""
    again: bool = False
    lines: list[str] = field(default_factory=list)
    numbers: list[int] = field(default_factory=list)
    without: list[str] = field(default_factory=list)
    free: dict[str, int] = field(default_factory=dict)
    path: MachinePath = ""
    before: int = 0
    bytes: int = 0
    new_inside: int = 0
    left: int = 0
    state: str = ""

    def __post_init__(self) -> None:
        if self.event in ("begin", "done", "skipped", "left", "stays", "returned") and self.n < 1:
            raise ValueError(f"{self.event} without the number of its operation")
        if self.event == "mode" and not self.mode:
            raise ValueError("mode without a mode")
        if self.event in ("shelf", "top") and not self.path:
            raise ValueError(f"{self.event} without a path")


@dataclass(frozen=True, slots=True)
class Record:
    """One operation as it went: waits, now, done, skipped, left (with its whole line), put_back or stays."""

    number: int
    line: str
    what: str
    where: MachinePath
    bytes: int
    state: Went
    note: str = ""
    seconds: float = 0.0
    started_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class RunResult:
    """`state`: carried_out, stopped, put_back or emptied; skipped operations are listed with their reason."""

    format: str
    version: int
    id: str
    order: str
    machine_key: str
    started_at: datetime
    finished_at: datetime
    state: Ended
    records: list[Record]
    volumes_before: dict[str, int]
    volumes_after: dict[str, int]

    @property
    def skipped(self) -> list[Record]:
        return [r for r in self.records if r.state in (Went.SKIPPED, Went.STAYS)]

    @property
    def reasons(self) -> list[Record]:
        """What was not done, each reason once for a line that was left together."""
        return reasons(self.records)

    @property
    def unfinished(self) -> list[Record]:
        """What of the order was not done."""
        return [r for r in self.records if r.state in (Went.SKIPPED, Went.STAYS, Went.LEFT, Went.WAITS)]


def reasons(records: list[Record]) -> list[Record]:
    """What was not done; of a line that was left together the first."""
    found = [r for r in records if r.state in (Went.SKIPPED, Went.STAYS, Went.LEFT)]
    first = {(r.line, r.note): r.number for r in reversed(found) if r.state == Went.LEFT}
    return [r for r in found if r.state != Went.LEFT or first[r.line, r.note] == r.number]


RUN_FORMAT, RUN_VERSION = "swept-shelf/run", 2
