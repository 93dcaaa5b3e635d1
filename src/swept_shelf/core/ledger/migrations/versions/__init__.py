"""One file per change, in order."""
