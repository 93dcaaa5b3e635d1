"""Whose each candidate place is: all claims over all applications together, the stronger proof first."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from dataclasses import dataclass, field

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.common import is_ordinary, normal, stem
from swept_shelf.core.belongings.names import Declared
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.tree.walk import Tree

STRENGTH = {"told": 60, "registered": 50, "declared": 30, "seen": 20, "matched": 10}


@dataclass(slots=True)
class Claim:
    """One application's claim to a place, with its strongest proof and all evidence; `tick`: sure enough to go along."""

    id: str
    proof: str
    reason: str
    evidence: list[Proof] = field(default_factory=list)
    tick: bool = True


def claim_places(places: list[Place], tree: Tree, people: list[Person], names: dict[str, str],
                 sources: dict[str, dict[str, str]], declared: dict[str, list[Declared]]) -> dict[str, list[Claim]]:  # fmt: skip
    """Claims per path. A declared inner place of a folder that others use too is claimed by itself.

    `names`: distinctive normalised name to application; `declared`: places named by each application."""
    claims: dict[str, list[Claim]] = defaultdict(list)
    by_rest: dict[str, list[Place]] = defaultdict(list)
    for place in places:
        by_rest[place.rest].append(place)
        called = base(place.path)
        plain = next((n for n in (normal(called), normal(stem(called)), _last_part(called)) if n in names), "")
        if id := names.get(plain):
            source = sources[id].get(plain, "its name")
            claims[place.path].append(Claim(id, "matched", f"called like {source}", [Proof("matched", place.path)], not is_ordinary(plain)))
    inner: dict[str, dict[str, list[tuple[str, Declared]]]] = defaultdict(lambda: defaultdict(list))
    for id, all_of_it in declared.items():
        for told in all_of_it:
            first, rest = _split(told.place)
            for place in by_rest.get(first, ()):
                exact = f"{place.path}/{rest}" if rest else ""
                inner[place.path][exact if exact in tree else ""].append((id, told))
    for top, parts in inner.items():
        whole = {id for id, _ in parts.get("", ())}
        everyone = {id for rows in parts.values() for id, _ in rows} | {c.id for c in claims.get(top, ())}
        if len(everyone) == 1:
            for rows in parts.values():
                for id, d in rows:
                    _add(claims[top], id, d, top)
            continue
        for path, rows in parts.items():
            for id, d in rows:
                _add(claims[path or top], id, d, path or top)
        for id in everyone - whole - {c.id for c in claims.get(top, ())}:
            claims[top].append(Claim(id, "matched", "keeps a part of it", [Proof("matched", top)]))
    return claims


def _last_part(name: str) -> str:
    """The last part of a reverse domain name: org.example.Thing is Thing."""
    return normal(name.rsplit(".", 1)[1]) if name.count(".") >= 2 and not name.startswith(".") else ""


def _split(place: str) -> tuple[str, str]:
    """A declared place as (candidate, rest below it)."""
    parts = place.split("/")
    depth = 3 if place.startswith(".local/") else 4 if place.startswith("/var/") else 3 if place.startswith("/") else 2
    return "/".join(parts[:depth]), "/".join(parts[depth:])


def _add(claims: list[Claim], id: str, told: Declared, path: str) -> None:
    evidence = Proof("declared", told.source, told.line, told.text)
    reason = "named in its unit" if told.source.endswith((".service", ".socket")) else "named inside its program"
    if "/tmpfiles.d/" in told.source or "/logrotate.d/" in told.source:
        reason = "named in its " + ("temporary files" if "/tmpfiles.d/" in told.source else "log rotation")
    if "/dpkg/info/" in told.source:
        reason = "named in its package's script"
    for claim in claims:
        if claim.id == id:
            if STRENGTH[claim.proof] < STRENGTH["declared"]:
                claim.proof, claim.reason, claim.tick = "declared", reason, True
            if evidence not in claim.evidence:
                claim.evidence.append(evidence)
            return
    claims.append(Claim(id, "declared", reason, [evidence]))


def decide(claims: list[Claim]) -> tuple[Claim, list[str]]:
    """The owner and whom it shares with: a stronger proof wins, the same proof makes it shared. A program that only names a
    place does not take it from one that it is called like and that holds its name too."""
    best = max(_strength(c) for c in claims)
    strongest = [c for c in claims if _strength(c) == best]
    return strongest[0], sorted({c.id for c in strongest[1:]} - {strongest[0].id})


_FIRM, _OWN_NAME = 45, 40
_FIRM_FILES = ("/dpkg/info/", "/tmpfiles.d/", "/logrotate.d/")


def _strength(claim: Claim) -> int:
    """A unit or a package's script that names it is firm; so is nearly a place called like it whose name its own program holds."""
    if claim.proof == "declared" and any(e.path.endswith((".service", ".socket")) or any(f in e.path for f in _FIRM_FILES) for e in claim.evidence):
        return _FIRM
    kinds = {e.proof for e in claim.evidence}
    if "matched" in kinds and "declared" in kinds and STRENGTH[claim.proof] <= STRENGTH["declared"]:
        return _OWN_NAME
    return STRENGTH[claim.proof]


def inner_claims(in_order: list[str], path: str) -> list[str]:
    """Of claimed paths, sorted, those below `path`."""
    return in_order[bisect_left(in_order, path + "/") : bisect_left(in_order, path + "0")]
