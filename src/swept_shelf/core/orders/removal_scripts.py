"""What scripts of packages that are removed name: places that they may take away and that no list has."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.orders.scope import Entry, Scope, goes_whole
from swept_shelf.core.registries.uninstalling import scripts_of

_ENDINGS = (".prerm", ".postrm")
_SYSTEM_PLACE = re.compile(r"/(?:var|etc|srv|opt|home)/[\w.+@/-]+")
_ONLY_EMPTY = re.compile(r"\brmdir\b[^\n;&|]*")  # takes nothing but a folder with nothing in it
_SUM = re.compile(r"\b[0-9a-f]{32}\b")


class RemovalScripts:
    """Read of the machine when they are asked for."""

    def __init__(self, scope: Scope, machine: Machine) -> None:
        self._scope, self._machine = scope, machine

    def named_of_whole(self, entry: Entry) -> set[str]:
        """Places of the system that scripts of a whole application name, where its registry runs such when it uninstalls it."""
        if not goes_whole(entry):
            return set()
        try:
            return _places_in(scripts_of(self._machine, entry))
        except CouldNotRead:
            return set()  # said where it cannot be uninstalled either

    def named(self, package: str, endings: tuple[str, ...] = _ENDINGS) -> set[str]:
        """Places of the system that its scripts of removal name."""
        return _places_in(self.texts(package, endings))

    def texts(self, package: str, endings: tuple[str, ...] = _ENDINGS) -> Iterator[str]:
        """What its scripts of removal say."""
        for row, _ in self._scope.files([package])[package]:
            if row.path.startswith("/var/lib/dpkg/info/") and row.path.endswith(endings):
                yield self._machine.text(row.path)

    def is_spared(self, package: str, place: str) -> bool:
        """Whether the scripts take a place away only where its content has a sum that they name, and it has another."""
        text = self._machine.text(f"/var/lib/dpkg/info/{package}.postrm")
        sums = set(_SUM.findall(text))
        row = self._scope.index.row(place)
        if not sums or "md5sum" not in text or row is None or row.identity.type != "file":
            return False
        try:
            data = self._machine.read_bytes(place)
        except CouldNotRead:
            return False
        return hashlib.md5(data).hexdigest() not in sums


def _places_in(scripts: Iterable[str]) -> set[str]:
    texts = (_ONLY_EMPTY.sub("", text) for text in scripts)
    return {m[0].rstrip("/.") for text in texts for m in _SYSTEM_PLACE.finditer(text)}
