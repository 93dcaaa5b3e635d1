"""Visits on disk: machines, visits, surveys, orders, runs, clearances. Imports documents only."""

from swept_shelf.core.ledger.store import Ledger, VisitRow

__all__ = ["Ledger", "VisitRow"]
