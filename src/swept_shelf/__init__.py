"""Swept Shelf: inventory, complete removal and proof, for computer technicians."""

__version__ = "0.1.0"
