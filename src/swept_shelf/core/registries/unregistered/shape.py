"""Whether a folder has the shape of an installed program: then it is the program's own, else only the file that is named."""

from __future__ import annotations

import numpy as np

from swept_shelf.core.documents.paths import base
from swept_shelf.core.tree.walk import Tree

# What people write, and programs hardly ever bring along.
_WORK = frozenset(
    {
        "doc",
        "docx",
        "odt",
        "ods",
        "odp",
        "odg",
        "odb",
        "xls",
        "xlsx",
        "ppt",
        "pptx",
        "rtf",
        "eml",
        "mbox",
        "pst",
        "vcf",
        "ics",
        "kdbx",
        "sav",
        "psd",
        "xcf",
        "kra",
        "pages",
        "numbers",
    }
)
_FOLDERS = frozenset({"documents", "invoices", "letters", "photos", "backups", "projects", "mail"})
_DAY_NS = 86_400 * 10**9
_TOGETHER = (
    0.5  # of its files came on a day when something came that can be started: logs and caches come later
)
_ELSEWHERE = ("/srv", "/var", "/mnt", "/media", "/run", "/tmp")  # where data lies, not programs


def looks_like_a_program(tree: Tree, top: str, program: str) -> bool:
    """Files that came with what can be started there, of one owner, no person's work among them, nothing older than the first.

    A file came when its status last changed (the change time), which copying cannot set back."""
    if tree.kind(top) != "folder":
        return True
    if any(top == e or top.startswith(e + "/") for e in _ELSEWHERE):
        return False
    part = tree.slice(top)
    files = np.flatnonzero(tree.is_file[part.start : part.stop]) + part.start
    if (
        not files.size
        or program not in tree
        or any(_is_work(tree.paths[i]) for i in range(part.start + 1, part.stop))
    ):
        return False
    owners = tree.uid[part.start : part.stop]
    if (owners != owners[0]).any():
        return False
    days = np.array(
        sorted(
            {int(tree.ctime[i]) // _DAY_NS for i in files.tolist() if tree.executable[i]}
            | {int(tree.ctime[tree.where[program]]) // _DAY_NS}
        )
    )
    came = tree.ctime[files] // _DAY_NS
    nearest = np.abs(came[:, None] - days[None, :]).min(axis=1)
    return bool((came >= days[0] - 1).all() and (nearest <= 1).mean() >= _TOGETHER)


def _is_work(path: str) -> bool:
    name = base(path).lower()
    return name in _FOLDERS or ("." in name.strip(".") and name.rpartition(".")[2] in _WORK)
