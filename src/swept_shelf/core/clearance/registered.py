"""What the registry says now: states of packages and the files that are its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application, Person
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.registries.entry import Reading
from swept_shelf.core.registries.others import read_again
from swept_shelf.core.registries.ways import keeps_books
from swept_shelf.core.tree.part import part_of

LET_IT_MEND = "let the registry mend itself first: dpkg --configure -a"


def registered(machine: Machine) -> tuple[dict[str, str], dict[str, str], str]:
    """Status by package, the files registries own with the sums of settings files, and why the registry could not be read."""
    if not debian.present(machine):
        return {}, {}, ""
    try:
        packages = debian.query(machine)
    except CouldNotRead as error:
        return {}, {}, error.reason
    there = [p for p in packages if p.installed]
    owned = {path: "" for p in there for f in p.files for path in (f, f"/usr{f}")}
    owned |= {c.path: c.md5 for p in there for c in p.conffiles}
    return {p.name: p.status for p in packages}, owned, ""


def still_listed(
    machine: Machine, people: list[Person], entries: Iterable[Application]
) -> tuple[set[str], dict[str, str]]:
    """Of applications whose registries are books and receipts: the ids that these still have, and by id why that could not be
    looked at."""
    wanted = [a for a in entries if keeps_books(a.registry)]
    tops = {a.id: [b.path for b in a.belongings if b.is_path and b.proof == By.REGISTERED] for a in wanted}
    tree = part_of(machine, {p for a in wanted for p in (*tops[a.id], a.receipt) if p})
    reading = Reading(machine, tree, people)
    found = read_again(reading, {a.registry for a in wanted})
    trouble = [*tree.not_read, *reading.not_read]
    why = {
        a.id: f"{row.path}: {row.reason}"
        for a in wanted
        for row in trouble
        if row.path == a.receipt or any(within(row.path, t) or within(t, row.path) for t in tops[a.id])
    }
    return found, why


def is_installed(states: Mapping[str, str], packages: Iterable[str]) -> bool:
    """Whether any of the packages is here, whole or half, by what `registered` said."""
    return any(states.get(p, "not-installed") not in ("not-installed", "config-files") for p in packages)
