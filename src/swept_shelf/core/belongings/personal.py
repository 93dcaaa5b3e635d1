"""Content made by a person: recognised by type and by the folder's own name. Never ticked by default."""

from __future__ import annotations

from swept_shelf.core.documents.paths import base
from swept_shelf.core.tree.walk import Tree

FOLDERS = frozenset({"saves", "savegames", "saved games", "save", "documents", "drawings", "mail", "maildir", "letters",
                     "projects", "exports", "backups", "backup", "notes", "recordings", "pictures", "photos", "scores",
                     "worlds", "screenshots", "captures"})  # fmt: skip
TYPES = frozenset({
    "doc", "docx", "odt", "ods", "odp", "odg", "odb", "xls", "xlsx", "ppt", "pptx", "pdf", "rtf", "tex", "epub", "csv",
    "eml", "mbox", "msf", "pst", "vcf", "ics", "sav", "save", "raw", "tif", "tiff", "heic", "psd", "xcf", "kra", "svg",
    "wav", "flac", "mp3", "ogg", "opus", "m4a", "mp4", "mkv", "mov", "avi", "zip", "7z", "tar", "gz", "vdi", "qcow2",
    "vmdk", "kdbx", "gpg", "pem", "key", "sql", "blend", "gpx", "kml",
})  # fmt: skip


def personal_parts(tree: Tree, top: str) -> list[str]:
    """Outermost paths at or below `top` that hold a person's own work only."""
    return [top] if _personal_file(tree, top) else _parts(tree, top)[1]


def _personal_file(tree: Tree, path: str) -> bool:
    return tree.kind(path) == "file" and base(path).rpartition(".")[2].lower() in TYPES and "." in base(path).strip(".")


def _parts(tree: Tree, folder: str) -> tuple[bool, list[str]]:
    """(whether all of the folder is personal, the personal parts)."""
    children = list(tree.children(folder)) if tree.kind(folder) == "folder" else []
    found: list[str] = []
    whole = bool(children)
    for child in children:
        if tree.kind(child) == "folder":
            if base(child).lower() in FOLDERS and tree.files_below(child):
                found.append(child)
                continue
            all_of_it, parts = _parts(tree, child)
            found += [child] if all_of_it else parts
            whole = whole and (all_of_it or not tree.files_below(child))
        elif _personal_file(tree, child):
            found.append(child)
        else:
            whole = False
    return whole and bool(found), found
