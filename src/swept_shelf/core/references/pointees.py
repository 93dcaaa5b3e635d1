"""What can be pointed at: the names and places of applications, looked up by how something points."""

from __future__ import annotations

import re
from collections import ChainMap
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, fields
from functools import cached_property
from urllib.parse import unquote, urlsplit

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.kind import By, Target


@dataclass(frozen=True, slots=True)
class Pointee:
    """One application as others point at it; all lists may be empty."""

    id: str
    commands: tuple[str, ...] = ()
    programs: tuple[str, ...] = ()
    folders: tuple[str, ...] = ()
    launchers: tuple[str, ...] = ()
    buses: tuple[str, ...] = ()
    units: tuple[str, ...] = ()
    packages: tuple[str, ...] = ()
    accounts: tuple[str, ...] = ()
    libraries: tuple[str, ...] = ()
    names: tuple[str, ...] = ()

    def as_names(self) -> dict[str, list[str]]:
        """All of them by kind, as a survey keeps them: a clearance looks when the application is gone."""
        return {name: list(getattr(self, name)) for name in NAMES}


def pointee_from(id: str, names: Mapping[str, Iterable[str]]) -> Pointee:
    """The same again."""
    return Pointee(id, **{name: tuple(names.get(name, ())) for name in NAMES})


NAMES = tuple(f.name for f in fields(Pointee) if f.name != "id")


class Pointees:
    """Look-ups over all of them. A word that two of them share points at nobody. `listed`: application of a path that its
    packages list."""

    def __init__(self, pointees: Iterable[Pointee], listed: Mapping[str, str] | None = None) -> None:
        self.all = list(pointees)
        self._by = {
            name: _unique((value, p.id) for p in self.all for value in getattr(p, name)) for name in NAMES
        }
        self.listed: Mapping[str, str] = listed or ChainMap()
        self._asked: dict[By, Callable[[str], str]] = {
            By.COMMAND: self.program,
            By.PATH: self.path,
            By.ADDRESS: self.address,
            By.LAUNCHER: self.launcher,
            By.BUS: self.bus,
            By.UNIT: self.unit,
            By.PACKAGE: lambda name: self._by["packages"].get(name.split(":")[0], ""),
            By.ACCOUNT: lambda name: self._by["accounts"].get(name, ""),
            By.LIBRARY: lambda name: self._by["libraries"].get(base("/" + name), ""),
            By.NAME: lambda name: self._by["names"].get(name, ""),
        }

    @cached_property
    def words(self) -> set[str]:
        """Of every name and place one word, without which no text can name it."""
        texts = {value for p in self.all for name in NAMES for value in getattr(p, name)}
        return self._words_of_listed | {telling_word(t) for t in texts}

    @cached_property
    def _words_of_listed(self) -> set[str]:
        return {telling_word(t) for t in set(map(base, self.listed))}

    def of_the_same(self, pointees: Iterable[Pointee]) -> Pointees:
        """Look-ups over others, with the same listed paths."""
        others = Pointees(pointees, self.listed)
        others._words_of_listed = self._words_of_listed  # which takes a while
        return others

    def whose(self, target: Target, home: str = "") -> str:
        """Whom it points at; "" for nobody, or for several. `home`: what ~ means in this file."""
        return self._asked[target.by](spelled_out(target.value, home))

    def program(self, word: str) -> str:
        """Whom a word in command position starts: a path of a program, or its bare command name."""
        if word.startswith("/"):
            return self.path(word)
        return self._by["commands"].get(word, "") if "/" not in word else ""

    def path(self, path: str) -> str:
        """Whose program, listed file or folder's content an absolute path is."""
        if not path.startswith("/"):
            return ""
        if path.startswith(("/bin/", "/sbin/", "/lib/", "/lib64/")):
            return self._exactly(path) or self.path("/usr" + path)
        return self._exactly(path) or self.place(path)

    def _exactly(self, path: str) -> str:
        return self._by["programs"].get(path, "") or self.listed.get(path, "")

    def lists(self, path: str) -> str:
        """Whose packages list the path."""
        return self.listed.get(path, "")

    def place(self, path: str) -> str:
        """In whose folder an absolute path lies; a relative one lies nowhere."""
        if not path.startswith("/"):
            return ""
        folders = self._by["folders"]
        here = path.rstrip("/") or "/"
        while here != "/":
            if here in folders:
                return folders[here]
            here = parent(here)
        return ""

    def launcher(self, id: str) -> str:
        return self._by["launchers"].get(id, "")

    def bus(self, name: str) -> str:
        return self._by["buses"].get(name, "")

    def unit(self, name: str) -> str:
        """A unit, also an instance of a template (systemd.unit(5))."""
        units = self._by["units"]
        return units.get(name, "") or units.get(re.sub(r"@[^.]*\.", "@.", name), "")

    def address(self, href: str) -> str:
        """Whose folder or program a file: address leads to."""
        parts = urlsplit(href)
        if parts.scheme != "file":
            return ""
        return self.path(unquote(parts.path, errors="surrogateescape"))


_WORD = re.compile(r"[^\W_]+")


_GENERAL = re.compile(
    r"\.(desktop|service|socket|timer|target|path|mount)$"
)  # often left out where it is named, and in every text


def telling_word(name: str) -> str:
    """Of a name or a place the word without which no text can name it: of what it is called itself the longest, for what lies above
    it stands in every other text."""
    called = _GENERAL.sub("", base(f"/{name}"))
    return _longest(called) or _longest(name)


def _longest(text: str) -> str:
    return max(_WORD.findall(text.lower()), key=len, default="")


def words_in(text: str) -> set[str]:
    """Its words as `Pointees.words` has them."""
    return set(_WORD.findall(text.lower()))


def spelled_out(value: str, home: str) -> str:
    """A value with the person's home in the place of the signs for it."""
    if home and value[:1] in "~$%@":
        return re.sub(r"^(?:~|\$HOME|\$\{HOME\}|%h|@\{HOME\})(?=/|$)", lambda _: home, value)
    return value


def _unique(pairs: Iterable[tuple[str, str]]) -> dict[str, str]:
    found: dict[str, str] = {}
    for name, id in pairs:
        if name in found and found[name] != id:
            found[name] = ""
        else:
            found.setdefault(name, id)
    return found


def bus_names(files: Iterable[str]) -> tuple[str, ...]:
    """D-Bus names by the files that announce them (D-Bus Specification, message bus starting services)."""
    return tuple(
        base(f).removesuffix(".service") for f in files if "/dbus-1/" in f and f.endswith(".service")
    )
