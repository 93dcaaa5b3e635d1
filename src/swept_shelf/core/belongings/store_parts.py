"""What of a shared store may go by an order: its own parts, so that the folders that its owner expects stay."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Belonging, Proof, SharedStore
from swept_shelf.core.documents.terms import By, Kind
from swept_shelf.core.tree.walk import Tree

# Folders inside whose parts go, for each kind that is cleared by what it holds; "" for the store itself.
_INSIDE = {
    "package_downloads": ("", "partial"),
    "crash_records": ("",),
    "core_dumps": ("",),
    "trash": ("files", "info", "expunged"),
    "thumbnails": ("",),
    "tool_downloads": ("",),
}
TRIMMED = tuple(_INSIDE)  # kinds of stores of which parts may go by their age
_STAY = ("lock", ".lock", "partial", "CACHEDIR.TAG")
_THROWN_AWAY = "trash"


def parts_of(store: SharedStore, tree: Tree, maker: Maker) -> list[Belonging]:
    """Each with why it may go; what people threw away is still theirs: it is asked about."""
    if not store.clear_by:
        return []
    theirs = store.kind == _THROWN_AWAY
    why = "thrown away by somebody" if theirs else f"is fetched or made again ({store.clear_by})"
    claim = Claim(store.id, By.DECLARED, why, [Proof(By.DECLARED, store.path)])
    return [
        maker.make(path, store.person, Kind.CACHE, claim, [], not theirs, personal=theirs, reason=why)
        for path in _paths(store, tree)
    ]


def _paths(store: SharedStore, tree: Tree) -> Iterator[str]:
    for inner in _INSIDE.get(store.kind, ()):
        folder = f"{store.path}/{inner}" if inner else store.path
        yield from (
            c
            for c in tree.children(folder)
            if base(c) not in _STAY and tree.kind(c) in ("file", "folder", "link")
        )
