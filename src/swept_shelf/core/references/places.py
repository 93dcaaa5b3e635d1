"""The files of a place: patterns below base folders, followed folder by folder, each folder listed once."""

from __future__ import annotations

import re
import stat
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from fnmatch import translate
from functools import lru_cache

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.base_folders import person_folders
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.near import Near
from swept_shelf.core.references.kind import EVERYWHERE, NAMING, Kind, Place

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
        self.naming: Iterable[str] = ()  # files of settings in which something is named
        self._bases = {p.home: person_folders(machine, p) for p in people}
        self._fitting: dict[tuple[str, str], Names] = {}
        self._joined: dict[str, str] = {}
        self._begun: dict[
            tuple[str, ...], tuple[list[str], list[tuple[str, str]]]
        ] = {}  # folders by the beginning of a pattern

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
        if place.pattern.endswith(NAMING):
            yield from (File(path, place, True) for path in self.naming if self._home_of(path) == home)
            return
        pattern = self.folder(place.pattern, home)
        if not pattern:
            return
        for count, (path, type) in enumerate(self._rows(tuple(pattern.strip("/").split("/")), trouble)):
            if count >= _MOST_FILES:
                trouble(pattern, f"holds more than {_MOST_FILES} files")
                return
            if type == "folder" or (kind.links and type != "link"):
                continue
            named = not place.heeded or re.fullmatch(place.heeded, base(path)) is not None
            yield File(path, place, named and (not place.runs or self._runs(path)))

    def _home_of(self, path: str) -> str:
        return next((home for home in self._bases if within(path, home)), "")

    def _runs(self, path: str) -> bool:
        """Whether it may be started, itself or as what a link leads to."""
        status = self._machine.lstat(path)
        return status is not None and (stat.S_ISLNK(status.st_mode) or bool(status.st_mode & stat.S_IXUSR))

    def _rows(self, parts: tuple[str, ...], trouble: Trouble) -> Iterator[tuple[str, str]]:
        """Paths that fit, links in folders followed, in order; with what each is."""
        last = parts[-1]
        for folder in self._folders(parts[:-1], trouble):
            for name, type in self._fit(folder, last, trouble):
                yield f"{folder}/{name}", type

    def _folders(self, parts: tuple[str, ...], trouble: Trouble) -> list[str]:
        """Folders that fit, and links, which may lead to some; many patterns begin alike."""
        if not parts:
            return [""]
        if parts not in self._begun:
            noted: dict[tuple[str, str], None] = {}
            self._begun[parts] = self._opened(parts, lambda *row: noted.setdefault(row)), list(noted)
        found, not_listed = self._begun[parts]
        for path, reason in not_listed:  # whoever asks is told
            trouble(path, reason)
        return found

    def _opened(self, parts: tuple[str, ...], trouble: Trouble) -> list[str]:
        before = self._folders(parts[:-1], trouble)
        if parts[-1] == "**":
            return [x for folder in before for x in self._all_below(folder, 0, trouble)]
        return [
            f"{folder}/{name}"
            for folder in before
            for name, type in self._fit(folder, parts[-1], trouble)
            if type in ("folder", "link")
        ]

    def _all_below(self, folder: str, depth: int, trouble: Trouble) -> Iterator[str]:
        """A folder and those in it, one after the other."""
        yield folder
        if depth < _DEEPEST:
            for name, _ in self._fit(folder, "**", trouble):
                yield from self._all_below(f"{folder}/{name}", depth + 1, trouble)

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
        if (folder, part) not in self._fitting:
            if folder not in self._joined:
                self._joined[folder] = "\0".join(("", *names, ""))
            self._fitting[folder, part] = _fitting(names, self._joined[folder], part)
        return self._fitting[folder, part]


def _fitting(names: dict[str, str], joined: str, part: str) -> Names:
    """`joined`: the names, each between zeros: most patterns fit nothing in most folders."""
    if part == "**":
        return [row for row in names.items() if row[1] == "folder"]
    if part == "*":
        return list(names.items())
    begin, end, fits = _pattern(part)
    if f"\0{begin}" not in joined or f"{end}\0" not in joined:
        return []
    return [row for row in names.items() if row[0].endswith(end) and fits(row[0])]


@lru_cache(maxsize=1024)
def _pattern(part: str) -> tuple[str, str, Callable[[str], re.Match[str] | None]]:
    """What it begins and ends with, and whether a name fits."""
    plain = re.split(r"[*?\[\]]", part)
    return plain[0], plain[-1], re.compile(translate(part)).match
