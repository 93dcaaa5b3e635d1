"""What is known while a survey is still being taken, for whoever waits for it: a small survey, written anew with each part."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path

from swept_shelf import __version__
from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.documents.survey import (
    SURVEY_FORMAT,
    SURVEY_VERSION,
    Application,
    Evidence,
    IndexFile,
    Kinds,
    LeftBehind,
    Person,
    Survey,
    SystemPart,
    Volume,
)
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.core.documents.wire import json_parts
from swept_shelf.core.machine.facts import machine_facts, rights
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.survey.entry import bare
from swept_shelf.core.survey.ground import Ground

SO_FAR = "so-far.json"


@dataclass(frozen=True, slots=True)
class Teller:
    """Writes `folder`/so-far.json and calls `tell` with how much is known by then. Whoever does not wait has no `tell`."""

    folder: str
    machine: Machine
    began: datetime
    volumes: list[Volume]
    people: list[Person]
    tell: Callable[[SoFar], None] | None

    def registered(self, apps: Iterable[Known], registry: DebianRegistry) -> None:
        """Before a single folder was read."""
        self._write(SoFar.REGISTERED, (_program(a, _said(a, registry)) for a in apps))

    def sized(self, apps: Iterable[Known], files: dict[str, list[str]], ground: Ground) -> None:
        self._write(SoFar.SIZED, (_program(a, ground.bytes_of(files[a.id])) for a in apps))

    def all_but_use(self, apps: list[Application], left: list[LeftBehind]) -> None:
        self._write(SoFar.BELONGINGS, apps, left)

    def _write(self, known: SoFar, apps: Iterable[Application], left: Iterable[LeftBehind] = ()) -> None:
        """Where nobody waits, nothing of `apps` is made."""
        if self.tell is None:
            return
        survey = Survey(
            format=SURVEY_FORMAT,
            version=SURVEY_VERSION,
            id="",
            surveyed_at=self.began,
            finished_at=self.machine.now(),
            complete=False,
            tool=f"swept-shelf {__version__}",
            rights=rights(),
            index=IndexFile("", ""),
            machine=machine_facts(self.machine),
            volumes=self.volumes,
            people=self.people,
            evidence=Evidence(""),
            system=SystemPart([], 0),
            applications=list(apps),
            left_behind=list(left),
            shared_stores=[],
            not_read=[],
            so_far=known,
        )
        new = Path(self.folder) / f"{SO_FAR}.new"
        with open(new, "wb") as out:
            out.writelines(json_parts(survey))
        os.replace(new, new.with_name(SO_FAR))
        self.tell(known)


def _program(app: Known, size: int) -> Application:
    return replace(bare(app), bytes=Kinds(program=size), comes_back=size)


def _said(app: Known, registry: DebianRegistry) -> int:
    return sum(p.said_bytes for n in app.own_packages if (p := registry.packages.get(n)))
