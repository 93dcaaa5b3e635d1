"""Belongings of applications that are gone: no claimant today, but evidence of a former one.

Evidence is the registry's history, a package whose settings are still known, a launcher or list of documents that
leads to a program which is not there, or a text that names one inside a place. What belonged to it is called like it and stands where applications keep things."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import replace

from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import is_distinctive, normal
from swept_shelf.core.belongings.resolve import Ruling
from swept_shelf.core.belongings.workshops import Workshops
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Belonging, LeftBehind, Proof, Was
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.registries.debian.package import DebianRegistry, HistoryEvent
from swept_shelf.core.tree.walk import Tree

_SYSTEMS_OWN = ("/opt/", "/etc/", "/var/lib/", "/var/cache/", "/var/log/", "/var/spool/", "/usr/local/")


def find_left_behind(
    registry: DebianRegistry | None,
    places: list[Place],
    claimed: set[str],
    names: dict[str, str],
    maker: Maker,
    tree: Tree,
    former: dict[str, tuple[str, Proof]],
    inside: dict[str, tuple[str, Proof]],
    tops: Container[str] = (),
) -> list[LeftBehind]:
    """Packages removed earlier (still half known, or only in the log) whose names unclaimed places carry; `former`
    programs that something still names; and places whose content (`inside`, by path) names one that they are called like."""
    workshops = Workshops(tree, tops)
    free = [
        p for p in places if p.path not in claimed and _for_applications(p) and not workshops.hold(p.path)
    ]
    by_name: dict[str, list[Place]] = {}
    for place in free:
        by_name.setdefault(normal(base(place.path)), []).append(place)
    found = []
    for name, (version, event) in sorted(gone_packages(registry).items() if registry else ()):
        plain = normal(name)
        package = registry.packages.get(name) if registry else None
        proofs = (
            [Proof(By.MATCHED, event.path, event.line, f"{event.action} {event.package}")] if event else []
        )
        if package:
            proofs.append(
                Proof(By.REGISTERED, "/var/lib/dpkg/status", 0, "removed, its settings are still known")
            )
        claim = Claim(f"left:{name}", By.MATCHED, f"called like {name}, which is gone", proofs)
        belongings: list[Belonging] = []
        if is_distinctive(name) and plain not in names:
            for place in by_name.get(plain, ()):
                belongings += [b for _, b in maker.place(place, Ruling(Share.SOLE, claim, []), [])]
        for conffile in package.conffiles if package else ():
            if conffile.path in tree:
                known = Claim(claim.id, By.REGISTERED, "settings file of its package", proofs)
                belongings.append(maker.make(conffile.path, "everyone", Kind.PREFERENCES, known, [], True))
        if belongings or package:
            found.append(
                LeftBehind(
                    f"left:{name}",
                    name,
                    Was("debian", name, version),
                    event.at if event else None,
                    proofs,
                    [replace(b) for b in belongings],
                )
            )
    told = {normal(e.name) for e in found}
    for plain, (name, proof) in sorted(former.items()):
        if plain not in names and plain not in told and plain in by_name:
            claim = Claim(
                f"left:{name}",
                By.SEEN,
                f"called like {name}, which is not there any more",
                [proof],
                tick=False,
            )
            belongings = [
                b
                for place in by_name[plain]
                for _, b in maker.place(place, Ruling(Share.SOLE, claim, []), [])
            ]
            found.append(LeftBehind(f"left:{name}", name, Was("files", name, ""), None, [proof], belongings))
    taken = {b.path for e in found for b in e.belongings}
    by_former: dict[str, list[Place]] = {}
    for place in free:
        if place.path in inside and place.path not in taken and _called_like(place, inside[place.path][0]):
            by_former.setdefault(inside[place.path][0], []).append(place)
    for name, members in sorted(by_former.items()):
        proofs = [inside[p.path][1] for p in members]
        claim = Claim(
            f"left:{name}",
            By.SEEN,
            f"its content names {name}, which is not there any more",
            proofs,
            tick=False,
        )
        belongings = [
            b for place in members for _, b in maker.place(place, Ruling(Share.SOLE, claim, []), [])
        ]
        if normal(name) not in told and normal(name) not in former and normal(name) not in names:
            found.append(LeftBehind(f"left:{name}", name, Was("files", name, ""), None, proofs, belongings))
    return found


def _for_applications(place: Place) -> bool:
    """Whether it stands where applications keep things: a home's folders for that and its hidden ones, or the system's."""
    if place.person != EVERYONE:
        return place.rest.startswith(".")
    return place.path.startswith(_SYSTEMS_OWN)


def _called_like(place: Place, name: str) -> bool:
    """Whether one name begins the other: thing, thing-data, thing2."""
    here, there = normal(base(place.path)), normal(name)
    return bool(here and there) and (here.startswith(there) or there.startswith(here))


def gone_packages(registry: DebianRegistry) -> dict[str, tuple[str, HistoryEvent | None]]:
    """Name to (version, removal in the log) of packages that are not installed any more."""
    installed = {p.plain_name for p in registry.packages.values() if p.installed}
    found: dict[str, tuple[str, HistoryEvent | None]] = {}
    for package in registry.packages.values():
        if package.status == "config-files":
            found[package.name] = (package.version, None)
    for event in registry.history:
        name = event.package.split(":")[0]
        if event.action in ("remove", "purge") and name not in installed:
            version = event.version if event.version not in ("<none>", "") else found.get(name, ("", None))[0]
            if event.action == "remove" or name not in found:
                found[name] = (version, event)
    return found
