"""What desk and command line both do on one machine with one ledger: surveys (workshop), and, read when they are asked for, orders
and their runs (orders), what waits on the holding shelves (shelves), looking again and what follows from it (proof)."""

from swept_shelf.workshop.workshop import Surveyed, Workshop

__all__ = ["Surveyed", "Workshop"]
