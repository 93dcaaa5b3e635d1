"""What carrying out leaves in its run folder: one record per operation, and the result."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from swept_shelf.core.documents.paths import MachinePath


@dataclass(frozen=True, slots=True)
class Record:
    """One operation as it went: waits, now, done, skipped, put_back or stays."""

    number: int
    line: str
    what: str
    where: MachinePath
    bytes: int
    state: str
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
    state: str
    records: list[Record]
    volumes_before: dict[str, int]
    volumes_after: dict[str, int]

    @property
    def skipped(self) -> list[Record]:
        return [r for r in self.records if r.state in ("skipped", "stays")]


RUN_FORMAT, RUN_VERSION = "swept-shelf/run", 1
