"""Shared stores: space that no single application owns. Named with size and age, each with its own way to clear it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from swept_shelf.core.documents.paths import base, join
from swept_shelf.core.documents.survey import Person, SharedStore, Volume
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.registries.entry import Kept
from swept_shelf.core.tree.walk import Tree

_DAY_NS = 86400 * 10**9
# (kind, what people call it, where, how it is cleared)
_SYSTEM = (
    ("package_downloads", "package downloads", "/var/cache/apt/archives", "apt-get clean"),
    ("package_lists", "package lists", "/var/lib/apt/lists", "apt-get update fetches them again"),
    ("package_downloads", "package downloads of dnf", "/var/cache/dnf", "dnf clean packages"),
    ("crash_records", "crash records", "/var/crash", "delete the records"),
    ("core_dumps", "core dumps", "/var/lib/systemd/coredump", "delete them; coredumpctl(1) lists them"),
    ("journal", "system journal", "/var/log/journal", "journalctl --vacuum-size"),
    ("temporary", "temporary files", "/tmp", "emptied at the next start"),
    ("temporary", "temporary files that stay", "/var/tmp", "systemd-tmpfiles --clean"),
)
_PERSONAL = (
    ("trash", "trash", ".local/share/Trash", "empty the trash"),
    ("thumbnails", "thumbnails", ".cache/thumbnails", "delete them; they are made again"),
    ("tool_downloads", "downloads of pip", ".cache/pip", "pip cache purge"),
    ("tool_downloads", "downloads of npm", ".npm/_cacache", "npm cache clean --force"),
    ("tool_downloads", "downloads of cargo", ".cargo/registry/cache", "delete them; they are fetched again"),
    ("downloads", "downloads", "Downloads", ""),  # a person's own: listed, never offered
)


@dataclass(frozen=True, slots=True)
class _Finder:
    """`taken`: paths, sorted, that count elsewhere."""

    tree: Tree
    volumes: list[Volume]
    now: datetime
    taken: list[str]

    def store(
        self, id: str, kind: str, name: str, paths: list[str], person: str, clear_by: str
    ) -> Iterator[SharedStore]:
        """One store, where it holds anything; its age profile by when its files were last written."""
        tree = self.tree
        parts = [(s, tree.without(s, self._taken_in(p))) for p in paths if (s := tree.slice(p))]
        everything = np.concatenate(
            [np.arange(s.start, s.stop)[mine] for s, mine in parts] or [np.empty(0, dtype=np.int64)]
        ).astype(np.int64)
        positions = everything[~tree.is_folder[everything]]
        if not len(positions):
            return
        times, sizes = tree.mtime[positions], tree.once[positions]
        total = int(tree.once[everything].sum())
        age = int(self.now.timestamp()) * 10**9 - times
        yield SharedStore(
            id,
            kind,
            name,
            person,
            volume_of(self.volumes, paths[0]).id,
            paths[0],
            total,
            from_ns(int(times.min())),
            from_ns(int(times.max())),
            clear_by,
            False,
            int(sizes[age > 30 * _DAY_NS].sum()),
            int(sizes[age > 365 * _DAY_NS].sum()),
            len(positions),
        )

    def _taken_in(self, path: str) -> list[str]:
        return [
            p
            for p in self.taken[bisect_left(self.taken, path + "/") : bisect_left(self.taken, path + "0")]
            if p != path
        ]


def find_stores(
    tree: Tree,
    people: list[Person],
    volumes: list[Volume],
    now: datetime,
    taken: Iterable[str] = (),
    kept: Iterable[Kept] = (),
) -> list[SharedStore]:
    """Stores that hold anything, largest first. `taken`: paths that belong to an application, and count there; `kept`: what
    registries keep though nothing uses it."""
    find = _Finder(tree, volumes, now, sorted(taken))
    found = list(_stores(find, people, volumes))
    for k in kept:
        found += find.store(
            f"store:{k.kind}:{'' if k.person == EVERYONE else k.person + ':'}{k.ref}",
            k.kind,
            k.name,
            [k.path],
            k.person,
            k.clear_by,
        )
    return sorted(found, key=lambda s: (-s.bytes, s.id))


def _stores(find: _Finder, people: list[Person], volumes: list[Volume]) -> Iterator[SharedStore]:
    for kind, name, path, clear_by in _SYSTEM:
        yield from find.store(
            f"store:{kind}" if kind != "temporary" else f"store:temporary:{path}",
            kind,
            name,
            [path],
            EVERYONE,
            clear_by,
        )
    for person in people:
        for kind, name, inner, clear_by in _PERSONAL:
            id = f"store:{kind}:{person.name}" + (
                f"/{name.rsplit(' ', 1)[1]}" if kind == "tool_downloads" else ""
            )
            yield from find.store(
                id,
                kind,
                f"{name} of {person.name}",
                [join(person.home, *inner.split("/"))],
                person.name,
                clear_by,
            )
    for volume in volumes:
        yield from _trash_of(volume, find, people)


def _trash_of(volume: Volume, find: _Finder, people: list[Person]) -> Iterator[SharedStore]:
    """A volume's own trash folders (Trash specification): .Trash/UID and .Trash-UID at its top."""
    uids = {str(p.uid): p.name for p in people}
    for top in find.tree.children(volume.mount):
        parts = (
            [top]
            if base(top).startswith(".Trash-")
            else find.tree.children(top)
            if base(top) == ".Trash"
            else []
        )
        for path in parts:
            uid = base(path).removeprefix(".Trash-")
            name = uids.get(uid, f"account {uid}")
            yield from find.store(
                f"store:trash:{name}@{volume.mount}",
                "trash",
                f"trash of {name} on {volume.mount}",
                [path],
                name,
                "empty the trash",
            )
