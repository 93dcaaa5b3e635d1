"""Which launcher opens which type (freedesktop.org Association between MIME types and applications)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.operations import LineEdit
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.lines import split_lines
from swept_shelf.core.references.pointees import Pointees

FAMILY = "file_types"


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
    for number, line in enumerate(split_lines(text), 1):
        if line.startswith("["):
            group = line.strip()
        elif (
            "=" in line
            and not line.startswith("#")
            and group in ("[Default Applications]", "[Added Associations]", "[Removed Associations]")
        ):
            type, _, value = line.partition("=")
            yield number, line, type.strip(), value.split(";")


def edits(text: str, to: Pointees) -> list[LineEdit]:
    made = []
    for number, line, _, ids in _rows(text):
        kept = [i for i in ids if not to.launcher(i.strip())]
        if kept != ids:
            head = line.partition("=")[0]
            made.append(
                LineEdit(number, line, f"{head}={';'.join(kept)}" if any(k.strip() for k in kept) else None)
            )
    return made
