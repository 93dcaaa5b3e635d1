"""What points at an application: kinds/ declares each kind, the rest is made from what they declare."""

from swept_shelf.core.references.find import Found, find_references
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.references.take_out import cuts_for

__all__ = ["Found", "Pointee", "Pointees", "cuts_for", "find_references"]
