"""Content made by a person: recognised by type and by the folder's own name. Never ticked by default."""

from __future__ import annotations

from collections.abc import Iterable
from urllib.parse import unquote, urlsplit

import numpy as np

from swept_shelf.core.belongings.made_by_people import FOLDERS, PROFILES, TYPES
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.grammars.xbel import opened_with
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.walk import Tree

_ENOUGH = 2
_NAMES = {name: number for number, names in enumerate(PROFILES) for name in names}


def opened_documents(machine: Machine, tree: Tree, people: Iterable[Person]) -> frozenset[str]:
    """Files that people opened, by the lists of documents that their desktops keep."""
    found = set()
    for person in people:
        path = f"{person.home}/.local/share/recently-used.xbel"
        try:
            for entry in opened_with(machine.text(path)) if path in tree else ():
                parts = urlsplit(entry.href)
                if parts.scheme == "file":
                    found.add(unquote(parts.path, errors="surrogateescape"))
        except (CouldNotRead, ValueError):
            continue  # named by the references
    return frozenset(found)


# Folders in a program's own place that hold what somebody made with it, whatever lies beside it.
_SAVED = frozenset(
    {
        "saves",
        "savegames",
        "savedgames",
        "saved games",
        "savegame",
        "save",
        "worlds",
        "screenshots",
        "captures",
        "replays",
    }
)
_USERS = "/drive_c/users"  # of a Windows prefix: a home each


def kept_inside(tree: Tree, top: str) -> list[str]:
    """Outermost places inside a program's folder that are people's own: saves, and the homes of a Windows prefix."""
    found: list[str] = []
    for i in tree.slice(top):
        path = tree.paths[i]
        if not tree.is_folder[i] or path == top or (found and path.startswith(found[-1] + "/")):
            continue
        home = path.rpartition("/")[0].endswith(_USERS)
        if (home or base(path).lower() in _SAVED) and tree.files_below(path):
            found.append(path)
    return found


class Personal:
    """Which files of a walk are a person's own work: by type, by the name of a folder above them, or because somebody `opened`
    them as documents. `profiles`: folders with a person's passwords, history and the like."""

    def __init__(self, tree: Tree, opened: frozenset[str] = frozenset()) -> None:
        self._tree = tree
        own = np.zeros(len(tree.paths), dtype=bool)
        likely = [i for i, p in enumerate(tree.paths) if p[-8:].rpartition(".")[2].lower() in TYPES]
        own[[i for i in likely if _type_of(tree.paths[i]) in TYPES]] = True
        own[[tree.where[p] for p in opened if p in tree]] = True
        own &= tree.is_file
        self._folders = np.flatnonzero(tree.is_folder)
        named = (
            [i for i in self._folders.tolist() if base(tree.paths[i]).lower() in FOLDERS]
            if len(tree.paths)
            else []
        )
        for i in named:
            own[i + 1 : int(tree.stops[i])] = True
        self._documents = own.copy()
        profiles = self._profiles(tree)
        self.profiles = frozenset(tree.paths[i] for i in profiles)
        for i in profiles:
            own[i + 1 : int(tree.stops[i])] = True
        own &= ~tree.is_folder
        self._own = own
        self._sums = np.concatenate([[0], np.cumsum(own)])
        self._files = np.concatenate([[0], np.cumsum(~tree.is_folder)])

    @staticmethod
    def _profiles(tree: Tree) -> list[int]:
        """Positions of folders that hold a person's profile."""
        seen: dict[tuple[str, int], int] = {}
        for path in [p for p in tree.paths if p.rpartition("/")[2] in _NAMES]:
            above, _, name = path.rpartition("/")
            seen[above, _NAMES[name]] = seen.get((above, _NAMES[name]), 0) + 1
        enough = {above for (above, number), n in seen.items() if n >= (3 if number == 2 else _ENOUGH)}
        return [i for above in enough if (i := tree.where.get(above)) is not None]

    def documents_in(self, path: str) -> bool:
        """Whether anything there is a person's by its type, by a folder's name, or by having been opened as a document."""
        part = self._tree.slice(path)
        return bool(self._documents[part.start : part.stop].any())

    def parts(self, top: str) -> list[str]:
        """Outermost paths at or below `top` that hold a person's own work only; of `top` itself, where it is a folder, its parts."""
        part = self._tree.slice(top)
        if not part or self._sums[part.stop] == self._sums[part.start]:
            return []
        if not self._tree.is_folder[part.start]:
            return [top]
        found: list[str] = []
        inside = 0
        stops = self._tree.stops
        marks = np.flatnonzero(self._own[part.start : part.stop]) + part.start
        for i in sorted({*marks.tolist(), *self._whole(part)}):
            if i >= inside:
                found.append(self._tree.paths[i])
                inside = int(stops[i])
        return found

    def _whole(self, part: range) -> list[int]:
        """Folders below that hold nothing but a person's own work."""
        low, high = np.searchsorted(self._folders, (part.start + 1, part.stop))
        folders = self._folders[low:high]
        stops = self._tree.stops[folders]
        count, own = self._files[stops] - self._files[folders], self._sums[stops] - self._sums[folders]
        return folders[(count == own) & (own > 0)].tolist()  # type: ignore[no-any-return]


def personal_parts(tree: Tree, top: str, opened: frozenset[str] = frozenset()) -> list[str]:
    """Personal.parts for one question."""
    return Personal(tree, opened).parts(top)


def _type_of(path: str) -> str:
    """The ending of a file's name, in lower case; "" where there is none."""
    name, dot, ending = path.rpartition(".")
    return ending.lower() if dot and len(ending) < 8 and name and not name.endswith("/") else ""
