"""Turning a start off by the file's own means: it stays, and says that it does not count (Desktop Entry Specification: Hidden)."""

from __future__ import annotations

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.grammars.key_file import groups_of

_KEY = "Hidden"
_GROUP = "Desktop Entry"
BY_HIDDEN = "autostart"  # the kind whose files are turned off so


def off_cuts(text: str) -> list[Cut]:
    """The one place where an entry says that it is hidden, written anew. Raises ValueError for what is no desktop entry."""
    group = next((g for g in groups_of(text) if g.name == _GROUP), None)
    if group is None:
        raise ValueError("is no desktop entry")
    said = f"{_KEY}=true\n"
    found = [i for i in group.items if i.key == _KEY]
    if found:
        return [
            Cut(i.number, i.start, i.end, i.start, i.end, put=said if i is found[0] else "") for i in found
        ]
    at = group.start + len(group.text) + 1
    if at > len(text):
        at, said = len(text), "\n" + said
    return [Cut(group.number, at, at, at, at, put=said)]
