"""A module per kind of pointer: find and explain; taking out is returned as operations."""

from swept_shelf.core.references.find import Found, find_references
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.references.take_out import cuts_for

__all__ = ["Found", "Pointee", "Pointees", "cuts_for", "find_references"]
