"""Places of the system in nobody's list that a package made: named in its own scripts and called like it or taken away by them,
kept by the tool for settings files (ucf(1)), links that lead to its files, and what the user made for it owns."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Set

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.candidates import Place, kind_at
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import is_common, normal
from swept_shelf.core.belongings.ownership import Ownership
from swept_shelf.core.belongings.package_scripts import lines_filled, variables
from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.paths import base, is_clean, join, parent, ways_up, within
from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.registries.debian.read import ADMIN
from swept_shelf.core.tree.walk import Tree

Settings = Mapping[str, list[tuple[str, int, str]]]  # per package: path, line, and what the line says
_SCRIPTS = ("config", "preinst", "postinst", "prerm", "postrm")
_AT_REMOVAL = ("prerm", "postrm")
_READ_AT_MOST = 1 << 20
_PATH = re.compile(r"(?<![\w.$}/-])/(?:etc|var|usr/local|usr/lib|usr/share|srv|opt)/[\w.+@:/-]+")
_HOW = (  # what a line does to a place, by the words before it
    ("takes", re.compile(r"\brm\s+(?:-\w+\s+)*[^;&|#]*$")),
    ("empties", re.compile(r"\brmdir\b[^;&|#]*$")),
    ("makes", re.compile(r"\bmkdir\b[^;&|#]*$|\binstall\s+(?:-\S+\s+)*-d\b[^;&|#]*$")),
    ("links", re.compile(r"\bln\s+(?:-\S+\s+)*?-\w*s\w*\s+(?:-\S+\s+)*[^-\s]\S*\s+$")),
)
_REGISTRY_OF_SETTINGS = "/var/lib/ucf/registry"
# Where several packages' parts meet and other tools keep the lists: what lies there is theirs or a reference.
_OTHERS = re.compile(
    r"/etc/(alternatives|systemd|rc[\dS]\.d|ssl|passwd|shadow|group|gshadow|subuid|subgid|shells|services|hosts|fstab|mtab"
    r"|environment|ld\.so\.\w+|inetd\.conf|aliases|mailname|hostname|machine-id|localtime|timezone|resolv\.conf|crypttab)(/|-?$)"
    r"|/var/(lib/(dpkg|ucf|apt|systemd|polkit-1|dbus|debconf)|cache/(apt|debconf|man|ldconfig|fontconfig)|run|lock|mail|crash)(/|$)"
    r"|/usr/(lib|share)/(systemd|python3|mime|icons|applications|glib-2\.0|fonts|info|locale|dbus-1)(/|$)"
    r"|/usr/lib/[\w]+-linux-[\w]+$"
)
_SHORT = 4  # letters: a shorter name counts only where it stands alone


def places_made(
    app: Known,
    machine: Machine,
    tree: Tree,
    ownership: Ownership,
    names: Collection[str],
    homes: list[str],
    settings: Settings,
    settings_files: Set[str],
) -> Iterator[tuple[Place, Claim]]:
    """Every such place of an application of the Debian registry, each once for each way it is known. `names`: normalised names of
    the application and its packages; `settings`: what settings_kept() says; `settings_files`: what its packages list as such."""
    own = set(app.own_packages)
    files = {f for package in own for f in ownership.files[package]}
    with_settings = _all_above(files & settings_files)
    # Its own folders go as a whole, apart from those that hold nothing but settings files.
    whole = {
        folder
        for folder in ownership.own_folders(own)
        if folder not in with_settings or any(within(f, folder) for f in files - settings_files)
    }

    def free(path: str) -> bool:
        return _is_free(path, tree, ownership, homes) and whole.isdisjoint(ways_up(path))

    for package in app.own_packages:
        for path, (removes, proof) in _in_scripts(package, _SCRIPTS, machine, tree, free).items():
            called = any(_called(part, names) for part in path.split("/")[2:]) and not is_common(
                base(path), True
            )
            if called or removes:
                why = (
                    "its package’s script makes it or takes it away"
                    if removes
                    else "named in its package’s script"
                )
                yield _place(path, Claim(app.id, By.DECLARED, why, [proof]))
        for path, line, said in settings.get(package, ()):
            if not free(path):
                continue
            proof = Proof(By.DECLARED, _REGISTRY_OF_SETTINGS, line, said)
            yield _place(path, Claim(app.id, By.DECLARED, "kept as a settings file of its package", [proof]))


def _all_above(files: Iterable[str]) -> set[str]:
    """Every folder above any of them."""
    return {way for folder in {parent(f) for f in files} for way in ways_up(folder)}


def _is_free(path: str, tree: Tree, ownership: Ownership, homes: list[str]) -> bool:
    return (
        path in tree
        and not ownership.lists(path)
        and not (tree.kind(path) == "folder" and is_standard(path))
        and not _OTHERS.match(path)
        and not why_never(path, homes)
    )


def _in_scripts(
    package: str, scripts: Iterable[str], machine: Machine, tree: Tree, free: Callable[[str], bool]
) -> dict[str, tuple[bool, Proof]]:
    """Places that a package's scripts name and that are `free`: whether its removal takes it away in any case, or nothing is
    lost with it, and the proof."""
    found: dict[str, tuple[bool, Proof]] = {}
    spared: set[str] = set()  # what is in it is not the package's, by its own word
    for script in scripts:
        file = f"{ADMIN}/info/{package}.{script}"
        for path, line, said, how in _named(_read(machine, file) if file in tree else "", package):
            # A removal through the registry runs these in any case, whatever we do.
            removes = (
                (how == "takes" and script in _AT_REMOVAL)
                or (
                    how in ("makes", "empties") and tree.kind(path) == "folder" and not tree.files_below(path)
                )
                or (how == "links" and tree.kind(path) == "link")
            )
            if how == "empties" and not removes:
                spared.add(path)
            if free(path) and (path not in found or (removes and not found[path][0])):
                found[path] = removes, Proof(By.DECLARED, file, line, said)
    found = {path: known for path, known in found.items() if known[0] or path not in spared}
    for path, (removes, proof) in list(found.items()):
        above = parent(path)
        if removes and free(above) and all(found.get(c, (False,))[0] for c in tree.children(above)):
            found.setdefault(above, (True, proof))  # a folder with nothing else in it
    return found


def taken_by_purges(
    packages: Iterable[str], machine: Machine, tree: Tree, ownership: Ownership, homes: list[str]
) -> dict[str, list[str]]:
    """Per package the places in nobody's list that its own scripts take away when it is removed or forgotten, or that the tool for
    settings files keeps for it: of packages that are no application's."""
    settings = settings_kept(machine)

    def free(path: str) -> bool:
        return _is_free(path, tree, ownership, homes)

    found: dict[str, list[str]] = {}
    for package in packages:
        taken = [
            p for p, (removes, _) in _in_scripts(package, _AT_REMOVAL, machine, tree, free).items() if removes
        ]
        taken += [p for p, _, _ in settings.get(package, ()) if free(p)]
        if taken:
            found[package] = sorted(dict.fromkeys(taken))
    return found


def registered_names(app: Known, ownership: Ownership) -> set[str]:
    """Normalised names of its packages, and of the folders that they alone list."""
    if app.registry != "debian":
        return set()
    folders = ownership.own_folders(set(app.own_packages))
    return {normal(p.split(":")[0]) for p in app.own_packages[:1]} | {normal(base(f)) for f in folders}


def _read(machine: Machine, path: str) -> str:
    try:
        return (
            machine.read_bytes(path, _READ_AT_MOST).decode("utf-8", "surrogateescape")
            if machine.exists(path)
            else ""
        )
    except CouldNotRead:
        return ""  # named by the registry's own reading


def _named(text: str, package: str) -> Iterator[tuple[str, int, str, str]]:
    """(path, line, text, whether the line "takes" it away, "empties" takes a folder only where nothing is in it, "makes" it as a
    folder, "links" it, or none of these) of each path in a script."""
    for number, line, filled in lines_filled(text, variables(text, package)):
        if "/" not in filled:
            continue
        plain = filled.replace('"', "").replace("'", "")
        for match in _PATH.finditer(plain):
            path = match[0].rstrip("/.:")
            if is_clean(path):
                before = plain[: match.start()]
                how = next((word for word, pattern in _HOW if pattern.search(before)), "")
                yield path, number, " ".join(line.split())[:120], how


def _called(part: str, names: Collection[str]) -> bool:
    """Whether a part of a path is called like the application or one of its packages, or has such a word in it."""
    plain = normal(part)
    words = {normal(w) for w in re.split(r"[^A-Za-z0-9+-]+", part)}
    return (
        plain in names
        or any(w in names for w in words if len(w) > 1)
        or any(len(n) > _SHORT and n in plain for n in names)
    )


def settings_kept(machine: Machine) -> Settings:
    """Per package the settings files that the tool for them keeps for it."""
    found: dict[str, list[tuple[str, int, str]]] = {}
    for number, line in enumerate(_read(machine, _REGISTRY_OF_SETTINGS).split("\n"), 1):
        package, _, path = line.partition("\t") if "\t" in line else line.partition(" ")
        path = path.strip()
        if is_clean(path):
            found.setdefault(package.strip(), []).append((path, number, " ".join(line.split())))
    return found


def links_to_own_files(
    tree: Tree, ownership: Ownership, whose: Mapping[str, str]
) -> Iterator[tuple[Place, Claim]]:
    """Links below /etc that nobody lists and that lead to a file of one application: what was switched on in a folder of
    settings that another program reads."""
    part = tree.slice("/etc")
    for i in part:
        path = tree.paths[i]
        if (
            tree.kind(path) != "link"
            or ownership.lists(path)
            or _OTHERS.match(path)
            or parent(path) == "/etc"
        ):
            continue
        leads = parent(tree.real(join(path, "x")))  # as something in it would be reached
        if id := whose.get(leads, ""):
            proof = Proof(By.DECLARED, path, 0, tree.target(path))
            yield _place(path, Claim(id, By.DECLARED, f"leads to its file {leads}", [proof]))


def owned_by_its_user(
    app: Known, accounts: Iterable[str], machine: Machine, tree: Tree, places: Iterable[Place]
) -> Iterator[tuple[Place, Claim]]:
    """Of `places` of the system those that a user made for it owns throughout. `accounts`: names of such users."""
    uids: dict[int, tuple[str, int]] = {}
    wanted = set(accounts)
    for number, line in enumerate(machine.text("/etc/passwd").splitlines(), 1):
        fields = line.split(":")
        if (
            len(fields) > 2
            and fields[0] in wanted
            and (uid := whole(fields[2])) is not None
            and 0 < uid < 1000
        ):
            uids[uid] = fields[0], number
    for place in places if uids else ():
        i = tree.where.get(place.path)
        if place.person == EVERYONE and i is not None and int(tree.uid[i]) in uids:
            name, number = uids[int(tree.uid[i])]
            if tree.all_owned_by(place.path, int(tree.uid[i])):
                proof = Proof(By.DECLARED, "/etc/passwd", number, name)
                yield place, Claim(app.id, By.DECLARED, f"owned by {name}, the user made for it", [proof])


def _place(path: str, claim: Claim) -> tuple[Place, Claim]:
    return Place(path, EVERYONE, kind_at(path, EVERYONE), path), claim
