"""What of a shared store may go by an order: its own parts, so that the folders that its owner expects stay."""

from __future__ import annotations

import re
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
    "journal": ("",),
}
_CLOSED = re.compile(
    r".+@[0-9a-f-]+\.journal(?:\.zst)?|.+\.journal~"
)  # journal files that nothing is written to any more
TRIMMED = tuple(_INSIDE)  # kinds of stores of which parts may go by their age
_STAY = ("lock", ".lock", "partial", "CACHEDIR.TAG")
_THROWN_AWAY = "trash"
_WHY = {"journal": "is an older part of the journal, closed: what it says is not said again"}


def parts_of(store: SharedStore, tree: Tree, maker: Maker) -> list[Belonging]:
    """Each with why it may go; what people threw away is still theirs: it is asked about."""
    if not store.clear_by:
        return []
    theirs = store.kind == _THROWN_AWAY
    why = (
        "thrown away by somebody"
        if theirs
        else _WHY.get(store.kind, f"is fetched or made again ({store.clear_by})")
    )
    claim = Claim(store.id, By.DECLARED, why, [Proof(By.DECLARED, store.path)])
    return [
        maker.make(path, store.person, Kind.CACHE, claim, [], not theirs, personal=theirs, reason=why)
        for path in _paths(store, tree)
    ]


def _closed_journals(folder: str, tree: Tree) -> Iterator[str]:
    """Journal files, a folder a machine, that were rotated away: the current ones stay (systemd-journald.service(8))."""
    for machine in tree.children(folder):
        yield from (
            c for c in tree.children(machine) if _CLOSED.fullmatch(base(c)) and tree.kind(c) == "file"
        )


def _paths(store: SharedStore, tree: Tree) -> Iterator[str]:
    for inner in _INSIDE.get(store.kind, ()):
        folder = f"{store.path}/{inner}" if inner else store.path
        if store.kind == "journal":
            yield from _closed_journals(folder, tree)
            continue
        yield from (
            c
            for c in tree.children(folder)
            if base(c) not in _STAY and tree.kind(c) in ("file", "folder", "link")
        )
