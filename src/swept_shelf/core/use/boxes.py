"""Sign: what Flatpak and Snap leave in a person's home each time they start an application."""

from __future__ import annotations

import re

from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.terms import PARTS
from swept_shelf.core.use.trace import FAIR, GOOD, Look, Trace

KIND = "started in its box"


def look(at: Look) -> None:
    names = {
        (s.app.registry, _name(s.id)): s.id
        for s in at.subjects
        if s.app.registry in ("flatpak", "snap") and s.app.type not in PARTS
    }
    for person in at.people:
        for (registry, name), id in names.items():
            for path, note, trust in (
                _flatpak(at, person, name) if registry == "flatpak" else _snap(at, person, name)
            ):
                status = at.machine.lstat(path)
                if status:
                    at.saw(KIND)
                    when = int(status.st_mtime)
                    at.traces.append(
                        Trace(
                            id,
                            KIND,
                            when,
                            person.name,
                            path,
                            trust,
                            None,
                            0,
                            "an upgrade may have made it anew",
                            at.timely(when),
                            note,
                        )
                    )


def _name(id: str) -> str:
    """ORG of flatpak:system:ORG/ARCH/BRANCH, NAME of snap:NAME."""
    return re.split(r"[:]", id)[-1].split("/")[0]


def _flatpak(at: Look, person: Person, name: str) -> list[tuple[str, str, str]]:
    """The loader's cache is written at the first start after an upgrade, the runtime's folder of an instance at every start."""
    top = f"{person.home}/.var/app/{name}"
    found = [
        (f"{top}/{inner}", "made as it was started", trust)
        for inner, trust in ((".ld.so", FAIR), ("cache/tmp", GOOD))
        if f"{top}/{inner}" in at.tree
    ]
    if at.machine.live:
        folder = f"/run/user/{person.uid}/.flatpak"
        for instance in at.machine.names(folder):
            info = f"{folder}/{instance}/info"
            if at.machine.exists(info) and f"name={name}\n" in at.machine.text(info):
                found.append((info, "an instance is running", GOOD))
    return found


def _snap(at: Look, person: Person, name: str) -> list[tuple[str, str, str]]:
    """`current` leads to the revision last started by this person; its launcher helper notes each start."""
    top = f"{person.home}/snap/{name}"
    return [
        (p, "made as it was started", FAIR)
        for p in (f"{top}/current", f"{top}/current/.last_revision")
        if at.machine.exists(p)
    ]
