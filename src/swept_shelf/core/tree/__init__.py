"""The one shared walk: sizes, identities, folder totals, hard-link groups; and its index on disk."""

from swept_shelf.core.tree.walk import Entry, Tree, walk

__all__ = ["Entry", "Tree", "walk"]
