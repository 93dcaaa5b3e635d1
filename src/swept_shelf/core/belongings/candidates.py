"""Candidate places: what stands in the standard folders, in homes and in the system, and no registry lists."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass

from swept_shelf.core.belongings.common import is_common
from swept_shelf.core.belongings.standard_folders import is_standard
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.tree.icon_themes import is_a_themes
from swept_shelf.core.tree.walk import Tree

HOME_PLACES = (
    (".config", Kind.PREFERENCES),
    (".local/share", Kind.SUPPORT),
    (".local/state", Kind.STATE),
    (".cache", Kind.CACHE),
)
SYSTEM_PLACES = (
    ("/etc", Kind.PREFERENCES),
    ("/var/lib", Kind.STATE),
    ("/var/cache", Kind.CACHE),
    ("/var/log", Kind.LOG),
    ("/var/spool", Kind.STATE),
    ("/var/crash", Kind.LOG),
    ("/var/games", Kind.STATE),
    ("/var/lib/games", Kind.STATE),
    ("/srv", Kind.SUPPORT),
    ("/var/tmp", Kind.CACHE),
    ("/tmp", Kind.CACHE),
    ("/run", Kind.STATE),
    ("/opt", Kind.SUPPORT),
    ("/usr/local/etc", Kind.PREFERENCES),
    ("/usr/local/share", Kind.SUPPORT),
    ("/usr/local/lib", Kind.SUPPORT),
)
_LANGUAGES = (
    "python",
    "perl",
    "ruby",
    "site_ruby",
    "node",
    "lua",
    "php",
    "R",
)  # what was installed for a language, by whomever
# What shells, logins and the desktop itself keep in a home.
_HOME_OWN = frozenset(
    {
        ".config",
        ".local",
        ".cache",
        ".bashrc",
        ".profile",
        ".bash_profile",
        ".bash_history",
        ".bash_logout",
        ".zshrc",
        ".zprofile",
        ".zshenv",
        ".ssh",
        ".gnupg",
        ".Xauthority",
        ".ICEauthority",
        ".xsession-errors",
        ".xprofile",
        ".swept-shelf",
        ".sudo_as_admin_successful",
        ".lesshst",
        ".viminfo",
        ".wget-hsts",
        ".bash_aliases",
        ".face",
        ".hidden",
        ".zsh_history",
        ".histfile",
        ".python_history",
        ".pam_environment",
        ".xsessionrc",
        ".xinitrc",
        ".Xresources",
        ".icons",
        ".themes",
        ".fonts",
    }
)


@dataclass(frozen=True, slots=True)
class Place:
    """A candidate: a path that exists, whose it is, what kind its standard folder makes it, and how programs would name
    it: `rest` below each home (.config/NAME), or absolute."""

    path: str
    person: str
    kind: Kind
    rest: str


def candidates(
    tree: Tree,
    people: Iterable[Person],
    owned: Container[str],
    listed: Container[str],
    folders: Mapping[str, Mapping[str, str]] | None = None,
) -> list[Place]:
    """Children of the standard folders that no registry lists and that are not common, in path order.

    `folders`: per person where the usual folders are (machine/base_folders.py)."""
    found = []
    for person in people:
        where = (folders or {}).get(person.home, {})
        tops = {f: where.get(f, f"{person.home}/{f}") for f, _ in HOME_PLACES}
        for folder, kind in HOME_PLACES:
            outside = not within(tops[folder], person.home)
            for child in tree.children(tops[folder]):
                if outside and not tree.all_owned_by(child, person.uid):
                    continue
                if (
                    not is_common(base(child), False)
                    and not (folder == ".local/share" and base(child) in _EVERYBODYS_DATA)
                    and not child.endswith("/.swept-shelf")
                    and child not in tops.values()
                ):
                    found.append(Place(child, person.name, kind, f"{folder}/{base(child)}"))
        for child in tree.children(person.home):
            if (
                base(child).startswith(".")
                and base(child) not in _HOME_OWN
                and not is_common(base(child), False)
                and child not in tops.values()
            ):
                found.append(Place(child, person.name, Kind.PREFERENCES, base(child)))
        found += _java_settings(tree, person)
        found += [
            Place(p, person.name, Kind.SUPPORT, f".local/share/{p[len(tops['.local/share']) + 1 :]}")
            for p in _desktop_files(tree, tops[".local/share"])
        ]
    for top, kind in SYSTEM_PLACES:
        for child in tree.children(top):
            common = is_common(base(child), True) or (
                top.startswith("/usr/local/") and is_common(base(child), False)
            )
            common = common or (top.startswith("/usr/local/") and base(child).startswith(_LANGUAGES))
            common = common or is_standard(child)
            if child not in owned and child not in listed and not common:
                found.append(Place(child, EVERYONE, kind, child))
    return found


def _java_settings(tree: Tree, person: Person) -> Iterator[Place]:
    """Where programs in Java keep a person's settings: by the names of their packages, three deep or as deep as they go."""
    top = f"{person.home}/.java/.userPrefs"
    for i in tree.slice(top):
        path = tree.paths[i]
        depth = path.count("/") - top.count("/")
        last = depth == 2 and not any(tree.kind(c) == "folder" for c in tree.children(path))
        if tree.is_folder[i] and (depth == 3 or last):
            yield Place(path, person.name, Kind.PREFERENCES, path[len(person.home) + 1 :])


def kind_at(path: str, person: str) -> Kind:
    """What kind a place is by where it stands."""
    words = (
        ("/.cache/", Kind.CACHE),
        ("/.config/", Kind.PREFERENCES),
        ("/.local/state/", Kind.STATE),
        ("/var/cache/", Kind.CACHE),
        ("/var/log/", Kind.LOG),
        ("/etc/", Kind.PREFERENCES),
        ("/var/", Kind.STATE),
    )
    return next(
        (kind for part, kind in words if part in path),
        Kind.PREFERENCES if person != EVERYONE and "/." in path else Kind.SUPPORT,
    )


# Folders of data that what is installed into a home shares; what shells and editors keep beside them is theirs.
_EVERYBODYS_DATA = frozenset(
    [
        "aclocal",
        "appdata",
        "applications",
        "bash-completion",
        "dbus-1",
        "desktop-directories",
        "doc",
        "fonts",
        "gir-1.0",
        "glib-2.0",
        "help",
        "icons",
        "info",
        "licenses",
        "locale",
        "man",
        "menus",
        "metainfo",
        "mime",
        "pixmaps",
        "pkgconfig",
        "polkit-1",
        "sounds",
        "themes",
        "vala",
        "xml",
    ]
)
_DESKTOP_FOLDERS = (
    "icons",
    "pixmaps",
    "fonts",
    "menus",
    "desktop-directories",
    "mime/packages",
    "glib-2.0/schemas",
    "metainfo",
    "sounds",
    "gnome-shell/extensions",
)


def _desktop_files(tree: Tree, data: str) -> Iterator[str]:
    """What programs put into a person's folders of icons, fonts, menus and the like: each file, or a font's folder."""
    for name in _DESKTOP_FOLDERS:
        top = f"{data}/{name}"
        if name == "icons":
            yield from (
                tree.paths[i]
                for i in tree.slice(top)
                if tree.is_file[i] and "/apps/" in tree.paths[i] and not is_a_themes(tree, tree.paths[i])
            )
        else:
            yield from tree.children(top)


_FEW = 40  # entries: a folder with more of them is no vendor's


def below(
    tree: Tree,
    places: Iterable[Place],
    owned: Container[str],
    listed: Container[str],
    only_folders: bool = False,
) -> Iterator[Place]:
    """One level further down, for vendors' folders in homes and below /opt: what stands in them, each as a candidate of its own.

    `only_folders`: of what stands in folders of a few entries only the folders: for the level below that."""
    for place in places:
        if (place.person != EVERYONE or place.path.startswith("/opt/")) and tree.kind(place.path) == "folder":
            children = tree.children(place.path)
            if only_folders:
                children = [c for c in children if tree.kind(c) == "folder"] if len(children) <= _FEW else []
            for child in children:
                if (
                    child not in owned
                    and child not in listed
                    and not is_common(base(child), place.person == EVERYONE)
                ):
                    yield Place(child, place.person, place.kind, f"{place.rest}/{base(child)}")


# Common folders whose own folders are no programs'.
_NOT_PROGRAMS = frozenset(
    [
        "applications",
        "autostart",
        "backgrounds",
        "dbus-1",
        "dconf",
        "environment.d",
        "flatpak",
        "fontconfig",
        "fonts",
        "icons",
        "locale",
        "menus",
        "mime",
        "sounds",
        "swept-shelf",
        "systemd",
        "themes",
        "thumbnails",
        "Trash",
    ]
)


_STORE_DEPTH, _STORE_FILES, _STORES = (
    3,
    3,
    200,
)  # folders below each other, files at least, folders of one at most


def parts_of_common(places: Iterable[Place], tree: Tree) -> Iterator[Place]:
    """Folders directly in what every program uses: one of them may be a program's own part."""
    for place in places:
        if base(place.path) not in _NOT_PROGRAMS and tree.kind(place.path) == "folder":
            for child in tree.children(place.path):
                if tree.kind(child) == "folder" and not is_common(base(child), False):
                    yield Place(child, place.person, place.kind, f"{place.rest}/{base(child)}")


def files_of_stores(place: Place, tree: Tree) -> Iterator[Place]:
    """Files of a store that has one for each program: of a folder inside that holds nothing but files of one ending, several."""
    folders = [place.path]
    for folder in folders:
        children = tree.children(folder)
        kinds = {tree.kind(c) for c in children}
        if "folder" in kinds:
            inner = [c for c in children if tree.kind(c) == "folder" and base(c) not in _NOT_PROGRAMS]
            folders += inner[:_STORES] if folder.count("/") - place.path.count("/") < _STORE_DEPTH else []
        elif kinds == {"file"} and len(children) >= _STORE_FILES and folder != place.path:
            endings = {base(c).rpartition(".")[2] for c in children}
            if len(endings) == 1 and all("." in base(c) for c in children):
                for child in children:
                    yield Place(child, place.person, place.kind, child.removeprefix(f"{parent(place.path)}/"))


def common_places(
    tree: Tree, people: Iterable[Person], folders: Mapping[str, Mapping[str, str]]
) -> Iterator[Place]:
    """What candidates() leaves out in homes because the list says that it is nobody's alone."""
    for person in people:
        for folder, kind in HOME_PLACES:
            top = folders.get(person.home, {}).get(folder, f"{person.home}/{folder}")
            for child in tree.children(top):
                if is_common(base(child), False):
                    yield Place(child, person.name, kind, f"{folder}/{base(child)}")
        for child in tree.children(person.home):
            if base(child).startswith(".") and is_common(base(child), False):
                yield Place(child, person.name, Kind.SUPPORT, base(child))
