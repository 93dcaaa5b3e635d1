"""One place that points at an application, as it was found."""

from __future__ import annotations

from dataclasses import dataclass

from swept_shelf.core.references.kind import Entry


@dataclass(frozen=True, slots=True)
class Hit:
    """`whole`: the file as a whole is the reference and is taken out as one."""

    id: str
    entry: Entry
    whole: bool = False
