"""One trace of use, and what every kind of sign works on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import tzinfo
from functools import cached_property

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.documents.command_folders import COMMAND_FOLDERS
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Belonging, NotRead, Person, Reference, Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.machine.zone import zone
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.tree.walk import Tree
from swept_shelf.core.use.logins import Logins
from swept_shelf.core.use.schedule_times import Schedule

DAY = 86400
GOOD, FAIR, WEAK = "good", "fair", "weak"
FUTURE, ZERO, OURS = "lies in the future", "is zero", "falls into earlier work of this program"
_COMM = 15  # characters of a program's name that the kernel keeps


@dataclass(frozen=True, slots=True)
class Trace:
    """`at`, `until`: seconds since 1970; `until`: the other end where only a span is known. `aside`: why it does not count."""

    app: str
    kind: str
    at: int
    person: str
    source: str
    trust: str
    until: int | None = None
    line: int = 0
    doubt: str = ""
    aside: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Subject:
    """One application as its use is looked for. `changed`: when its packages were installed or upgraded, in seconds."""

    app: Known
    files: list[str]
    belongings: list[Belonging]
    references: list[Reference]
    changed: tuple[int, ...] = ()

    @property
    def id(self) -> str:
        return self.app.id

    @property
    def background(self) -> bool:
        return self.app.type == "service"

    @property
    def installed(self) -> int | None:
        """When it first came, where that was written down."""
        return int(self.app.installed_first.timestamp()) if self.app.installed_first else None


@dataclass
class Look:
    """What signs are read from, and what was found. `changes`: when the package that lists a path was installed or
    upgraded, in seconds; `unasked`: per application, programs of it that the machine starts by itself, and how, with
    the `schedules` that do; `commands`: command lines whose time a registry's tool wrote down; `ours`: spans
    of our own earlier work on this machine, in seconds."""

    machine: Machine
    tree: Tree
    people: list[Person]
    volumes: list[Volume]
    subjects: list[Subject]
    to: Pointees
    processes: list[Process]
    logins: Logins
    now: int
    changes: Callable[[str], tuple[int, ...]] = lambda path: ()
    ours: tuple[tuple[int, int], ...] = ()
    commands: tuple[tuple[int, str], ...] = ()
    traces: list[Trace] = field(default_factory=list)
    kinds: dict[str, None] = field(default_factory=dict)
    not_read: list[NotRead] = field(default_factory=list)
    journal_since: int | None = None
    unasked: dict[str, dict[str, str]] = field(default_factory=dict)
    schedules: dict[str, list[Schedule]] = field(default_factory=dict)
    _commands: dict[str, str] = field(default_factory=dict)

    def saw(self, *kinds: str) -> None:
        """Something of these kinds stands on this machine and was read."""
        self.kinds |= dict.fromkeys(kinds)

    def trouble(self, path: str, reason: str) -> None:
        self.not_read.append(NotRead(path, reason))

    def timely(self, at: int) -> str:
        """Why no time of this machine can be so; "" where it can."""
        if at <= 0:
            return ZERO
        if at > self.now + 60:
            return FUTURE
        return OURS if any(a <= at <= b for a, b in self.ours) else ""

    def changed(self, subject: Subject, path: str) -> tuple[int, ...]:
        """When a file of an application came or was upgraded, as its registry knows."""
        return self.changes(path) or (() if subject.app.package else subject.changed)

    def person(self, uid: int) -> str:
        return next((p.name for p in self.people if p.uid == uid), "")

    def is_person(self, uid: int) -> bool:
        return uid >= 1000 and bool(self.person(uid))

    def command(self, word: str) -> str:
        """Which application a word in command position starts, also through links such as alternatives(8) makes."""
        if word not in self._commands:
            self._commands[word] = self.to.program(word) or self._linked(word)
        return self._commands[word]

    def _linked(self, word: str) -> str:
        paths = (
            [word]
            if word.startswith("/")
            else [f"{f}/{word}" for f in COMMAND_FOLDERS]
            if "/" not in word
            else []
        )
        for path in paths:
            here = self.tree.real(path)
            for _ in range(8):
                if self.tree.kind(here) != "link":
                    break
                target = self.tree.target(here)
                here = self.tree.real(
                    target if target.startswith("/") else f"{here.rsplit('/', 1)[0]}/{target}"
                )
            if here != path and (id := self.to.program(here)):
                return id
        return ""

    def program(self, path: str, comm: str = "") -> str:
        """Which application a program file is, else what the kernel's short name of a process means."""
        return (self.command(path) if path.startswith("/") else "") or self.comm(comm)

    def comm(self, name: str) -> str:
        return self.comms.get(name[:_COMM], "") if name else ""

    @cached_property
    def comms(self) -> dict[str, str]:
        """The kernel's short names of programs that only one application has, and no program of the system's beside it."""
        found: dict[str, str] = {}
        for pointee in self.to.all:
            for path in (*pointee.programs, *pointee.commands):
                name = base("/" + path)[:_COMM]
                found[name] = "" if found.get(name, pointee.id) != pointee.id else pointee.id
        return {name: id for name, id in found.items() if id and not self._is_anothers(name, id)}

    def _is_anothers(self, name: str, id: str) -> bool:
        """Whether shells find another program of that name than the application's."""
        places = [f"{folder}/{name}" for folder in COMMAND_FOLDERS] if len(name) < _COMM else []
        return any(self.tree.kind(self.tree.real(p)) and self.command(p) != id for p in places)

    def launched(self, id: str) -> str:
        """Which application a launcher's id means, with or without its ending."""
        return self.to.launcher(id if id.endswith(".desktop") else f"{id}.desktop")

    @cached_property
    def system_since(self) -> int:
        """When this system came to be, by files that are written once."""
        found = [
            s.st_mtime
            for p in ("/etc/machine-id", "/etc/hostname", "/lost+found")
            if (s := self.machine.lstat(p))
        ]
        return int(min(found, default=0))

    @cached_property
    def zone(self) -> tzinfo:
        return zone(self.machine)

    @cached_property
    def by_id(self) -> dict[str, Subject]:
        return {s.id: s for s in self.subjects}
