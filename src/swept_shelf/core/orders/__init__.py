"""Verdicts, packages by line, what comes back, what must be settled first, the plan."""

from swept_shelf.core.orders.check import check_order
from swept_shelf.core.orders.draw import Choice, draw_order
from swept_shelf.core.orders.plan import make_plan
from swept_shelf.core.orders.scope import Scope

__all__ = ["Choice", "Scope", "check_order", "draw_order", "make_plan"]
