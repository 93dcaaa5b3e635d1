"""What is to be changed, as data. Only `carry` performs operations."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.survey import Identity


@dataclass(frozen=True, slots=True)
class KeepOriginal:
    """Rebuild the package's file from the root alone, and check it, before its registry removes it."""

    line: str
    package: str
    version: str
    bytes: int
    rights: str
    do: Literal["keep_original"] = "keep_original"


@dataclass(frozen=True, slots=True)
class RemovePackages:
    """Ask the registry for the removal that spares configuration."""

    line: str
    registry: str
    packages: list[str]
    bytes: int
    rights: str
    do: Literal["remove_packages"] = "remove_packages"


@dataclass(frozen=True, slots=True)
class PurgePackages:
    """Ask the registry to forget the configuration that stands on the shelf by now."""

    line: str
    registry: str
    packages: list[str]
    rights: str
    do: Literal["purge_packages"] = "purge_packages"


@dataclass(frozen=True, slots=True)
class Shelve:
    """Rename a path onto the holding shelf of its own file system."""

    line: str
    path: MachinePath
    identity: Identity
    bytes: int
    files: int
    volume: str
    exactly: bool
    rights: str
    why: str
    do: Literal["shelve"] = "shelve"


@dataclass(frozen=True, slots=True)
class LineEdit:
    """One line of a file, counted from 1: `old` without its line end; `new` is None to take it out.

    A value that spans several lines is several edits."""

    line: int
    old: str
    new: str | None


@dataclass(frozen=True, slots=True)
class EditLines:
    """Change only these lines; the rest stays byte for byte, the old file stands on the shelf."""

    line: str
    path: MachinePath
    identity: Identity
    sha256: str
    edits: list[LineEdit]
    rights: str
    why: str
    volume: str
    do: Literal["edit_lines"] = "edit_lines"


Operation = KeepOriginal | RemovePackages | PurgePackages | Shelve | EditLines


@dataclass(frozen=True, slots=True)
class LeftAlone:
    path: MachinePath
    why: str


@dataclass(frozen=True, slots=True)
class Plan:
    """Every operation of an order in the order it will be done, and what is left alone on purpose."""

    operations: list[Operation] = field(default_factory=list)
    left_alone: list[LeftAlone] = field(default_factory=list)
