"""Folders that an order leaves empty: a maker's whose programs all go, a store's whose parts do. They go last, and only empty."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from swept_shelf.core.belongings.common import is_common
from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.documents.operations import LEFT_EMPTY, Operation, Shelve
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.machine.base_folders import person_folders
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.scope import Scope

_OF_SYSTEM = (
    "/opt", "/etc", "/srv", "/usr/local/etc", "/usr/local/lib", "/usr/local/share", "/var/cache", "/var/games", "/var/lib",
    "/var/log", "/var/snap", "/var/spool",
)  # fmt: skip
_OF_A_HOME = (
    ".local", ".local/bin", ".local/lib", ".local/opt", ".local/share", ".local/state", ".config", ".cache", ".var", ".var/app",
    "snap",
)  # fmt: skip
# Where tools of a language look.
_OF_TOOLS = re.compile(r"/\.local/lib/|/(bin|lib|node_modules|site-packages)$")


class Husks:
    """`rights`: whose rights a path needs."""

    def __init__(self, scope: Scope, machine: Machine, rights: Callable[[str], str]) -> None:
        self._index, self._survey, self._rights, self._machine = scope.index, scope.survey, rights, machine
        self._bases = {
            p.home: {*(f"{p.home}/{inner}" for inner in _OF_A_HOME), *person_folders(machine, p).values()}
            for p in scope.survey.people
        }

    def after(self, operations: Sequence[Operation], lines: set[str]) -> dict[int, list[Shelve]]:
        """What becomes empty by what `lines` take to the shelf: behind which operation it does, the innermost first."""
        taken = {
            op.path: number
            for number, op in enumerate(operations)
            if isinstance(op, Shelve) and op.line in lines
        }
        found: dict[int, list[Shelve]] = {}
        waiting = sorted({parent(p) for p in taken}, key=lambda p: -p.count("/"))
        while waiting:
            folder = waiting.pop(0)
            row = self._index.row(folder) if folder not in taken and self._may_go(folder) else None
            inside = [c.path for c in self._index.children(folder)] if row is not None else []
            if row is None or not inside or not all(p in taken for p in inside):
                continue
            if set(self._machine.names(folder)) - {base(p) for p in inside}:
                continue  # a survey of what was found left knows that alone
            number = max(taken[p] for p in inside)
            line, volume = operations[number].line, volume_of(self._survey.volumes, folder).id
            husk = Shelve(
                line, folder, row.identity, row.bytes, 0, volume, False, self._rights(folder), LEFT_EMPTY
            )
            found.setdefault(number, []).append(husk)
            taken[folder] = number
            waiting.append(parent(folder))
        return found

    def _may_go(self, folder: str) -> bool:
        """Whether it is somebody's own below a folder that is everybody's, and no package's."""
        home = next((h for h in self._bases if within(folder, h) and folder != h), "")
        own = self._is_own(folder, home) if home else _is_own_of_system(folder)
        mounts = [v.mount for v in self._survey.volumes]
        return own and not (self._index.listing(folder) or why_never(folder, self._bases, mounts))

    def _is_own(self, folder: str, home: str) -> bool:
        """In a home: hidden, or below a base folder, and neither such a folder nor one that is called as everybody calls it."""
        bases = self._bases[home]
        if folder in bases or is_common(base(folder), False) or _OF_TOOLS.search(folder):
            return False
        inside = [folder[len(b) + 1 :] for b in bases if within(folder, b)]
        if any(is_standard(f"{top}/{rest}") for rest in inside for top in ("/usr/share", "/etc", "/etc/xdg")):
            return False
        return folder[len(home) + 1 :].startswith((".", "snap/")) or any(
            within(folder, b) for b in bases if b != home
        )


def _is_own_of_system(folder: str) -> bool:
    below = any(within(folder, t) and folder != t for t in _OF_SYSTEM)
    return below and not (is_standard(folder) or is_common(base(folder), True))
