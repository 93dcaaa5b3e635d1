"""One place that points at an application, as a finder saw it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Hit:
    """`whole`: the file as a whole is the reference and is taken out as one."""

    id: str
    family: str
    kind: str
    path: str
    line: int
    key: str
    text: str
    detail: str
    whole: bool = False
    in_effect: bool = True
