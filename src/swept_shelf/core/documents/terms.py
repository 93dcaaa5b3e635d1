"""The words that documents use where only some will do: written as they are, read strictly."""

from __future__ import annotations

from enum import StrEnum
from typing import Any


def as_written(member: str) -> str:
    """A member called like a word of the language loses its underscore where it is written."""
    return member.rstrip("_")


AS_SPELLED: dict[str, Any] = {"alias_generator": as_written}  # pydantic's configuration of such a document


class Verdict(StrEnum):
    KEEP = "keep"
    REMOVE = "remove"
    CLEAR_CACHE = "clear_cache"
    STOP_STARTING = "stop_starting"
    MOVE_DATA = "move_data"
    ASK_OWNER = "ask_owner"


TYPES = ("desktop", "terminal", "service", "kernel", "runtime")  # what an application is
PARTS = ("kernel", "runtime")  # of a system or a registry: nobody keeps anything under their names

LOOKING = (
    "survey",
    "clearance",
    "trace",
)  # what a worker does that changes nothing, and ends with whoever wanted it


class SoFar(StrEnum):
    """How much of a survey that is still being taken is known: each has what stands above it, too."""

    REGISTERED = "registered"  # names, and sizes as whoever built the packages wrote them down
    SIZED = "sized"  # what is in no registry as well; true sizes of programs
    BELONGINGS = "belongings"  # all but when it was used


class Kind(StrEnum):
    """What bytes are for; the order is the fixed place in every band."""

    PROGRAM = "program"
    SUPPORT = "support"
    PREFERENCES = "preferences"
    CACHE = "cache"
    STATE = "state"
    LOG = "log"


KINDS = tuple(Kind)


class By(StrEnum):
    """The kinds of proof."""

    REGISTERED = "registered"
    DECLARED = "declared"
    SEEN = "seen"
    MATCHED = "matched"
    TOLD = "told"


GONE = "gone"  # the registry of an application that none has any more


class Share(StrEnum):
    SOLE = "sole"
    SHARED = "shared"
    COMMON = "common"


class Task(StrEnum):
    """What a run is made to do."""

    CARRY_OUT = "carry_out"
    PUT_BACK = "put_back"
    EMPTY = "empty"


class Ended(StrEnum):
    """How a run came to its end."""

    CARRIED_OUT = "carried_out"
    STOPPED = "stopped"
    PUT_BACK = "put_back"
    EMPTIED = "emptied"


class Went(StrEnum):
    """How an operation of a run went; `left`: with its whole line."""

    WAITS = "waits"
    NOW = "now"
    DONE = "done"
    SKIPPED = "skipped"
    LEFT = "left"
    PUT_BACK = "put_back"
    STAYS = "stays"


class Looked(StrEnum):
    """What a clearance says of one line and one family of places."""

    CLEAR = "clear"
    FOUND = "found"
    COULD_NOT_LOOK = "could_not_look"
    NOT_PART = "not_part"
