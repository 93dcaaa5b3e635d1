"""Programs that make small pictures of files."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.desktop_entries import starts_another
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if item.key in ("Exec", "TryExec"):
                entry = whole_file(
                    item.number, item.key, item.text, of_exec(item.value), "makes thumbnails by it"
                )
                yield replace(
                    entry,
                    ask=item.key == "TryExec"
                    and starts_another({i.key: (i.number, i.value) for i in group.items}),
                )


KIND = Kind(
    "thumbnailer",
    "file_types",
    ("thumbnailer", "thumbnailers"),
    (
        Place("~data/thumbnailers/*.thumbnailer"),
        Place("/usr/local/share/thumbnailers/*.thumbnailer", 1),
        Place("/usr/share/thumbnailers/*.thumbnailer", 2),
    ),
    _parse,
    whole=True,
    masks=True,
)
