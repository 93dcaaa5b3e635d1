"""Which launcher opens which type (freedesktop.org Association between MIME types and applications)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.references.cutting import line_spans
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees

FAMILY = "file_types"
_GROUPS = ("[Default Applications]", "[Added Associations]", "[Removed Associations]")


def places(home: str | None) -> list[str]:
    if home:
        return [f"{home}/.config/mimeapps.list", f"{home}/.local/share/applications/mimeapps.list"]
    return ["/etc/xdg/mimeapps.list", "/usr/local/share/applications/mimeapps.list"]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    for number, line, type, ids in _rows(text):
        for id in dict.fromkeys(i for x in ids if (i := to.launcher(x.strip()))):
            yield Hit(id, FAMILY, "file type", path, number, type, line, f"opens {type}")


def _rows(text: str) -> Iterator[tuple[int, str, str, list[str]]]:
    group = ""
    for number, line in enumerate(text.split("\n"), 1):
        if line.startswith("["):
            group = line.strip()
        elif "=" in line and not line.startswith("#") and group in _GROUPS:
            type, _, value = line.partition("=")
            yield number, line, type.strip(), value.split(";")


def cuts(path: str, text: str, to: Pointees) -> list[tuple[str, Cut]]:
    """Of a type's list those that are gone; the line when nothing is left in it."""
    made, spans = [], line_spans(text)
    for number, line, type, ids in _rows(text):
        start, end = spans[number - 1]
        at = start + line.index("=") + 1
        pieces = sum(bool(i.strip()) for i in ids)
        for id in ids:
            if to.launcher(id.strip()):
                made.append((type, Cut(number, at, at + len(id), start, end, pieces, ";")))
            at += len(id) + 1
    return made
