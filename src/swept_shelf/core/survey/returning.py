"""What comes back when an order of one application alone is carried out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.documents.survey import Belonging, ComesBack
from swept_shelf.core.documents.terms import By, Kind
from swept_shelf.core.registries.ways import names_in_its_store
from swept_shelf.core.survey.ground import Ground


class Returning:
    """Of one survey. A package that goes with several applications is looked up once."""

    def __init__(self, ground: Ground) -> None:
        self._ground = ground
        self._known: dict[str, tuple[NDArray[np.int64], list[str]]] = {}

    def of(self, app: Known, belongings: list[Belonging]) -> list[ComesBack]:
        """Its packages now, its ticked belongings when emptied."""
        tree, volumes = self._ground.tree, self._ground.volumes
        now: dict[str, int] = defaultdict(int)
        later: dict[str, int] = defaultdict(int)
        now[volumes[0].id] = self._packages(set(app.packages)) if app.registry == "debian" else 0
        for b in belongings:
            if b.ticked and (app.tops or b.kind != Kind.PROGRAM or b.proof != By.REGISTERED):
                part = tree.slice(b.path)
                program = b.kind == Kind.PROGRAM and b.proof == By.REGISTERED
                later[b.volume] += tree.returning(
                    np.flatnonzero(tree.without(part, b.except_)) + part.start,
                    names_in_its_store(app.registry) if program else 0,
                )
        return [ComesBack(v.id, now[v.id], later[v.id]) for v in volumes if now[v.id] or later[v.id]]

    def _packages(self, gone: set[str]) -> int:
        """Bytes of what no package has any more when these have gone; settings files stay."""
        ground, owner = self._ground, self._ground.ownership.owner
        if ground.registry is None:
            return 0
        known = [self._package(p) for p in gone]
        paths = [f for _, shared in known for f in shared if gone.issuperset(owner[f])]
        whole = self._positions([*paths, *ground.ownership.folders_of(gone)])
        settings = self._positions(c.path for p in gone for c in ground.registry.packages[p].conffiles)
        positions = np.concatenate([whole, *(alone for alone, _ in known)])
        return ground.tree.returning(positions[~np.isin(positions, settings)])

    def _package(self, name: str) -> tuple[NDArray[np.int64], list[str]]:
        """Positions of what it alone has, with what its registry keeps of it, and the files that others list too."""
        if name not in self._known:
            ownership, paths = self._ground.ownership, self._ground.tree.paths
            places = ownership.places[name]
            with_others = ownership.several[places]
            alone = np.concatenate([places[~with_others], self._positions(self._ground.info_files(name))])
            self._known[name] = alone, [paths[i] for i in places[with_others].tolist()]
        return self._known[name]

    def _positions(self, paths: Iterable[str]) -> NDArray[np.int64]:
        found = map(self._ground.tree.where.get, paths)
        return np.array([i for i in found if i is not None], dtype=np.int64)
