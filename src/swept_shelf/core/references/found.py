"""What a search for references found, in how many files of which places, and what could not be looked at."""

from __future__ import annotations

from dataclasses import dataclass, field

from swept_shelf.core.documents.survey import NotRead, Reference

Counted = tuple[dict[str, int], dict[str, dict[str, int]]]  # files by family, and by family and place
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

    def counted(self) -> Counted:
        """How much was looked at, as it stands now."""
        return dict(self.looked_at), {family: dict(places) for family, places in self.looked_in.items()}

    def count_as(self, counted: Counted) -> None:
        self.looked_at, self.looked_in = counted

    def count(self, other: Found) -> None:
        """Add what was looked at for another, and what could not be."""
        for family, number in other.looked_at.items():
            self.looked_at[family] = self.looked_at.get(family, 0) + number
        for family, places in other.looked_in.items():
            mine = self.looked_in.setdefault(family, {})
            for place, number in places.items():
                mine[place] = mine.get(place, 0) + number
        for family, rows in other.not_read.items():
            for row in rows:
                self.could_not(family, row.path, row.reason)

    def could_not(self, family: str, path: str, reason: str) -> None:
        row = NotRead(path, reason)
        if reason != _GONE and row not in self.not_read.setdefault(family, []):
            self.not_read[family].append(row)
