"""What file managers offer for files: actions that are files of their own."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        for item in group.items:
            if item.key in ("Exec", "TryExec"):
                yield whole_file(
                    item.number, item.key, item.text, of_exec(item.value), "a file manager offers it"
                )


KIND = Kind(
    "file manager's action",
    "other_programs",
    ("action of a file manager", "actions of file managers"),
    tuple(
        Place(f"{top}/{folder}/*.{end}")
        for top in ("~data", "/usr/local/share", "/usr/share")
        for folder, end in (
            ("file-manager/actions", "desktop"),
            ("kio/servicemenus", "desktop"),
            ("kservices5/ServiceMenus", "desktop"),
            ("kservices5", "desktop"),
            ("nemo/actions", "nemo_action"),
            ("contractor", "contract"),
            ("Thunar/sendto", "desktop"),
            ("caja/extensions", "caja-extension"),
            ("templates", "desktop"),
        )
    ),
    _parse,
    whole=True,
)
