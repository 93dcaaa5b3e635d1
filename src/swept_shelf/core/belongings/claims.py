"""Claims to candidate places: by a name that is one application's alone, and by what its own files declare."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Container, Mapping
from dataclasses import dataclass, field, replace

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.common import is_distinctive, is_ordinary, normal, spellings, without_version
from swept_shelf.core.belongings.names import Declared
from swept_shelf.core.documents.paths import base, parent, ways_up
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import By, Kind
from swept_shelf.core.tree.walk import Tree

NAMED, INSIDE = "named inside its program", "its name stands inside its program"


@dataclass(slots=True)
class Claim:
    """One application's claim to a place, with its strongest proof and all evidence; `tick`: sure enough to go along; `part`:
    only because something inside is its; `exact`: the place is called by a distinctive name of its, letter by letter."""

    id: str
    proof: By
    reason: str
    evidence: list[Proof] = field(default_factory=list)
    tick: bool = True
    part: bool = False
    exact: bool = False

    @property
    def by_text_alone(self) -> bool:
        """Whether nothing but a text inside its program says so: it may be a program that takes over from the place's own."""
        return self.reason in (NAMED, INSIDE) and all(e.proof == By.DECLARED for e in self.evidence)


def claim_places(
    places: list[Place],
    tree: Tree,
    people: list[Person],
    names: dict[str, str],
    sources: dict[str, dict[str, str]],
    declared: dict[str, list[Declared]],
    gone: Container[str] = (),
) -> dict[str, list[Claim]]:
    """Claims per path. A declared inner place of a folder that others use too is claimed by itself.

    `names`: distinctive normalised name to application; `declared`: places named by each application; `gone`: names of
    former packages."""
    claims: dict[str, list[Claim]] = defaultdict(list)
    by_rest: dict[str, list[Place]] = defaultdict(list)
    for place in places:
        by_rest[place.rest].append(place)
        called = base(place.path)
        plain = next((n for n in spellings(called, gone) if n in names), "")
        if id := names.get(plain):
            source = sources[id].get(plain, "its name")
            claims[place.path].append(
                Claim(
                    id,
                    By.MATCHED,
                    f"called like {source}",
                    [Proof(By.MATCHED, place.path)],
                    not is_ordinary(plain) and _ends_so(without_version(called), plain),
                    exact=is_distinctive(plain) and normal(called) == plain,
                )
            )
        if (
            not claims[place.path]
            and place.kind == Kind.CACHE
            and (among := _named_among(base(place.path), names))
        ):
            claims[place.path].append(
                Claim(among, By.MATCHED, "a cache with its name in it", [Proof(By.MATCHED, place.path)])
            )
    inner: dict[str, dict[str, list[tuple[str, Declared]]]] = defaultdict(lambda: defaultdict(list))
    for id, all_of_it in declared.items():
        for told in all_of_it:
            first, rest = _split(told.place)
            for place in by_rest.get(first, ()):
                exact = f"{place.path}/{rest}" if rest else ""
                inner[place.path][exact if exact in tree else ""].append((id, told))
    for top, parts in inner.items():
        whole = {id for id, _ in parts.get("", ())}
        former = any(n in gone for n in spellings(base(top)))
        everyone = {id for rows in parts.values() for id, _ in rows} | {c.id for c in claims.get(top, ())}
        called_so = {c.id for c in claims.get(top, ())}
        if len(everyone) == 1 and (
            called_so or any(_is_firm(d) or d.place == top for r in parts.values() for _, d in r)
        ):
            for rows in parts.values():
                for id, d in rows:
                    _add(claims[top], id, d, former)
            continue
        for path, rows in parts.items():
            for id, d in rows:
                # A place that is named is not a place that is owned: what lies above what a stranger names is not its.
                # Where several name parts of a folder that is called like none of them, each has what it names.
                among_others = path and len(everyone) > 1 and not called_so
                stranger = not (among_others or id in called_so or id in whole or _is_firm(d))
                _add(claims[path or top], id, d, former, tick=not stranger)
        for id in everyone - whole - {c.id for c in claims.get(top, ())}:
            claims[top].append(
                Claim(id, By.MATCHED, "keeps a part of it", [Proof(By.MATCHED, top)], tick=False, part=True)
            )
    return claims


def _named_among(called: str, names: Mapping[str, str]) -> str:
    """The one application whose own name stands among the words of a name, as a toolkit puts it there (TOOLKIT-NAME-part); ""
    where none's or several's does."""
    words = [normal(w) for w in re.split(r"[^0-9A-Za-z+]+", called) if w]
    found = {names[w] for w in words if w in names and is_distinctive(w)}
    return found.pop() if len(found) == 1 and len(words) > 1 else ""


def _ends_so(called: str, plain: str) -> bool:
    """Whether a name only has endings beside `plain`: a later generation's number may be another program's."""
    return not any(n != plain and n.rstrip("0123456789") == plain for n in spellings(called))


def _is_firm(told: Declared) -> bool:
    """Said by what installs or starts it, not by a text inside a program alone."""
    return told.source.endswith((".service", ".socket")) or any(
        f in told.source for f in ("/tmpfiles.d/", "/logrotate.d/", "/sysusers.d/")
    )


def _split(place: str) -> tuple[str, str]:
    """A declared place as (candidate, rest below it)."""
    parts = place.split("/")
    depth = (
        3
        if place.startswith(".local/")
        else 4
        if place.startswith("/var/")
        else 3
        if place.startswith("/")
        else 2
    )
    return "/".join(parts[:depth]), "/".join(parts[depth:])


def _add(claims: list[Claim], id: str, told: Declared, former: bool, tick: bool = True) -> None:
    """One more declaration. A program alone that names a place of the system, which it may only look into, or one that is called
    like something gone (`former`), is not sure enough to have it go along."""
    evidence = Proof(By.DECLARED, told.source, told.line, told.text)
    reason = "named in its unit" if told.source.endswith((".service", ".socket")) else NAMED
    if "/tmpfiles.d/" in told.source or "/logrotate.d/" in told.source:
        reason = "named in its " + ("temporary files" if "/tmpfiles.d/" in told.source else "log rotation")
    for claim in claims:
        if claim.id == id:
            if claim.proof in (By.SEEN, By.MATCHED):
                claim.proof, claim.reason, claim.tick = By.DECLARED, reason, tick
            if evidence not in claim.evidence:
                claim.evidence.append(evidence)
            return
    alone = reason == NAMED and (told.place.startswith("/") or former)
    claims.append(Claim(id, By.DECLARED, reason, [evidence], tick=tick and not alone))


def inherit(claims: dict[str, list[Claim]]) -> None:
    """Inside a folder that is called like an application, what others name there is that application's too: programs name
    others' places to take something over from them."""
    named_so = {
        path: mine
        for path, all_of_it in claims.items()
        if (mine := [c for c in all_of_it if not c.part and any(e.proof == By.MATCHED for e in c.evidence)])
    }
    for path, mine in claims.items():
        outer = next((named_so[above] for above in ways_up(parent(path)) if above in named_so), [])
        here = {c.id for c in mine}
        if mine and here - {c.id for c in outer}:
            mine += [replace(c, evidence=list(c.evidence)) for c in outer if c.id not in here]


def inner_claims(in_order: list[str], path: str) -> list[str]:
    """Of claimed paths, sorted, those below `path`."""
    return in_order[bisect_left(in_order, path + "/") : bisect_left(in_order, path + "0")]
