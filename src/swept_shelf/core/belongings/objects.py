"""What belongs to an application and is no file of its own: accounts and groups made for it, alternatives, diversions, settings
in dconf, kernel modules, databases in a local server, folders that stand openly in a home. Named, with proof; never part of an
order by themselves."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from functools import cached_property
from xml.parsers import expat

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.common import normal, spellings
from swept_shelf.core.belongings.keyring import items_of, read_items
from swept_shelf.core.belongings.package_scripts import lines_filled, variables
from swept_shelf.core.belongings.postgres import databases_of
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Belonging, Person, Proof, Volume
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.grammars.gvdb import keys_of
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.machine.read_once import ReadOnce
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.references.pointees import bus_names
from swept_shelf.core.registries.debian.diversions import FILE as DIVERSIONS
from swept_shelf.core.registries.debian.diversions import read_diversions
from swept_shelf.core.registries.debian.read import ADMIN
from swept_shelf.core.tree.walk import Tree

_SYSUSERS = re.compile(r"^\s*([ug])!?\s+([a-z_][\w.-]{0,30})\b.*$", re.M)
_MAKES = re.compile(r"\b(adduser|useradd|addgroup|groupadd)\b([^\n;&|]*(?:\|[^\n;&|]*\))?[^\n;&|]*)")
_WITH_GROUP = re.compile(r"(?:^|\s)(?:--group|--user-group|-U)(?=\s)")
_DATABASES = ("/var/lib/mysql", "/var/lib/mariadb")
_POSTGRES = "/var/lib/postgresql"
_LISTED = 40
_ALTERNATIVES = "/var/lib/dpkg/alternatives"
Alternatives = dict[str, list[tuple[str, int]]]


def objects_of(
    app: Known,
    files: list[str],
    once: ReadOnce,
    tree: Tree,
    people: Iterable[Person],
    volumes: list[Volume],
    names: Mapping[str, str],
    choices: Alternatives,
    accounts: AccountsMade,
) -> list[Belonging]:
    """Everything of this application that is no path. `names`: distinctive name to application; `choices`: what
    read_alternatives() says."""
    found = [
        *accounts.by(app, files),
        *_alternatives(set(files), choices),
        *_diversions(app, once),
        *_overrides(set(files), once),
        *_modules(files, tree),
        *_databases(app, once.machine, tree, names),
        *_in_the_open(app, tree, people, names),
    ]
    found += [b for p in people for b in (*_dconf(files, once, p), *_keyring(app, files, once, p))]
    return [_placed(b, volumes) for b in found]


def _placed(b: Belonging, volumes: list[Volume]) -> Belonging:
    return replace(b, volume=volume_of(volumes, b.path if b.path.startswith("/") else "/").id)


def _object(
    kind: str,
    path: str,
    what: Kind,
    reason: str,
    proof: Proof,
    person: str = EVERYONE,
    size: int = 0,
    files: int = 0,
) -> Belonging:
    return Belonging(
        object=kind,
        path=path,
        volume="",
        identity=None,
        files=files,
        newest_write=None,
        person=person,
        kind=what,
        bytes=size,
        proof=proof.proof,
        reason=reason,
        share=Share.SOLE,
        shared_with=[],
        personal=kind == "database",
        ticked=False,
        evidence=[proof],
        certain=proof.proof == By.REGISTERED,
    )


class AccountsMade:
    """Users and groups that an application's sysusers.d files or its package's scripts make, where they are there."""

    def __init__(self, machine: Machine, tree: Tree) -> None:
        self._machine, self._tree = machine, tree
        self._made: dict[str, list[Belonging]] = {}

    @cached_property
    def _there(self) -> dict[str, set[str]]:
        return {
            "user": _first_fields(self._machine, "/etc/passwd"),
            "group": _first_fields(self._machine, "/etc/group"),
        }

    def by(self, app: Known, files: list[str]) -> list[Belonging]:
        """Read once for each application."""
        if app.id not in self._made:
            self._made[app.id] = [
                _object(kind, name, Kind.STATE, f"made for it: {kind} of the system", proof)
                for (kind, name), proof in self._told(app, files).items()
                if name in self._there[kind] and name != "root"
            ]
        return self._made[app.id]

    def _told(self, app: Known, files: list[str]) -> dict[tuple[str, str], Proof]:
        machine, tree = self._machine, self._tree
        told: dict[tuple[str, str], Proof] = {}
        for path in files:
            if "/sysusers.d/" in path:
                text = machine.text(path)
                for m in _SYSUSERS.finditer(text):
                    proof = Proof(By.DECLARED, path, text.count("\n", 0, m.start()) + 1, m[0].strip())
                    told.setdefault(("user" if m[1] == "u" else "group", m[2]), proof)
                    if m[1] == "u":
                        told.setdefault(("group", m[2]), proof)
        for package in app.own_packages if app.registry == "debian" else ():
            for script in ("preinst", "postinst"):
                path = f"{ADMIN}/info/{package}.{script}"
                text = machine.text(path) if path in tree else ""
                if not _MAKES.search(text):
                    continue
                for number, _, filled in lines_filled(text, variables(text, package)):
                    for m in _MAKES.finditer(filled):
                        proof = Proof(By.DECLARED, path, number, " ".join(m[0].split())[:120])
                        for word in m[2].split():
                            name = word.strip("\"'")
                            told.setdefault(("group" if "group" in m[1] else "user", name), proof)
                            if _WITH_GROUP.search(m[2]):
                                told.setdefault(("group", name), proof)
        return told


def _first_fields(machine: Machine, path: str) -> set[str]:
    """Accounts of the system in passwd(5) or group(5): people's own are not made for an application."""
    found = set()
    for line in machine.text(path).splitlines():
        parts = line.split(":")
        if len(parts) > 2 and (number := whole(parts[2])) is not None and not 1000 <= number < 65534:
            found.add(parts[0])
    return found


def read_alternatives(machine: Machine) -> Alternatives:
    """Every choice of update-alternatives(1), by what it leads to."""
    found: Alternatives = {}
    for name in machine.names(_ALTERNATIVES):
        for number, line in enumerate(machine.text(f"{_ALTERNATIVES}/{name}").splitlines(), 1):
            if line.startswith("/"):
                found.setdefault(line, []).append((name, number))
    return found


def _alternatives(files: set[str], choices: Alternatives) -> Iterator[Belonging]:
    """Choices that lead to its files, each at the first line that says so."""
    lines: dict[str, tuple[int, str]] = {}
    for path in files & choices.keys():
        for name, number in choices[path]:
            lines[name] = min(lines.get(name, (number, path)), (number, path))
    for name, (number, path) in sorted(lines.items()):
        yield _object(
            "alternative",
            name,
            Kind.PROGRAM,
            "a choice that leads to its program",
            Proof(By.REGISTERED, f"{_ALTERNATIVES}/{name}", number, path),
        )


def _diversions(app: Known, machine: ReadOnce) -> Iterator[Belonging]:
    """Files of others that its package moved aside (dpkg-divert(1))."""
    for line, aside, to, package in read_diversions(machine.text(DIVERSIONS)):
        if package in app.own_packages:
            yield _object(
                "diversion",
                aside,
                Kind.PROGRAM,
                f"its package moved it to {to}",
                Proof(By.REGISTERED, DIVERSIONS, line, aside),
            )


def _overrides(files: set[str], machine: ReadOnce) -> Iterator[Belonging]:
    """Owners and modes that were set for its files (dpkg-statoverride(1))."""
    for number, line in enumerate(machine.text("/var/lib/dpkg/statoverride").splitlines(), 1):
        parts = line.split(" ", 3)
        if len(parts) == 4 and parts[3] in files:
            yield _object(
                "statoverride",
                parts[3],
                Kind.PREFERENCES,
                f"owner and mode set to {' '.join(parts[:3])}",
                Proof(By.REGISTERED, "/var/lib/dpkg/statoverride", number, line),
            )


def _modules(files: list[str], tree: Tree) -> Iterator[Belonging]:
    """Kernel modules that are built from its sources."""
    for path in files:
        if path.startswith("/usr/src/") and path.endswith("/dkms.conf"):
            name = re.sub(r"-[\d.]+[\w.~+-]*$", "", path.split("/")[3])
            top = f"/var/lib/dkms/{name}"
            if top in tree:
                yield _object(
                    "module",
                    top,
                    Kind.STATE,
                    "kernel modules built from its sources",
                    Proof(By.DECLARED, path),
                    EVERYONE,
                    tree.bytes_below(top),
                    tree.files_below(top),
                )


def _databases(app: Known, machine: Machine, tree: Tree, names: Mapping[str, str]) -> Iterator[Belonging]:
    """Databases of a local server that are called like it: named, never touched."""
    for server in _DATABASES:
        for top in tree.children(server):
            if tree.kind(top) == "folder" and names.get(normal(base(top))) == app.id:
                yield _database(top, top, tree)
    for cluster in (
        c for version in tree.children(_POSTGRES) for c in tree.children(version) if f"{c}/base" in tree
    ):
        try:
            told = databases_of(machine, cluster)
        except CouldNotRead:
            continue  # the walk names what may not be read
        for name, oid in told.items():
            if names.get(normal(name)) == app.id:
                yield _database(f"{cluster}, database {name}", f"{cluster}/base/{oid}", tree)


def _database(called: str, folder: str, tree: Tree) -> Belonging:
    return _object(
        "database",
        called,
        Kind.STATE,
        "a database called like it: only its server may remove it",
        Proof(By.MATCHED, folder),
        EVERYONE,
        tree.bytes_below(folder),
        tree.files_below(folder),
    )


def _in_the_open(
    app: Known, tree: Tree, people: Iterable[Person], names: Mapping[str, str]
) -> Iterator[Belonging]:
    """Folders and settings files called like it that stand openly in a home: the person's own, whoever made them. Named with what
    they hold."""
    for person in people:
        for top in tree.children(person.home):
            if (
                not base(top).startswith(".")
                and tree.kind(top) in ("folder", "file")
                and any(names.get(n) == app.id for n in spellings(base(top)))
            ):
                held = f"called like it and open in the home, so {person.name}’s own: {human_bytes(tree.bytes_below(top))}"
                found = _object(
                    tree.kind(top),
                    top,
                    Kind.SUPPORT,
                    held,
                    Proof(By.MATCHED, top),
                    person.name,
                    0,
                    tree.files_below(top),
                )
                entry = tree.entry(top)
                yield replace(found, personal=True, identity=entry.identity if entry else None)


def _dconf(files: list[str], machine: ReadOnce, person: Person) -> Iterator[Belonging]:
    """Settings that a person changed, under the paths of its schemas."""
    paths: dict[str, Proof] = {}
    for path in files:
        if path.endswith(".gschema.xml"):
            paths |= {p: Proof(By.DECLARED, path, line, p) for p, line in schema_paths(machine.text(path))}
    if not paths:
        return
    database = f"{person.home}/.config/dconf/user"
    try:
        keys = keys_of(machine.read_bytes(database)) if machine.exists(database) else []
    except (CouldNotRead, ValueError):
        return
    for top, proof in sorted(paths.items()):
        if mine := [k for k in keys if k.startswith(top)]:
            few = ", ".join(k[len(top) :] for k in mine[:3])
            yield _object(
                "dconf",
                top,
                Kind.PREFERENCES,
                f"settings under its schema’s path: {few}",
                proof,
                person.name,
                0,
                len(mine),
            )


def _keyring(app: Known, files: list[str], machine: ReadOnce, person: Person) -> Iterator[Belonging]:
    """Items of a person's keyrings whose attributes name it; their secrets are not read."""
    names = {
        app.id.split(":")[-1].split("/")[0],
        *(lf.id.removesuffix(".desktop") for lf in app.launchers),
        *(base(e) for e in app.executables),
        *bus_names(files),
        *(p.split(":")[0] for p in app.own_packages[:1]),
    }
    folder = f"{person.home}/.local/share/keyrings"
    for name in machine.names(folder):
        if name.endswith(".keyring"):
            path = f"{folder}/{name}"
            try:
                mine = list(items_of(read_items(machine.read_bytes(path)), names))
            except (CouldNotRead, ValueError):
                continue  # of another format: nothing is learnt from it
            for item, attribute, called in mine:
                proof = Proof(By.SEEN, path, 0, f"{attribute} = {called}")
                yield _object(
                    "keyring",
                    f"{name.removesuffix('.keyring')}, item {item.id}",
                    Kind.PREFERENCES,
                    f"an item of this keyring is its: {attribute} is {called}",
                    proof,
                    person.name,
                )


def schema_paths(text: str) -> list[tuple[str, int]]:
    """(path, line) of the schemas in a gschema.xml; what is not well-formed ends the list."""
    found: list[tuple[str, int]] = []
    parser = expat.ParserCreate()

    def start(name: str, attributes: dict[str, str]) -> None:
        path = attributes.get("path", "")
        if name == "schema" and path.startswith("/") and path.endswith("/") and len(path) > 2:
            found.append((path, parser.CurrentLineNumber))

    parser.StartElementHandler = start
    try:
        parser.Parse(text.encode("utf-8", "surrogateescape"), True)
    except expat.ExpatError:
        pass
    return found[:_LISTED]
