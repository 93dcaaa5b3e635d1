"""Grammars of files that several parts read: each tells what stands where, as spans of characters."""
