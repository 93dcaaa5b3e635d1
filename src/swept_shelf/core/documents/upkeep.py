"""Upkeep: how a computer is kept so after the work, and what looking after it found."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar, Literal

from swept_shelf.core.documents.order import STRICT
from swept_shelf.core.documents.paths import MachinePath

UPKEEP_FORMAT, UPKEEP_VERSION = "swept-shelf/upkeep", 1
Every = Literal["day", "week", "month"]


@dataclass(frozen=True, slots=True)
class Settings:
    """`free`: bytes that every volume should have, `volumes`: by mount point where it is another; `unused`: a span like 1y;
    `grew`: bytes by which something must have grown to be named; `empty_after`: days until the holding shelf is emptied, 0 for
    never; `trim`: kinds of shared stores by the days after which a part of them goes."""

    __pydantic_config__: ClassVar = STRICT
    every: Every = "week"
    free: int = 0
    volumes: dict[str, int] = field(default_factory=dict)
    unused: str = "1y"
    grew: int = 100_000_000
    empty_after: int = 0
    trim: dict[str, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Low:
    """A volume with less free than it should have."""

    mount: MachinePath
    free: int
    wanted: int


@dataclass(frozen=True, slots=True)
class Noticed:
    """An application, store or folder, and the bytes it is noticed for."""

    id: str
    name: str
    bytes: int
    last_use: datetime | None = None


@dataclass(frozen=True, slots=True)
class Done:
    """Something upkeep did by what was chosen, by the order that stands in the ledger."""

    order: str
    what: str
    bytes: int


@dataclass(frozen=True, slots=True)
class Upkeep:
    """What one look found and did. `troubles`: what could not be done, in words."""

    format: str
    version: int
    at: datetime
    machine: str
    machine_name: str
    survey: str
    low: list[Low]
    grew: list[Noticed]
    unused: list[Noticed]
    emptied: list[Done]
    trimmed: list[Done]
    troubles: list[str]

    @property
    def quiet(self) -> bool:
        """Nothing that anybody has to look at."""
        return not (self.low or self.grew or self.unused or self.troubles)
