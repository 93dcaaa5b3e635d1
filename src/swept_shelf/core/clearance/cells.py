"""The cells that a clearance and a trace have in common: references of a family, processes, and what would help to look."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from swept_shelf.core.clearance.findings import finding_of, standing
from swept_shelf.core.documents.clearance import Cell, Finding, LookedIn
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import NotRead, Person
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.machine.facts import rights
from swept_shelf.core.machine.held import LISTENS, MAPPED, RUNS, AllHeld, Held
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.pointees import Pointee

_HIDDEN = "may not be read"
_ABSENT = "the home is not there"


def with_state(
    family: str, looked_at: str, findings: list[Finding], why_not: str = "", helps: str = ""
) -> Cell:
    """Found where something is; where not all could be looked at it is never clear."""
    if findings:
        return Cell(family, Looked.FOUND, looked_at, findings, helps)
    if why_not:
        return Cell(family, Looked.COULD_NOT_LOOK, why_not, [], helps)
    return Cell(family, Looked.CLEAR, looked_at, [])


def references_cell(id: str, family: str, found: Found, machine: Machine, people: list[Person]) -> Cell:
    """What points at it from the places of one family."""
    rows = [finding_of(r, machine) for r in found.references.get(id, ()) if r.family == family]
    unread = found.not_read.get(family, [])
    why_not, helps = said_of(unread, people)
    return with_state(family, plural(found.looked_at.get(family, 0), "file"), rows, why_not, helps)


def said_of(unread: list[NotRead], people: list[Person]) -> tuple[str, str]:
    """What could not be looked at, in words, and what would help."""
    if not unread:
        return "", ""
    first = unread[0]
    more = f", and {plural(len(unread) - 1, 'more place')}" if len(unread) > 1 else ""
    return f"{first.path}: {first.reason}{more}", what_helps(first, people)


def what_helps(row: NotRead, people: Iterable[Person]) -> str:
    """What would let one look there: whose rights, which volume, whose hand."""
    reason = row.reason
    person = next((p for p in people if within(row.path, p.home)), None)
    if _ABSENT in reason:
        return "mount the volume that it lies on, or unlock it, and look again"
    if "key" in reason and "not available" in reason:
        return f"{person.name if person else 'its owner'} unlocks the home by signing in; then look again"
    if _HIDDEN in reason or "not permitted" in reason:
        if rights() == "administrator":
            return "its owner unlocks it: administrator rights are not enough there"
        return f"look again with administrator rights{f', or as {person.name}' if person else ''}"
    if "input/output error" in reason or "stale" in reason:
        return "the volume does not give it out: check the disk first"
    if (
        "larger than" in reason
        or "holds more than" in reason
        or "longer than" in reason
        or "memory" in reason
    ):
        return "it is too large for us: look into it by hand"
    if "is not a regular file" in reason:
        return "no file stands where one should: see what it is, and take it away"
    return "the file is broken: have it mended, then look again"


def not_to_be_taken(cell: Cell) -> Cell:
    """The cell of an application that is still here: what points at it, and its places, are no leftovers."""
    return replace(cell, findings=[replace(f, action="leave") for f in cell.findings])


def homes_missing(found: Found, families: Iterable[str], homes: Iterable[tuple[str, str]]) -> None:
    """Where a person's home does not stand there, nothing that stands in homes was looked at."""
    for name, home in homes:
        for family in families:
            found.could_not(family, home, f"{_ABSENT}: {name}’s places were not looked at")


_USUAL = {"~config": "~/.config", "~data": "~/.local/share", "~cache": "~/.cache", "~desktop": "~/Desktop"}


def looked_in(found: Found) -> list[LookedIn]:
    """Which places were looked at, by family; those of people as they are usually called."""
    made = []
    for family, places in found.looked_in.items():
        rows: dict[str, int] = {}
        for pattern, files in sorted(places.items()):
            top, slash, rest = pattern.partition("/")
            name = f"{_USUAL.get(top, top)}{slash}{rest}"
            rows[name] = rows.get(name, 0) + files
        made.append(LookedIn(family, rows))
    return made


def mentions_of(id: str, found: Found, machine: Machine) -> list[Finding]:
    return [finding_of(r, machine) for r in found.mentions.get(id, ())]


# -- processes ----------------------------------------------------------------------------------------------------


def processes_cell(pointee: Pointee, gone: Iterable[str], held: AllHeld) -> Cell:
    """Who runs it, has a part of it mapped or open, also without a name any more, and where it listens. `gone`: paths that went."""
    rows = list(_held(pointee, set(gone), held.rows))
    why_not = (
        f"{plural(held.hidden, 'process', 'processes')} of others may not be looked at" if held.hidden else ""
    )
    looked = plural(len({h.pid for h in held.rows}), "process", "processes")
    return with_state("processes", looked, rows, why_not, "look again with administrator rights")


def _held(pointee: Pointee, gone: set[str], rows: list[Held]) -> Iterator[Finding]:
    programs = set(pointee.programs)
    for h in rows:
        its = h.path in programs or h.path in gone or any(within(h.path, f) for f in pointee.folders)
        if its:
            yield standing(pointee.id, h.path, _words(h), text=f"process {h.pid}, {h.program}")


def _words(h: Held) -> str:
    without = ", which has no name any more" if h.deleted else ""
    back = f": {human_bytes(h.bytes)} come back when it ends" if h.bytes else ""
    if h.how == RUNS:
        return f"still runs for {h.user}{without}{back}"
    if h.how == LISTENS:
        return f"listens at {h.at} for {h.user}"
    if h.how == MAPPED:
        return f"has a part of it in memory for {h.user}{without}"
    return f"has it open for {h.user}{without}{back}"
