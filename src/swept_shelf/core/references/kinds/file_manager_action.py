"""What file managers offer for files: actions that are files of their own."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.desktop_entries import starts_another
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """An action goes; the file with its last one."""
    for group in groups_of(text):
        said = {i.key: i for i in group.items if i.key in ("Exec", "TryExec")}
        if item := said.get("Exec") or said.get("TryExec"):
            targets = of_exec(item.value)
            entry = group_entry(group, targets, "a file manager offers it")
            yield replace(entry, line=item.number, key=item.key, text=item.text)
            if "Exec" in said and "TryExec" in said:
                needed = said["TryExec"]
                asked = {k: (i.number, i.value) for k, i in said.items()}
                entry = group_entry(group, of_exec(needed.value), "a file manager offers it")
                if starts_another(asked):
                    yield replace(entry, line=needed.number, key=needed.key, text=needed.text, ask=True)


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
    alone="entries",
)
