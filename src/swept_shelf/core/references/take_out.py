"""Taking out: the pieces that leave a file without what is gone, and whether the file is whole afterwards."""

from __future__ import annotations

from collections.abc import Set as AbstractSet

from swept_shelf.core.documents.masking import masked
from swept_shelf.core.documents.operations import Cut, Table
from swept_shelf.core.references.kind import TEXT, Codec, Entry
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.pointees import Pointees


def cut_of(entry: Entry) -> Cut | None:
    """The piece of a file that an entry is; None for one that is not cut."""
    if entry.end <= entry.start:
        return None
    whole = entry.whole or (entry.start, entry.end)
    pieces = entry.pieces if entry.whole else 1
    return Cut(entry.line, entry.start, entry.end, *whole, pieces, entry.separator)


def cuts_for(
    kind: str, path: str, text: str, gone: Pointees, chosen: AbstractSet[tuple[int, str]], home: str = ""
) -> list[Cut]:
    """The pieces for the references `chosen` by line and key, and no others. Raises ValueError when the file is broken."""
    places: dict[tuple[int, str], list[Entry]] = {}
    for entry in KINDS[kind].parse(path, text):
        key = entry.line, masked(entry.key)
        if key in chosen:
            places.setdefault(key, []).append(entry)
    found: dict[Cut, None] = {}
    for entries in places.values():
        mine = [e for e in entries if any(gone.whose(t, home) for t in e.targets)]
        if not mine and len({cut_of(e) for e in entries}) == 1:
            mine = entries  # it points through a link that leads to what is gone
        for entry in mine:
            if cut := cut_of(entry):
                found.setdefault(cut)
    return list(found)


def codec_of(kind: str) -> Codec:
    """How files of a kind are written."""
    return KINDS[kind].codec if kind in KINDS else TEXT


def holder_of(kind: str) -> str:
    """The program that keeps such files in memory; "" where none does."""
    return KINDS[kind].held_by if kind in KINDS else ""


def table_of(kind: str) -> Table | None:
    """The table of the registry whose own tool takes references of a kind; None where none does."""
    return KINDS[kind].table if kind in KINDS else None


def why_broken(kind: str, path: str, before: str, after: str) -> str:
    """Why `after` is not as good a file of its kind as `before` was; "" where it is."""
    return KINDS[kind].why_broken(path, before, after) if kind in KINDS else ""
