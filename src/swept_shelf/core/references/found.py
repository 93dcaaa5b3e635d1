"""What a search for references found, in how many files of which places, and what could not be looked at."""

from __future__ import annotations

from dataclasses import dataclass, field

from swept_shelf.core.documents.survey import NotRead, Reference

_GONE = "is not there"


@dataclass(slots=True)
class Found:
    """References and mere mentions by application, what was looked at by family and place, and what could not be."""

    references: dict[str, list[Reference]] = field(default_factory=dict)
    mentions: dict[str, list[Reference]] = field(default_factory=dict)
    searched: int = 0
    looked_at: dict[str, int] = field(default_factory=dict)
    looked_in: dict[str, dict[str, int]] = field(default_factory=dict)
    not_read: dict[str, list[NotRead]] = field(default_factory=dict)

    def could_not(self, family: str, path: str, reason: str) -> None:
        row = NotRead(path, reason)
        if reason != _GONE and row not in self.not_read.setdefault(family, []):
            self.not_read[family].append(row)
