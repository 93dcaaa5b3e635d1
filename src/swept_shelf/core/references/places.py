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
_Listed = tuple[str, dict[str, str], str]  # a folder, what stands in it, and the names, each between zeros


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
        # By the beginning of a pattern: the folders that fit, and what stands in each; both with what may not be listed.
        self._begun: dict[tuple[str, ...], tuple[list[str], list[tuple[str, str]]]] = {}
        self._inside: dict[tuple[str, ...], tuple[list[_Listed], list[tuple[str, str]]]] = {}
        self._found: dict[tuple[str, ...], list[tuple[str, str]]] = {}

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

    def _rows(self, parts: tuple[str, ...], trouble: Trouble) -> list[tuple[str, str]]:
        """Paths that fit, links in folders followed, in order; with what each is."""
        inside = self._listed(parts[:-1], trouble)
        if parts not in self._found:
            self._found[parts] = _fitting(inside, parts[-1])
        return self._found[parts]

    def _listed(self, parts: tuple[str, ...], trouble: Trouble) -> list[_Listed]:
        """What stands in each of the folders that fit; one that may not be listed is noted."""
        folders = self._folders(parts, trouble)
        if parts not in self._inside:
            found: list[_Listed] = []
            not_listed = []
            for folder in folders:
                try:
                    names = self._near.listed(folder)
                except CouldNotRead as error:
                    if error.reason not in _NOTHING:
                        not_listed.append((folder, error.reason))
                else:
                    found.append((folder, names, "\0".join(("", *names, ""))))
            self._inside[parts] = found, not_listed
        inside, not_listed = self._inside[parts]
        for path, reason in not_listed:  # whoever asks is told
            trouble(path, reason)
        return inside

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
        if parts[-1] == "**":
            before = self._folders(parts[:-1], trouble)
            return [x for folder in before for x in self._all_below(folder, 0, trouble)]
        return [path for path, type in self._rows(parts, trouble) if type in ("folder", "link")]

    def _all_below(self, folder: str, depth: int, trouble: Trouble) -> Iterator[str]:
        """A folder and those in it, one after the other."""
        yield folder
        if depth >= _DEEPEST:
            return
        try:
            names = self._near.listed(folder)
        except CouldNotRead as error:
            if error.reason not in _NOTHING:
                trouble(folder, error.reason)
            return
        for name, type in names.items():
            if type == "folder":
                yield from self._all_below(f"{folder}/{name}", depth + 1, trouble)


def _fitting(inside: list[_Listed], part: str) -> list[tuple[str, str]]:
    """(path, what it is) of what fits one part of a pattern. Most patterns fit nothing in most folders."""
    if not any(c in part for c in "*?["):
        return [(f"{folder}/{part}", names[part]) for folder, names, _ in inside if part in names]
    if part == "*":
        return [(f"{folder}/{name}", type) for folder, names, _ in inside for name, type in names.items()]
    begin, end, fits = _pattern(part)
    first, last = f"\0{begin}", f"{end}\0"
    return [
        (f"{folder}/{name}", names[name])
        for folder, names, joined in inside
        if first in joined and last in joined
        for name in (_ending(joined, end) if end else names)
        if fits(name)
    ]


def _ending(joined: str, end: str) -> Iterator[str]:
    """Of names, each between zeros, those that end so. To ask each of them would take several times as long."""
    return (before[before.rfind("\0") + 1 :] + end for before in joined.split(f"{end}\0")[:-1])


@lru_cache(maxsize=1024)
def _pattern(part: str) -> tuple[str, str, Callable[[str], re.Match[str] | None]]:
    """What it begins and ends with, and whether a name fits."""
    plain = re.split(r"[*?\[\]]", part)
    return plain[0], plain[-1], re.compile(translate(part)).match
