"""Two surveys held beside each other, as a document: what came, went, grew, moved, and what is newly pointed at."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from typing import Any, ClassVar

from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.terms import AS_SPELLED

FORMAT, VERSION = "swept-shelf/comparison", 1


class What(StrEnum):
    """What became of something between two surveys."""

    CAME = "came"
    WENT = "went"
    GREW = "grew"
    SHRANK = "shrank"
    MOVED = "moved"  # as large as it was, on another volume
    CHANGED = "changed"  # as large as it was, of another version
    SAME = "same"


@dataclass(frozen=True, slots=True)
class Side:
    """One of the two surveys; `visit` 0 where it is no visit's."""

    survey: str
    machine: str
    name: str
    surveyed_at: datetime
    visit: int = 0


@dataclass(frozen=True, slots=True)
class VolumeChange:
    """A volume by its mount point; None on the side where it was not there."""

    mount: str
    used_before: int | None
    used_after: int | None
    free_before: int | None
    free_after: int | None


@dataclass(frozen=True, slots=True)
class Move:
    """Bytes that an application holds less on one volume and more on another."""

    __pydantic_config__: ClassVar[dict[str, Any]] = AS_SPELLED
    from_: str
    to: str
    bytes: int


@dataclass(frozen=True, slots=True)
class Change:
    """An application, something left behind or a shared store; `kinds`, `volumes`: bytes
    more (or less) of each kind, and on each volume (by mount point), that changed."""

    id: str
    name: str
    of: str  # application, left behind, shared store, folder
    what: What
    bytes_before: int
    bytes_after: int
    person: str = ""
    path: MachinePath = ""
    note: str = ""
    version_before: str = ""
    version_after: str = ""
    last_use_before: datetime | None = None
    last_use_after: datetime | None = None
    kinds: dict[str, int] = field(default_factory=dict)
    moves: list[Move] = field(default_factory=list)
    volumes: dict[str, int] = field(default_factory=dict)

    @property
    def more(self) -> int:
        return self.bytes_after - self.bytes_before


@dataclass(frozen=True, slots=True)
class Pointed:
    """A reference that stands in one of the two only; `new`: in the later one."""

    application: str
    name: str
    new: bool
    family: str
    kind: str
    path: MachinePath
    line: int
    text: str
    person: str


@dataclass(frozen=True, slots=True)
class Promise:
    """What an order between the two gave back, as it was measured when it was carried out."""

    order: str
    lines: int
    came_back: int
    at: datetime


@dataclass(frozen=True, slots=True)
class Comparison:
    """`changes`: largest change first; `folders`: people's own folders, likewise, where both surveys still have their index."""

    format: str
    version: int
    before: Side
    after: Side
    same_machine: bool
    volumes: list[VolumeChange]
    changes: list[Change]
    folders: list[Change]
    pointed: list[Pointed]
    promises: list[Promise] = field(default_factory=list)
