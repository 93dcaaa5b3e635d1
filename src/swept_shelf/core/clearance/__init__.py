"""Looking again: every place that could still point at what went, and the volumes measured."""

from swept_shelf.core.clearance.look import look_again

__all__ = ["look_again"]
