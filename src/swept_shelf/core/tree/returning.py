"""What really returns to a volume when a set of paths goes: a file with several names only with its last one."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Sized:
    """One path: allocated bytes, number of names, and what tells it from others on its file system; of its bytes `shared`
    are in extents that other files use too."""

    path: str
    bytes: int
    links: int
    file_system: str
    inode: int
    is_folder: bool
    shared: int = 0


def returning_bytes(parts: Iterable[Sized]) -> int:
    """Bytes that come back when all of `parts` go together; each path counts once. Shared extents are not promised: whether
    the last file that uses one goes cannot be told."""
    total = 0
    names: dict[tuple[str, int], set[str]] = {}
    sizes: dict[tuple[str, int], tuple[int, int]] = {}
    seen: set[str] = set()
    for part in parts:
        if part.path in seen:
            continue
        seen.add(part.path)
        if part.is_folder or part.links <= 1:
            total += part.bytes - part.shared
        else:
            key = (part.file_system, part.inode)
            names.setdefault(key, set()).add(part.path)
            sizes[key] = (part.bytes - part.shared, part.links)
    return total + sum(size for key, (size, links) in sizes.items() if len(names[key]) >= links)
