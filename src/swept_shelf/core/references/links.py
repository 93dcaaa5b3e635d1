"""Links that lead to an application: where each leads, step by step, and whom their own names and paths mean."""

from __future__ import annotations

from swept_shelf.core.documents.command_folders import COMMAND_FOLDERS
from swept_shelf.core.documents.paths import base, parent, plain, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.near import Near
from swept_shelf.core.references.pointees import telling_word

_LONGEST = 8  # links that lead to each other
_SEARCHED = ("/bin", "/sbin", "/games")  # folders in which shells search


class Links:
    """`words`: without one of which a text names none of the links that were noted."""

    def __init__(self, machine: Machine, near: Near, people: list[Person]) -> None:
        self._machine, self._near, self._people = machine, near, people
        self._chains: dict[str, tuple[str, tuple[str, ...]]] = {}
        self._whose: dict[str, str] = {}  # by path
        self._names: dict[tuple[str, str], str] = {}  # by home and name, where shells search the folder
        self.words: set[str] = set()

    def chain(self, path: str) -> tuple[str, tuple[str, ...]]:
        """What stands in a link ("" for what is none), and the paths to which it leads, one link after the other."""
        if path not in self._chains:
            first = target = self._near.readlink(path)
            here, steps = path, list[str]()
            while target and len(steps) < _LONGEST:
                here = target if target.startswith("/") else plain(f"{parent(here)}/{target}")
                steps.append(here)
                target = self._near.readlink(here)
            self._chains[path] = first, tuple(steps)
        return self._chains[path]

    def note(self, path: str, id: str) -> None:
        """Whoever names the link means what it leads to. By its bare name only those whose shells search its folder do, and only
        where no program of that name stands in the system's own folders."""
        self._whose[path] = id
        name = base(path)
        self.words.add(telling_word(name))
        if not parent(path).endswith(_SEARCHED):
            return
        if not any(
            f"{folder}/{name}" != path and self._machine.exists(f"{folder}/{name}")
            for folder in COMMAND_FOLDERS
        ):
            home = next((p.home for p in self._people if within(path, p.home)), "")
            self._names.setdefault((home, name), id)

    def whose(self, value: str, home: str) -> str:
        """Whom the path or the bare name of a link means, said by a person with this home or ("") by the system; else ""."""
        return (
            self._whose.get(value, "")
            or self._names.get((home, value), "")
            or self._names.get(("", value), "")
        )
