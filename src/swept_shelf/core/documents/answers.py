"""What the owner answered."""

from __future__ import annotations

from dataclasses import dataclass, field


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
