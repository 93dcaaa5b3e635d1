"""What can be pointed at: the names and places of applications, looked up by one word or path."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from urllib.parse import unquote, urlsplit

from swept_shelf.core.documents.paths import base, parent


@dataclass(frozen=True, slots=True)
class Pointee:
    """One application as others point at it; all lists may be empty."""

    id: str
    commands: tuple[str, ...]
    programs: tuple[str, ...]
    folders: tuple[str, ...]
    launchers: tuple[str, ...]
    buses: tuple[str, ...]
    units: tuple[str, ...]


class Pointees:
    """Look-ups over all of them. A word that two of them share points at nobody."""

    def __init__(self, pointees: Iterable[Pointee]) -> None:
        self.all = list(pointees)
        self._command = _unique((c, p.id) for p in self.all for c in p.commands)
        self._program = _unique((c, p.id) for p in self.all for c in p.programs)
        self._folder = _unique((f, p.id) for p in self.all for f in p.folders)
        self._launcher = _unique((f, p.id) for p in self.all for f in p.launchers)
        self._bus = _unique((f, p.id) for p in self.all for f in p.buses)
        self._unit = _unique((f, p.id) for p in self.all for f in p.units)

    def program(self, word: str) -> str:
        """Whom a word in command position starts: a path of a program, or its bare command name."""
        if word.startswith("/"):
            return self._program.get(word, "") or self.place(word)
        return self._command.get(word, "") if "/" not in word else ""

    def place(self, path: str) -> str:
        """In whose folder an absolute path lies; a relative one lies nowhere."""
        if not path.startswith("/"):
            return ""
        here = path.rstrip("/") or "/"
        while here != "/":
            if here in self._folder:
                return self._folder[here]
            here = parent(here)
        return ""

    def launcher(self, id: str) -> str:
        return self._launcher.get(id, "")

    def bus(self, name: str) -> str:
        return self._bus.get(name, "")

    def unit(self, name: str) -> str:
        """A unit, also an instance of a template (systemd.unit(5))."""
        return self._unit.get(name, "") or self._unit.get(re.sub(r"@[^.]*\.", "@.", name), "")

    def address(self, href: str) -> str:
        """Whose folder or program a file: address leads to."""
        parts = urlsplit(href)
        if parts.scheme != "file":
            return ""
        path = unquote(parts.path, errors="surrogateescape")
        return self._program.get(path, "") or self.place(path)


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
