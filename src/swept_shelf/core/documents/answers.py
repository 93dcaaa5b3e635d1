"""What the owner answered."""

from __future__ import annotations

from dataclasses import dataclass, field

# What the owner can say of an application, as it stands beside the boxes.
BOXES = {
    "remove": "remove it",
    "remove_all": "remove it and its content",
    "keep": "keep it",
    "stop_starting": "do not start it, but keep it",
}


@dataclass(frozen=True, slots=True)
class OwnersAnswer:
    """`answer`: one of the question's, "" where no box is ticked."""

    line: str
    answer: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class Answers:
    by: str = ""
    answers: list[OwnersAnswer] = field(default_factory=list)
