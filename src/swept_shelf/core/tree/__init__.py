"""The one shared walk: sizes, identities, folder totals, hard-link groups; and its index on disk. Reading an index needs no NumPy."""
