"""What every part of a survey works on: the machine, its walk, its people and volumes, and its package registry."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from swept_shelf.core.applications.kernels import is_image, made_for, release_of
from swept_shelf.core.belongings.ownership import Ownership
from swept_shelf.core.documents.survey import Person, Volume
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.original import info_files
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.tree.walk import Tree


@dataclass(frozen=True, slots=True)
class Before:
    """An earlier survey of the same machine: its folder, and since when what it remembers was really read."""

    folder: str
    since: datetime


@dataclass(frozen=True, slots=True)
class Ground:
    """`folder`: the survey's own; `before`: an earlier one's, from which what has not changed may be taken."""

    machine: Machine
    tree: Tree
    people: list[Person]
    volumes: list[Volume]
    registry: DebianRegistry | None
    ownership: Ownership
    info: dict[str, list[str]]
    folder: str = ""
    before: str = ""

    def info_files(self, name: str) -> list[str]:
        """The files that the package registry itself keeps of a package, and what is made and taken away for a kernel alone."""
        if self.registry is None:
            return []
        made = [made_for(release_of(name))] if is_image(name) else []
        return [*info_files(self.machine, self.registry.packages[name], self.info), *made]

    def bytes_of(self, paths: Iterable[str]) -> int:
        """Allocated bytes that come back when all these paths go."""
        where = map(self.tree.where.get, paths)
        return self.tree.returning(np.array([i for i in where if i is not None], dtype=np.int64))
