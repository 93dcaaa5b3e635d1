"""The files of a place: patterns below base folders, followed folder by folder, each folder listed once."""

from __future__ import annotations

import re
import stat
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fnmatch import translate
from functools import lru_cache

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.base_folders import person_folders
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.near import Near
from swept_shelf.core.references.kind import EVERYWHERE, Kind, Place

_DEEPEST, _MOST_FILES = 6, 5000  # of one pattern: folders below each other, files
_NOTHING = (
    "is not there",
    "is a loop of links",
    "not a directory",
)  # where nothing can be listed, whoever looks
Trouble = Callable[[str, str], None]
Names = list[tuple[str, str]]


@dataclass(frozen=True, slots=True)
class File:
    """`heeded`: what reads there reads it, by its name and rights."""

    path: str
    place: Place
    heeded: bool


class Places:
    """`links`: every link of the machine, for the place that is everywhere."""

    def __init__(self, machine: Machine, near: Near, people: list[Person], links: list[str]) -> None:
        self._machine, self._near, self._links = machine, near, links
        self._bases = {p.home: person_folders(machine, p) for p in people}
        self._fitting: dict[tuple[str, str], Names] = {}
        self._endings: dict[str, dict[str, Names]] = {}

    def folder(self, pattern: str, home: str) -> str:
        """A pattern with the person's own base folder in the place of its sign; "" where it has none."""
        if not pattern.startswith("~"):
            return pattern
        top, slash, rest = pattern.partition("/")
        where = self._bases[home].get(top, "")
        return f"{where}{slash}{rest}" if where else ""

    def stands(self, pattern: str, home: str, name: str) -> bool:
        """Whether something of that name is in a folder."""
        folder = self.folder(pattern, home)
        return bool(folder) and "*" not in folder and self._machine.exists(f"{folder}/{name}")

    def files(self, kind: Kind, place: Place, home: str, trouble: Trouble) -> Iterator[File]:
        """What stands there and fits; folders that may not be listed, and more than are looked at, are `trouble`."""
        if place.pattern == EVERYWHERE:
            yield from (File(path, place, True) for path in self._links)
            return
        pattern = self.folder(place.pattern, home)
        if not pattern:
            return
        for count, (path, type) in enumerate(self._below("", pattern.strip("/").split("/"), 0, trouble)):
            if count >= _MOST_FILES:
                trouble(pattern, f"holds more than {_MOST_FILES} files")
                return
            if type == "folder" or (kind.links and type != "link"):
                continue
            named = not place.heeded or re.fullmatch(place.heeded, base(path)) is not None
            yield File(path, place, named and (not place.runs or self._runs(path)))

    def _runs(self, path: str) -> bool:
        """Whether it may be started, itself or as what a link leads to."""
        status = self._machine.lstat(path)
        return status is not None and (stat.S_ISLNK(status.st_mode) or bool(status.st_mode & stat.S_IXUSR))

    def _below(self, here: str, parts: list[str], depth: int, trouble: Trouble) -> Iterator[tuple[str, str]]:
        """Paths that fit, links in folders followed, in order; with what each is."""
        part, rest = parts[0], parts[1:]
        if part == "**":
            yield from self._below(here, rest, depth, trouble)
            if depth < _DEEPEST:
                for name, type in self._fit(here, "**", trouble):
                    if type == "folder":
                        yield from self._below(f"{here}/{name}", parts, depth + 1, trouble)
            return
        for name, type in self._fit(here, part, trouble):
            if not rest:
                yield f"{here}/{name}", type
            elif type in ("folder", "link"):
                yield from self._below(f"{here}/{name}", rest, depth, trouble)

    def _fit(self, folder: str, part: str, trouble: Trouble) -> Names:
        """What in a folder fits one part of a pattern ("**": the folders in it); one that may not be read is noted."""
        try:
            names = self._near.listed(folder)
        except CouldNotRead as error:
            if error.reason not in _NOTHING:
                trouble(folder, error.reason)
            return []
        if not any(c in part for c in "*?["):
            return [(part, names[part])] if part in names else []
        if part[:2] == "*." and not any(c in part[1:] for c in "*?["):
            return [row for row in self._ending(folder, names, part) if row[0].endswith(part[1:])]
        if (folder, part) not in self._fitting:
            self._fitting[folder, part] = _fitting(names, part)
        return self._fitting[folder, part]

    def _ending(self, folder: str, names: dict[str, str], part: str) -> Names:
        """Those whose last ending is the pattern's: most patterns are for an ending, and a folder is sorted by them once."""
        if folder not in self._endings:
            found = self._endings[folder] = {}
            for row in names.items():
                _, dot, end = row[0].rpartition(".")
                if dot:
                    found.setdefault(end, []).append(row)
        return self._endings[folder].get(part.rpartition(".")[2], [])


def _fitting(names: dict[str, str], part: str) -> Names:
    if part == "**":
        return [row for row in names.items() if row[1] == "folder"]
    if part == "*":
        return list(names.items())
    fits = _pattern(part).match
    return [row for row in names.items() if fits(row[0])]


@lru_cache(maxsize=1024)
def _pattern(part: str) -> re.Pattern[str]:
    return re.compile(translate(part))
