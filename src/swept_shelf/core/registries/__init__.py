"""A folder per kind of registry: read.py (present, read, history), change.py (simulate, keep, remove, restore)."""
