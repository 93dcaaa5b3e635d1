"""One package of an RPM database."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Package:
    """`scripts`: what runs before and after it is erased; `several`: whether other versions of it are installed beside it."""

    name: str
    version: str
    architecture: str
    installed: datetime | None
    publisher: str
    homepage: str
    summary: str
    requires: tuple[str, ...]
    provides: tuple[str, ...]
    files: tuple[str, ...]
    scripts: str = ""
    several: bool = False

    @property
    def short(self) -> str:
        return f"{self.name}.{self.architecture}"

    @property
    def full(self) -> str:
        return f"{self.name}-{self.version.partition(':')[2] or self.version}.{self.architecture}"

    @property
    def id(self) -> str:
        """What rpm calls this one and no other."""
        return self.full if self.several else self.short


def called(known: Mapping[str, Package], ref: str, version: str) -> Package | None:
    """The package of that name: of that version, where several are installed; else another one of it, None for none."""
    found = [p for p in _named(known, ref)]
    return next((p for p in found if p.version == version), found[0] if found else None)


def _named(known: Mapping[str, Package], ref: str) -> Iterable[Package]:
    return (p for p in known.values() if ref in (p.short, p.full))
