"""The only executor: journal, holding shelf, originals, put back."""

from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.execute import carry_out
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.run import Run, carrier_lock, create_run, open_run
from swept_shelf.core.carry.shelf import Slot, find_shelves, slots_on_shelves

__all__ = ["Run", "Slot", "carrier_lock", "carry_out", "create_run", "empty_shelf", "find_shelves", "open_run", "put_back",
           "slots_on_shelves"]  # fmt: skip
