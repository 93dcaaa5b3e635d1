"""Whose every path is, as the index keeps it: what is not named here belongs to whom its folder belongs.

An application's id, `left:NAME`, `store:KIND`, `person:NAME`, `common`, `system`, or "" where nobody is known."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.ownership import Ownership
from swept_shelf.core.documents.survey import Application, CommonPlace, LeftBehind, Person, SharedStore
from swept_shelf.core.documents.terms import By, Share
from swept_shelf.core.survey.places import COMMON, NOBODY, SYSTEM

# What lies here and nobody claims is the system's own work, until a candidate place below it turns out to be nobody's.
_SYSTEMS = (
    "/bin",
    "/boot",
    "/etc",
    "/lib",
    "/lib32",
    "/lib64",
    "/libx32",
    "/lost+found",
    "/run",
    "/sbin",
    "/usr",
    "/var",
    "/swapfile",
    "/swap.img",
    "/initrd.img",
    "/vmlinuz",
)
_OPEN = ("/", "/home", "/media", "/mnt", "/opt", "/root", "/srv", "/usr/local")


def owners(
    people: list[Person],
    ownership: Ownership,
    by_package: Mapping[str, str],
    places: Iterable[Place] = (),
    entries: Iterable[Application | LeftBehind] = (),
    stores: Iterable[SharedStore] = (),
    common: Iterable[CommonPlace] = (),
) -> dict[str, str]:
    """Owner by path; the later word is the more exact one. `by_package`: application of each package that is its own; with that
    alone most of it is known."""
    found: dict[str, str] = {path: SYSTEM for path in _SYSTEMS}
    known: dict[Collection[str], str] = {}  # the same packages list many

    def whose(packages: Collection[str]) -> str:
        if (id := known.get(packages)) is None:
            id = known[packages] = _one(by_package.get(n, SYSTEM) for n in packages)
        return id

    for folder, names in ownership.folders.items():
        found[folder] = whose(names)
    found.update(dict.fromkeys(_OPEN, NOBODY))
    for person in people:
        found[person.home] = f"person:{person.name}"
    for place in places:
        if not place.path.startswith("/run/"):  # made anew at every start, by the system or by who is running
            found[place.path] = NOBODY
    found.update((place.path, COMMON) for place in common)
    for store in stores:
        if store.kind != "downloads":  # a person's own, only listed
            found[store.path] = store.id
    for package, files in ownership.files.items():
        found.update(dict.fromkeys(files, by_package.get(package, SYSTEM)))
    found.update([(path, whose(listed)) for path, listed in ownership.owner.items() if len(listed) > 1])
    for entry in entries:
        for b in entry.belongings:
            if not b.is_path or not (b.certain or b.personal):
                continue
            if b.proof != By.REGISTERED or not entry.id.startswith("debian:"):
                found[b.path] = (
                    f"person:{b.person}"
                    if b.personal
                    else COMMON
                    if b.share == Share.COMMON
                    else min([entry.id, *b.shared_with])
                )
    return found


def _one(ids: Iterable[str]) -> str:
    """The one they all are; the system's where several share it."""
    different = set(ids)
    return different.pop() if len(different) == 1 else SYSTEM
