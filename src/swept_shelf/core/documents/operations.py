"""What is to be changed, as data. Only `carry` performs operations."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.survey import Identity

STARTS_IT = "starts it by itself"  # why a file goes, where its application stays
LEFT_EMPTY = "left empty by this order"  # why a folder goes, once nothing is in it


@dataclass(frozen=True, slots=True)
class KeepOriginal:
    """Rebuild the package's file from the root alone, and check it, before its registry removes it. `as_it_is`: of a broken package, with
    what there is of it, and never to run its scripts."""

    line: str
    package: str
    version: str
    bytes: int
    rights: str
    as_it_is: bool = False
    do: Literal["keep_original"] = "keep_original"


@dataclass(frozen=True, slots=True)
class RemovePackages:
    """Ask the registry for the removal that spares configuration. `without_scripts`: packages whose own scripts are set aside first,
    the last resort for what is broken or was refused."""

    line: str
    registry: str
    packages: list[str]
    bytes: int
    rights: str
    without_scripts: list[str] = field(default_factory=list)
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
class MoveData:
    """Copy a folder to `to`, below the folder `into` of another volume, and have a link stand in its place."""

    line: str
    path: MachinePath
    identity: Identity
    into: MachinePath
    to: MachinePath
    bytes: int
    files: int
    volume: str
    rights: str
    do: Literal["move_data"] = "move_data"


@dataclass(frozen=True, slots=True)
class Cut:
    """A piece of a file that goes: characters `start` to `end` of the file as it was surveyed, which stand on `line`.

    `whole`: the span of the line or element that goes in its stead once all its `pieces` go; `separator` stands between
    pieces that are a list; `put` stands in its place afterwards. So the cuts of any number of lines of an order can be done together, in any order."""

    line: int
    start: int
    end: int
    whole_start: int
    whole_end: int
    pieces: int = 1
    separator: str = ""
    put: str = ""


@dataclass(frozen=True, slots=True)
class EditLines:
    """Cut these pieces out; the rest stays byte for byte, the old file stands on the shelf.

    `identity` and `sha256` are of the file as it was surveyed; `kind` is the kind of reference that the file holds,
    `length` its size in bytes, `pieces` the SHA-256 of what each cut takes out (a text may hold secrets)."""

    line: str
    path: MachinePath
    identity: Identity
    sha256: str
    kind: str
    cuts: list[Cut]
    length: int
    rights: str
    why: str
    volume: str
    pieces: list[str] = field(default_factory=list)
    do: Literal["edit_lines"] = "edit_lines"


@dataclass(frozen=True, slots=True)
class Uninstall:
    """Have a registry of whole applications remove some, and keep them in its own store until the shelf is emptied.

    `place`: its installation, `person`: whose, "" for everyone's; `refs`: as it calls them; `commits`: which of each stands there;
    `paths`: what it takes away."""

    line: str
    registry: str
    place: MachinePath
    person: str
    refs: list[str]
    commits: list[str]
    paths: list[MachinePath]
    bytes: int
    volume: str
    rights: str
    do: Literal["uninstall"] = "uninstall"


@dataclass(frozen=True, slots=True)
class EndPrograms:
    """Have what runs of an application end, before anything of it goes: a service by its manager, anything else by being asked
    (SIGTERM); `hard`: ended in any case where it does not. `programs`: by which it is known."""

    line: str
    name: str
    programs: list[MachinePath]
    hard: bool
    rights: str
    do: Literal["end_programs"] = "end_programs"


Table = Literal["alternatives", "diversions", "overrides"]


@dataclass(frozen=True, slots=True)
class TakeRow:
    """Have the registry's own tool take a row of one of its tables: a choice of an alternative, a diversion, an override of
    owner and mode. `row` is the row as it was surveyed (registries/debian/rows.py), `path` the file that it stands in."""

    line: str
    path: MachinePath
    table: Table
    row: list[str]
    rights: str
    why: str
    volume: str
    do: Literal["take_row"] = "take_row"


WhatIsMade = Literal["mime", "icons", "schemas"]


@dataclass(frozen=True, slots=True)
class MakeAnew:
    """Make anew what a tool of the system made, in the folder `path`, of parts that went: `made` says what (machine/made_files.py),
    `length` how many bytes of it stand there."""

    line: str
    path: MachinePath
    made: WhatIsMade
    length: int
    volume: str
    rights: str
    do: Literal["make_anew"] = "make_anew"


Operation = (
    KeepOriginal
    | RemovePackages
    | PurgePackages
    | Shelve
    | MoveData
    | EditLines
    | TakeRow
    | Uninstall
    | EndPrograms
    | MakeAnew
)


@dataclass(frozen=True, slots=True)
class LeftAlone:
    path: MachinePath
    why: str


@dataclass(frozen=True, slots=True)
class Plan:
    """Every operation of an order in the order it will be done, and what is left alone on purpose."""

    operations: list[Operation] = field(default_factory=list)
    left_alone: list[LeftAlone] = field(default_factory=list)
