"""Accounts that were made for an application and own something beside what belongs to it: they stay."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Belonging, Reference
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.tree.walk import Tree

_FAMILY = "accounts"


def accounts_in_use(
    references: list[Reference], tree: Tree, machine: Machine, belongings: list[Belonging]
) -> list[Reference]:
    """The references, those to accounts that own other files left where they are, with how many those are."""
    asked = [r for r in references if r.family == _FAMILY and KINDS[r.kind].action == "ask"]
    if not asked:
        return references
    taken = [b.path for b in belongings if b.is_path]
    owned: dict[str, int] = {}
    for line in machine.text("/etc/passwd").splitlines():
        fields = line.split(":")
        if (
            len(fields) > 3
            and (uid := whole(fields[2])) is not None
            and any(r.key == fields[0] for r in asked)
        ):
            mine = np.flatnonzero(tree.uid == uid).tolist()
            inside = {i for path in taken for i in tree.slice(path)}
            owned[fields[0]] = sum(i not in inside for i in mine)
    return [
        replace(
            r, action="leave", detail=f"{r.detail}: owns {plural(owned[r.key], 'file')} beside what is its"
        )
        if r in asked and owned.get(r.key)
        else r
        for r in references
    ]
