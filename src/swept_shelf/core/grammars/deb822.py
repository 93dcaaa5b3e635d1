"""Stanzas of fields (deb822(5)), with their places."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from swept_shelf.core.grammars.lines import lines_of


@dataclass(slots=True)
class Stanza:
    """`start` to `end` in the text, with the empty line behind it."""

    number: int
    start: int
    end: int
    fields: dict[str, str] = field(default_factory=dict)

    def get(self, name: str) -> str:
        return self.fields.get(name.lower(), "")


def stanzas(text: str) -> Iterator[Stanza]:
    """Every stanza that has a field; comments before it belong to it."""
    found: Stanza | None = None
    last = ""
    for line in lines_of(text):
        bare = line.text.strip()
        if not bare:
            if found is not None:
                found.end = line.end
                if found.fields:
                    yield found
            found, last = None, ""
            continue
        if found is None:
            found = Stanza(line.number, line.start, line.end)
        found.end = line.end
        if bare.startswith("#"):
            continue
        if line.text[0] in " \t" and last:
            found.fields[last] += " " + bare
        elif ":" in line.text:
            name, _, value = line.text.partition(":")
            if not found.fields:
                found.number = line.number
            last = name.strip().lower()
            found.fields[last] = value.strip()
    if found is not None and found.fields:
        yield found
