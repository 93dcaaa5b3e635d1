"""What names a file that goes with an application: its path, and the name under which units and launchers are known."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.references.kinds.unit import FOLDERS, TYPES
from swept_shelf.core.references.pointees import Pointee
from swept_shelf.core.registries.launchers import SYSTEM_FOLDERS

_UNITS = tuple(f".{type}" for type in TYPES)


def known_by(id: str, paths: Iterable[str], exists: Callable[[str], bool]) -> Pointee:
    """As others name these files. A name under which another file is found once they are gone means that one (`exists`)."""
    programs = list(dict.fromkeys(paths))
    going = set(programs)

    def only(path: str, folders: Iterable[str]) -> bool:
        others = (f"{folder}/{base(path)}" for folder in folders)
        return not any(other not in going and exists(other) for other in others)

    return Pointee(
        id,
        programs=tuple(programs),
        launchers=tuple(base(p) for p in programs if p.endswith(".desktop") and only(p, SYSTEM_FOLDERS)),
        units=tuple(
            base(p) for p in programs if p.endswith(_UNITS) and "/systemd/" in parent(p) and only(p, FOLDERS)
        ),
    )
