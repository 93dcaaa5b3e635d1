"""Stores of objects: folders in which a registry keeps every file that it installed by a second name."""

from __future__ import annotations


def in_a_store(path: str) -> bool:
    """Whether a registry's own store of all that it installed holds it there: it gives that up itself (ostree)."""
    return "/flatpak/repo/objects/" in path
