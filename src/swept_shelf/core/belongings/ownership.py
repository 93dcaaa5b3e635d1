"""Which package owns which path, links in folders followed, and which folders one application has for itself."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Set
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.registries.debian.diversions import stands_at
from swept_shelf.core.registries.debian.package import DebianRegistry, Package
from swept_shelf.core.tree.walk import Tree


class Ownership:
    """`owner[path]`: packages that list a file, where it stands (it may be diverted); `folders[path]`: packages that list a
    folder; `files`, `places`: what each lists that is no folder, and its positions in the walk. What only one package lists shares
    that package's one tuple or set: of such there are hundreds of thousands."""

    def __init__(self, registry: DebianRegistry | None, tree: Tree) -> None:
        self.owner: dict[str, tuple[str, ...]] = {}
        self.files: dict[str, list[str]] = defaultdict(list)
        self.places: dict[str, NDArray[np.int64]] = defaultdict(lambda: np.empty(0, dtype=np.int64))
        folders: dict[str, frozenset[str] | set[str]] = {}
        owner, paths, real_folder = self.owner, tree.paths, dict[str, str]()
        diverted = registry.diverted if registry else {}
        for package in registry.packages.values() if registry else ():
            name, only = package.name, frozenset((package.name,))
            found = list(map(tree.where.get, package.files))
            if None in found or not diverted.keys().isdisjoint(package.files):
                found = [_place_of(n, package, diverted, tree, real_folder) for n in package.files]
            places = np.array([at for at in found if at is not None], dtype=np.int64)
            is_folder = tree.is_folder[places]
            # the walk's own texts, not one more copy of each
            self.places[name] = places[~is_folder]
            files = self.files[name] = [paths[at] for at in self.places[name].tolist()]
            mine: dict[str, tuple[str, ...]] = dict.fromkeys(files, (name,))
            for path in owner.keys() & mine.keys():
                mine[path] = (*owner[path], name)
            owner.update(mine)
            for at in places[is_folder].tolist():
                path = paths[at]
                if (before := folders.get(path)) is None:
                    folders[path] = only
                elif isinstance(before, set):
                    before.add(name)
                else:
                    folders[path] = {*before, name}
        self._size = len(paths)
        self.folders = {path: frozenset(names) for path, names in folders.items()}

    @cached_property
    def _folders_of(self) -> dict[str, list[str]]:
        """The folders that each package lists."""
        found: dict[str, list[str]] = {}
        for path, names in self.folders.items():
            for name in names:
                found.setdefault(name, []).append(path)
        return found

    def places_of(self, packages: Iterable[str]) -> NDArray[np.int64]:
        return np.concatenate([np.empty(0, dtype=np.int64), *(self.places[p] for p in packages)])

    @cached_property
    def several(self) -> NDArray[np.bool_]:
        """Per position of the walk whether more than one package lists the file."""
        listed = np.zeros(self._size, dtype=np.int32)
        for places in self.places.values():
            listed[places] += 1
        return listed > 1

    def lists(self, path: str) -> bool:
        """Whether any package lists the path."""
        return path in self.owner or path in self.folders

    def folders_of(self, packages: Set[str]) -> list[str]:
        """Folders that these packages list and no others, in no order."""
        listed = {f for p in packages for f in self._folders_of.get(p, ())}
        return [f for f in listed if self.folders[f] <= packages]

    def own_folders(self, packages: set[str]) -> list[str]:
        """Outermost folders that these packages alone list, and that are nobody's by a standard."""
        mine = {f for f in self.folders_of(packages) if not is_standard(f)}
        return sorted(f for f in mine if parent(f) not in mine)


def _place_of(
    name: str, package: Package, diverted: dict[str, tuple[str, str]], tree: Tree, real_folder: dict[str, str]
) -> int | None:
    """The position of what a package lists, where it stands; None where it is gone. `real_folder`: where folders in whose paths are
    links lead, as far as known."""
    listed = stands_at(name, package, diverted) if name in diverted else name
    at = tree.where.get(listed)
    if at is None:  # a link in its folders, or it is gone
        above, _, last = listed.rpartition("/")
        if (real := real_folder.get(above)) is None:
            real = real_folder[above] = parent(tree.real(f"{above}/x")).rstrip("/")
        at = tree.where.get(f"{real}/{last}")
    return at
