"""One Debian package as its database says."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Conffile:
    path: str
    md5: str
    obsolete: bool


@dataclass(frozen=True, slots=True)
class Package:
    """`name` carries `:arch` only where dpkg prints it so; `files` as listed, links in folders not followed.

    `said_bytes`: the size that whoever built it wrote into it, which is seldom the true one."""

    name: str
    version: str
    architecture: str
    want: str
    status: str
    error: str
    section: str
    priority: str
    essential: bool
    protected: bool
    source: str
    homepage: str
    maintainer: str
    summary: str
    depends: str
    recommends: str
    suggests: str
    provides: str
    conffiles: tuple[Conffile, ...]
    changed_at: datetime | None
    said_bytes: int
    files: tuple[str, ...]

    @property
    def installed(self) -> bool:
        """Any state in which its files are on the disk."""
        return self.status not in ("not-installed", "config-files")

    @property
    def plain_name(self) -> str:
        return self.name.split(":", 1)[0]


@dataclass(frozen=True, slots=True)
class HistoryEvent:
    """One line of dpkg.log: install, upgrade, remove or purge."""

    at: datetime
    action: str
    package: str
    version: str
    path: str
    line: int


@dataclass(frozen=True, slots=True)
class Asked:
    """Who had apt install a package, when and with which command line."""

    at: datetime
    person: str
    command: str
    path: str


@dataclass(frozen=True, slots=True)
class DebianRegistry:
    """`asked` by plain package name; `offered`: what the configured sources have, None where that is not known; `commands`: the
    command lines that its tools wrote down, with when they were given; `diverted`: see diversions.py; `required`: what apt keeps for its priority."""

    packages: dict[str, Package]
    automatic: frozenset[str]
    history: tuple[HistoryEvent, ...]
    asked: dict[str, Asked]
    offered: frozenset[str] | None
    keeps_recommends: bool
    keeps_suggests: bool
    never_remove: tuple[str, ...]
    problems: tuple[tuple[str, str], ...]
    commands: tuple[tuple[datetime, str], ...] = ()
    diverted: dict[str, tuple[str, str]] = field(default_factory=dict)
    required: frozenset[str] = frozenset()

    def with_texts_of(self, texts_of: Callable[[tuple[str, ...]], tuple[str, ...]]) -> DebianRegistry:
        """The same, with `texts_of` the paths that are listed: where somebody holds the same text already, nobody keeps it twice."""
        packages = {name: replace(p, files=texts_of(p.files)) for name, p in self.packages.items()}
        return replace(self, packages=packages)
