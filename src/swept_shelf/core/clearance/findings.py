"""A finding: the very place, with the lines around it, and whether it can be taken out."""

from __future__ import annotations

from swept_shelf.core.documents.clearance import Finding, standing_id
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.survey import Reference
from swept_shelf.core.machine.machine import Machine

_SECRET = ("/etc/shadow", "/etc/gshadow")  # the lines beside it are nobody's business


def finding_of(r: Reference, machine: Machine) -> Finding:
    """A reference as a clearance shows it."""
    before, after = [], []
    if r.line and r.path not in _SECRET:
        try:
            lines = machine.read_text(r.path).removesuffix("\n").split("\n")
            before, after = lines[max(0, r.line - 2) : r.line - 1], lines[r.line : r.line + 1]
        except CouldNotRead:
            pass
    detail = r.detail if r.in_effect else f"{r.detail}; not in effect"
    return Finding(r.path, r.line, r.text, detail, before, after, r.id, r.kind, r.action, r.in_effect)


def standing(whose: str, path: str, detail: str, action: str = "leave", text: str = "") -> Finding:
    """Something that stands where it should not: a path, or a row of a registry that `path` is the place of."""
    id, kind = standing_id(whose, path, text), "row" if text else "path"
    return Finding(path, 0, text or path, detail, [], [], id, kind, action)
