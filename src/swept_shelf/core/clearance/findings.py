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


def standing_at(whose: str, path: str, detail: str, stays: str) -> Finding:
    """A path that stands where nothing of it should; `stays`: why no order takes it from there, "" where one does."""
    said = f"{detail}, and {stays}" if stays else detail
    return Finding(
        path, 0, path, said, [], [], standing_id(whose, path), "path", "leave" if stays else "take_out"
    )


def standing(whose: str, path: str, detail: str, text: str) -> Finding:
    """A row of a registry, or a process: `path` is its place, `text` the row."""
    return Finding(path, 0, text, detail, [], [], standing_id(whose, path, text), "row")
