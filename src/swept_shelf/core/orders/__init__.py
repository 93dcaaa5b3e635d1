"""Verdicts, what comes back, what must be settled first, rehearsal."""

from swept_shelf.core.orders.check import check_order
from swept_shelf.core.orders.draw import Choice, draw_order
from swept_shelf.core.orders.plan import make_plan
from swept_shelf.core.orders.rehearse import Rehearsal, rehearse

__all__ = ["Choice", "Rehearsal", "check_order", "draw_order", "make_plan", "rehearse"]
