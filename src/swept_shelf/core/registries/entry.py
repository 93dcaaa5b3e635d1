"""What a registry other than Debian's says of one application; and how such registries are read side by side."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from typing import TYPE_CHECKING

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import spelled, within
from swept_shelf.core.documents.survey import NotRead, Person
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE

if TYPE_CHECKING:
    from swept_shelf.core.tree.walk import Tree

_SECONDS = 10.0  # for one application's own description


@dataclass(frozen=True, slots=True)
class Data:
    """A place that the registry itself gives an application: a person's or the system's data, `kind` as usual."""

    path: str
    person: str
    kind: Kind
    reason: str


@dataclass(frozen=True, slots=True)
class Kept:
    """What a registry keeps though nothing uses it any more: a shared store. `ref`: as the registry calls
    it; `person`: whose installation, or everyone's."""

    kind: str
    ref: str
    name: str
    path: str
    person: str
    clear_by: str


@dataclass(frozen=True, slots=True)
class Registered:
    """One application. `tops`: folders and files that are the program, each whole; `packages`: what goes with it in
    its registry, itself first; `person`: whose installation it is, "" for everyone's."""

    id: str
    name: str
    version: str
    registry: str
    source: str
    tops: tuple[str, ...]
    receipt: str
    type: str = "terminal"
    state: str = "installed"
    summary: str = ""
    publisher: str = ""
    homepage: str = ""
    person: str = ""
    executables: tuple[str, ...] = ()
    launchers: tuple[str, ...] = ()
    data: tuple[Data, ...] = ()
    packages: tuple[str, ...] = ()
    own_packages: tuple[str, ...] = ()
    needed_by: tuple[str, ...] = ()
    why_here: tuple[str, ...] = ()
    asked_for: bool | None = None
    installed_first: datetime | None = None
    installed_last: datetime | None = None
    protected: str | None = None
    reinstallable: bool | None = None
    icon: str = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "id", spelled(self.id))


@dataclass(slots=True)
class Reading:
    """What a reader works on, and what it finds."""

    machine: Machine
    tree: Tree
    people: list[Person]
    found: list[Registered] = field(default_factory=list)
    not_read: list[NotRead] = field(default_factory=list)
    kept: list[Kept] = field(default_factory=list)

    def homes(self) -> Iterator[tuple[Person, str]]:
        return ((p, p.home) for p in self.people)

    def may_declare(self, person: str, path: str) -> bool:
        """Whether a file of `person` may say whose `path` is: what lies in that person's home or is theirs throughout.

        What the system's own files say is not asked; a link is as good as what it stands on."""
        mine = [p for p in self.people if p.name == person]
        if person in ("", EVERYONE) or any(p.uid == 0 for p in mine):
            return True
        return any(within(path, p.home) or self.tree.all_owned_by(path, p.uid) for p in mine)

    def trouble(self, path: str, reason: str) -> None:
        self.not_read.append(NotRead(path, reason))

    def each(self, paths: Iterator[str] | list[str], read: Callable[[str], None]) -> None:
        """Read one after the other; what one cannot give is noted and the rest goes on."""
        for path in paths:
            with fence(path, self.trouble, seconds=_SECONDS):
                try:
                    read(path)
                except (
                    ValueError,
                    KeyError,
                    TypeError,
                    IndexError,
                    AttributeError,
                    RecursionError,
                    OverflowError,
                ) as error:
                    raise CouldNotRead(
                        f"is not as its registry writes it ({type(error).__name__}: {str(error)[:80]})", path
                    ) from None
