"""One operation, one module. Each says and does everything about its operation:

describe(op)                what it does and where, in a technician's words
why_not_mine(op, machine)   the rights that the caller lacks for it, "" where none
room(op, machine, volumes)  bytes that must be free before it, by volume
check(op, ask)              before the first operation of its line: raises Refused, CouldNotRead where it could not be done
do(op, number, work)        do it, or finish what an earlier try of it began; returns what the journal says of it.
                            Raises Gone (nothing is left to do), Changed, CouldNotRead, Refused, OSError
undo(slot, back)            put back what a slot of it holds; returns "" or why it stays. Not for what leaves no slot
STOPS                       whether its line stops when it fails
UNDONE_LAST                 whether it comes back after all else, for it is made of that; only where it is so
"""

from __future__ import annotations

from types import ModuleType

from swept_shelf.core.carry.ops import anew, edit, end, forget, keep, move, remove, row, shelve, uninstall
from swept_shelf.core.documents.operations import Operation

BY_NAME: dict[str, ModuleType] = {
    "keep_original": keep,
    "remove_packages": remove,
    "purge_packages": forget,
    "shelve": shelve,
    "edit_lines": edit,
    "take_row": row,
    "uninstall": uninstall,
    "end_programs": end,
    "move_data": move,
    "make_anew": anew,
}


def module_of(op: Operation) -> ModuleType:
    return BY_NAME[op.do]


def describe(op: Operation) -> tuple[str, str]:
    """What an operation does and where, in a technician's words."""
    what, where = module_of(op).describe(op)
    return what, where
