"""Actions that were described for it by hand (polkit(8), declaring actions)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_words, one
from swept_shelf.core.references.well_formed import why_not_well_formed


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for action in document(text).walk():
        if action.name == "action":
            said = " ".join(e.own.strip() for e in action.inner if e.name == "annotate")
            name = action.attributes.get("id", "")
            above = [".".join(name.split(".")[:n]) for n in range(name.count(".") + 1, 1, -1)]
            targets = (*of_words(said), *(t for a in above for t in one(By.BUS, a)))
            yield element_entry(text, action, name, targets, "an action that starts it with rights")


KIND = Kind(
    "action",
    "security",
    ("action with rights", "actions with rights"),
    (
        Place("/usr/local/share/polkit-1/actions/*.policy"),
        Place("/etc/polkit-1/actions/*.policy"),
        Place("/usr/share/polkit-1/actions/*.policy"),
    ),
    _parse,
    alone="entries",
    why_broken=why_not_well_formed,
    strict=True,
)
