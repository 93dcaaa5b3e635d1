"""Claims by literals: a place whose very name stands inside one application's programs, and inside nobody else's.

What a library of the system names too is a toolkit's, and common. A name that several applications hold is shared by
them. A place known by its literal alone is ticked only when something in it is called like the application too."""

from __future__ import annotations

import re
from collections.abc import Callable, Container, Iterable, Mapping
from dataclasses import replace

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import INSIDE, Claim
from swept_shelf.core.belongings.common import (
    MINIMUM_NAME,
    is_distinctive,
    normal,
    spellings,
    stem,
    without_version,
)
from swept_shelf.core.belongings.literals import Literals
from swept_shelf.core.belongings.resolve import SEVERAL
from swept_shelf.core.belongings.workshops import Workshops
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.tree.walk import Tree

_SYSTEM = ""
_OF_ITS_KIND = re.compile(r"(app|application|gui|qt\d?|gtk\d?)$")  # put behind a name that is its
_PASSING, _WORD = ("/tmp/", "/var/tmp/"), re.compile(r"[^0-9A-Za-z]")


def literals_of(place: Place, names: Container[str], tree: Tree) -> set[str]:
    """The name of a place as a program would hold it; of a hidden one also with its dot, which says more. An ordinary word only
    where an application is called so (`names`), or all in it is; one in a temporary folder, where new names come every hour and
    each would have every program searched again, only where its first word is an application's."""
    if java := _java_package(place):
        return {java, java.replace("/", ".")}
    called = base(place.path)
    plain = called.lstrip(".")
    if place.path.startswith(_PASSING) and not any(n in names for n in spellings(_WORD.split(plain, 1)[0])):
        return set()
    versionless = {v} if (v := without_version(plain)) != plain and is_distinctive(v) else set()
    return (
        versionless
        | (
            {plain}
            if is_distinctive(plain)
            or any(n in names for n in spellings(called))
            or (len(plain) > 2 and _called_like(place.path, names, tree, all))
            else set()
        )
        | ({s} if (s := _settings_of(plain)) and is_distinctive(s) else set())
        | ({called} if called.startswith(".") and len(plain) > 1 else set())
    )


def _settings_of(name: str) -> str:
    """What a toolkit was told to call the settings, to which it adds the ending itself; "" for another file."""
    return next((name.removesuffix(e) for e in (".ini", ".conf") if name.endswith(e)), "")


JAVA_SETTINGS = ".java/.userPrefs/"


def _java_package(place: Place) -> str:
    """The name of the package whose settings stand there, with slashes (java.util.prefs); "" for another place."""
    return place.rest.removeprefix(JAVA_SETTINGS) if place.rest.startswith(JAVA_SETTINGS) else ""


def claim_by_literals(
    places: list[Place],
    claims: dict[str, list[Claim]],
    literals: Literals,
    whose: Mapping[str, str],
    sources: dict[str, dict[str, str]],
    tree: Tree,
    registered: Mapping[str, Container[str]],
    workshops: Workshops,
    above: Container[str] = (),
) -> dict[str, Proof]:
    """Add to `claims`. `whose`: application of each program file that is one application's alone; `sources`: the names of
    each application; `registered`: normalised names of its packages and of the folders that they alone list, however short or
    ordinary; `above`: places of the level before, whose parts these may be. Returns what nobody claims and the system's own programs
    name: path to the file that does."""
    common: dict[str, Proof] = {}
    for place in places:
        java = bool(_java_package(place))
        hidden, holders = _holders(place, literals, whose)
        hidden = hidden or java
        mine = claims.get(place.path, [])
        inner = parent(place.path) in above
        certain = hidden or _tells(base(place.path), inner)
        if inner:  # a part is named by who names the whole
            whole = _holders(
                replace(place, path=parent(place.path), rest=parent(place.rest)), literals, whose
            )[1]
            at_home = place.person != EVERYONE  # where a maker's name may be put together
            holders = {id: f for id, f in holders.items() if id in whole or (at_home and not whole)}
        if _SYSTEM in holders and not mine and certain and (len(holders) == 1 or not inner):
            common[place.path] = Proof(By.DECLARED, holders[_SYSTEM], 0, base(place.path))
        called_so = {c.id for c in mine if c.proof == By.MATCHED and not c.part and c.id in holders}
        if not (certain or called_so or _SYSTEM in holders):  # short, but all in it is called like one
            holders = {
                id: file
                for id, file in holders.items()
                if _called_like(place.path, sources.get(id, {}), tree, all)
            }
            certain = bool(holders)
        if not called_so and (_SYSTEM in holders or not 0 < len(holders) <= SEVERAL or not certain):
            continue
        mine = claims.setdefault(place.path, mine)
        if any(c.proof in (By.REGISTERED, By.DECLARED, By.MATCHED) for c in mine):
            for c in mine:
                if c.id in holders and not c.part:
                    c.evidence.append(Proof(By.DECLARED, holders[c.id], 0, base(place.path)))
                    if (
                        c.proof == By.MATCHED
                        and len(holders) == 1
                        and (
                            hidden
                            or _tells(base(place.path), inner)
                            or normal(base(place.path)) in sources.get(c.id, {})
                        )
                    ):  # its very name; with the dot however ordinary the word
                        c.tick = True
            continue
        for id, path in sorted(holders.items()):
            supported = len(holders) == 1 and (
                java
                or _called_like(place.path, sources.get(id, {}), tree)
                # Its very name, with the dot where it is no name of its own, and its registry has something of that name for
                # it alone: two signs. So is a name that begins with the application's.
                or (
                    (hidden or _tells(base(place.path), inner))
                    and normal(base(place.path)) in registered.get(id, ())
                )
                or (hidden and normal(base(place.path)).rstrip("0123456789") in sources.get(id, {}))
                or _begins_with(base(place.path), sources.get(id, {}), hidden)
            )
            if not supported and workshops.is_or_lies_in_one(place.path):
                continue  # a working copy, a language's environment: whoever looks for such names it
            mine.append(
                Claim(id, By.DECLARED, INSIDE, [Proof(By.DECLARED, path, 0, base(place.path))], supported)
            )
    return common


def _tells(name: str, inner: bool) -> bool:
    """Whether a literal of this name says whose a place is: settings.json in a folder of nobody's does not."""
    return is_distinctive(name) and not (inner and not is_distinctive(stem(name)))


def _holders(place: Place, literals: Literals, whose: Mapping[str, str]) -> tuple[bool, dict[str, str]]:
    """Whether they hold it with its dot, and the applications that hold a place's name, each with a file of it."""
    called = base(place.path)
    java = _java_package(place)
    plain = called.lstrip(".")
    spelled = (
        (java, java.replace("/", "."))
        if java
        else [n for n in dict.fromkeys((called, plain, without_version(plain), _settings_of(plain))) if n]
    )
    for name in spelled:
        holders: dict[str, str] = {}
        for path in literals.holders.get(name, ()):
            holders.setdefault(whose.get(path, _SYSTEM), path)
        if holders:
            return name.startswith("."), holders
    return False, {}


def database_ids(places: list[Place], machine: Machine, tree: Tree) -> dict[str, dict[str, str]]:
    """Per place the application ids that its databases carry (SQLite database header, bytes 68 to 71), as programs write
    them (decimal and hexadecimal), with the database that carries it."""
    found: dict[str, dict[str, str]] = {}
    for place in places:
        for path in _databases(tree, place.path):
            try:
                head = machine.read_bytes(path, 100)
            except CouldNotRead:
                continue  # the walk names what may not be read
            if head.startswith(b"SQLite format 3\0") and (
                number := int.from_bytes(head[68:72], "big", signed=True)
            ):
                found.setdefault(place.path, {}).update(
                    dict.fromkeys(
                        (str(number), f"0x{number & 0xFFFFFFFF:08x}", f"0x{number & 0xFFFFFFFF:x}"), path
                    )
                )
    return found


def _databases(tree: Tree, top: str) -> list[str]:
    """A few files of a place that may be databases."""
    wanted = [
        i
        for i in tree.slice(top)
        if tree.is_file[i] and tree.paths[i].endswith((".db", ".sqlite", ".sqlite3", ".db3"))
    ]
    return [tree.paths[i] for i in wanted[:4]]


def claim_by_database_ids(
    ids: dict[str, dict[str, str]],
    claims: dict[str, list[Claim]],
    literals: Literals,
    whose: Mapping[str, str],
) -> None:
    """A database whose application id one application's programs set shows whose its place may be."""
    for path, numbers in ids.items():
        holders = {
            whose.get(file, _SYSTEM): (number, file)
            for number in numbers
            for file in literals.holders.get(number, ())
        }
        if len(holders) == 1 and _SYSTEM not in holders and not claims.get(path):
            ((id, (number, file)),) = holders.items()
            proofs = [
                Proof(By.SEEN, numbers[number], 0, f"application id {number}"),
                Proof(By.DECLARED, file, 0, number),
            ]
            claims.setdefault(path, []).append(
                Claim(
                    id, By.SEEN, "a database in it carries the id that its program sets", proofs, tick=False
                )
            )


def _begins_with(name: str, names: Iterable[str], hidden: bool) -> bool:
    """Whether a place is called like the application and something more (NAME_part), without the number of a generation; by an
    ordinary word only where its program holds it with its dot."""
    first, *more = _WORD.split(name.lstrip("."))
    meant = {x for n in names for x in (n, n.rstrip("0123456789")) if len(x) >= MINIMUM_NAME}
    return bool(more) and normal(first) in meant and (hidden or is_distinctive(first))


def _first_word(name: str) -> str:
    """The first of several, where it tells; "" else."""
    first, *more = _WORD.split(name.lstrip("."))
    return normal(first) if more and is_distinctive(first) and stem(name) != first else ""


def _called_like(
    path: str, names: Container[str], tree: Tree, much: Callable[[Iterable[bool]], bool] = any
) -> bool:
    """Whether `any`thing directly in the folder, or `all`, or the file itself, is called like the application; or all is called like
    it and something more (thing_64bit.conf)."""
    inside = [base(path)] if tree.kind(path) == "file" else [base(child) for child in tree.children(path)]
    so = [
        any(n in names or _OF_ITS_KIND.sub("", n) in names for n in (normal(stem(name)), normal(name)))
        for name in inside
    ]
    return bool(inside) and (
        much(so) or all(_first_word(name) in names or is_so for name, is_so in zip(inside, so, strict=True))
    )
