"""Shared stores: space that no single application owns. Named with size and age, each with its own way to clear it."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.survey import Person, SharedStore, Volume
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.tree.walk import Tree

_SYSTEM = (("package_downloads", "package downloads", "/var/cache/apt/archives", "apt-get clean"),
           ("crash_records", "crash records", "/var/crash", "delete the records"),
           ("journal", "system journal", "/var/log/journal", "journalctl --vacuum-size"))  # fmt: skip
_PERSONAL = (("trash", "trash", ".local/share/Trash", "empty the trash"),
             ("thumbnails", "thumbnails", ".cache/thumbnails", "delete them; they are made again"))  # fmt: skip


def find_stores(tree: Tree, people: list[Person], volumes: list[Volume]) -> list[SharedStore]:
    """Stores that hold anything, largest first."""
    return sorted(_stores(tree, people, volumes), key=lambda s: -s.bytes)


def _stores(tree: Tree, people: list[Person], volumes: list[Volume]) -> Iterator[SharedStore]:
    places = [(k, n, p, c, EVERYONE) for k, n, p, c in _SYSTEM]
    places += [(k, n, f"{person.home}/{p}", c, person.name) for person in people for k, n, p, c in _PERSONAL]
    for kind, name, path, clear_by, person in places:
        if not tree.files_below(path):
            continue
        part = tree.slice(path)
        times = tree.mtime[part.start : part.stop][~tree.is_folder[part.start : part.stop]]
        personal = person != EVERYONE
        yield SharedStore(
            f"store:{kind}" + (f":{person}" if personal else ""), kind, f"{name} of {person}" if personal else name, person,
            volume_of(volumes, path).id, path, tree.bytes_below(path), from_ns(int(times.min())), from_ns(int(times.max())),
            clear_by, False,
        )  # fmt: skip
