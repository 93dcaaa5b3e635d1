"""What an archive of a holding shelf says of itself: its first member, archive.json."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar, Final, Literal

from swept_shelf.core.documents.order import STRICT
from swept_shelf.core.documents.paths import MachinePath

ARCHIVE_FORMAT: Final = "swept-shelf/archive"
ARCHIVE_VERSION: Final = 1


@dataclass(frozen=True, slots=True)
class Thing:
    """One thing of a shelf, by the number of its operation."""

    __pydantic_config__: ClassVar = STRICT
    number: int
    line: str
    name: str
    do: str
    path: MachinePath
    bytes: int


@dataclass(frozen=True, slots=True)
class Whose:
    """A person of the machine, so that files find their owner where numbers differ."""

    __pydantic_config__: ClassVar = STRICT
    name: str
    uid: int
    home: MachinePath


@dataclass(frozen=True, slots=True)
class Archive:
    """`machine`: the salted key by which a ledger knows it; `left_out`: what is not in it, and why."""

    __pydantic_config__: ClassVar = STRICT
    format: Literal["swept-shelf/archive"]
    version: Literal[1]
    run: str
    order: str
    made_at: datetime
    machine: str
    machine_name: str
    people: list[Whose]
    things: list[Thing]
    left_out: list[str] = field(default_factory=list)
