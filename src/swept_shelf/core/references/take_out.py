"""Taking out: the line edits that leave a file without what is gone."""

from __future__ import annotations

from swept_shelf.core.documents.operations import LineEdit
from swept_shelf.core.references import cron, file_types, recents, shell_startup
from swept_shelf.core.references.pointees import Pointees

_BY_KIND = {
    "cron": cron.edits,
    "shell line": shell_startup.edits,
    "file type": file_types.edits,
    "recent document": recents.edits,
    "bookmark": recents.edits,
}
WHOLE = frozenset({"autostart", "launcher", "link", "D-Bus service", "unit link", "unit"})


def edits_for(kind: str, text: str, gone: Pointees) -> list[LineEdit]:
    """What changes in a file of that kind. Raises ValueError when the file is broken."""
    return _BY_KIND[kind](text, gone)
