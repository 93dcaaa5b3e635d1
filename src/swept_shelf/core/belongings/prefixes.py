"""What an installer without a registry puts beside its program into the common folders of one prefix (/usr/local, ~/.local):
pages, translations, pictures, descriptions, each called like the program or its launcher (GNU Coding Standards, "Variables for
Installation Directories"; FHS 3.0, 4.9)."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import is_common, is_distinctive, normal
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import By, Kind
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.tree.icon_themes import is_a_themes
from swept_shelf.core.tree.walk import Tree

_SYSTEM, _PACKAGES, _DAY = "/usr/local", "/usr", 86_400 * 10**9
_BINS = ("bin", "sbin", "games")
_PACKED = r"(?:\.(?:gz|bz2|xz|zst))?"
_PICTURE = r"(?:-symbolic)?\.(?:png|svgz?|xpm)"
_ANY = r"(?P<name>[^/]+)"
# By the first folder: how what stands there is called.
_OWN = {
    "share": (
        _ANY,
        rf"(?:icons|pixmaps)/(?P<name>[^/]+?){_PICTURE}",
        rf"man/(?:[^/]+/)?man\w+/(?P<name>[^/]+?)\.\d\w*{_PACKED}",
        r"locale/[^/]+/LC_\w+/(?P<name>[^/]+)\.mo",
        rf"(?:help/[^/]+|doc/HTML/[^/]+|doc|gtk-doc/html|devhelp/books|licenses|games|xml|pixmaps|kxmlgui\d|texmf/tex/\w+)/{_ANY}",
        r"zsh/vendor-completions/_(?P<name>[^/]+)",
        r"(?:sounds|fonts|themes|java)/(?P<name>[^/]+?)(?:\.jar)?",
        rf"info/(?P<name>[^/]+?)\.info(?:-\d+)?{_PACKED}",
        r"(?:metainfo|appdata)/(?P<name>[^/]+?)\.(?:metainfo|appdata)\.xml",
        r"glib-2\.0/schemas/(?:\d+_)?(?P<name>[^/]+?)\.(?:gschema\.xml|gschema\.override|enums\.xml)",
        r"mime/packages/(?P<name>[^/]+)\.xml",
        rf"icons/[^/]+/.+/(?:\w+-(?:x-|vnd\.))?(?P<name>[^/]+?){_PICTURE}",
        r"(?:emacs/site-lisp|vim/vimfiles/\w+|nano|gtksourceview-\d[.\d]*/language-specs)/(?P<name>[^/.]+)(?:\.\w+)?",
        r"applications/(?P<name>[^/]+)\.desktop",
        r"kservices\d/(?:\w+/)?(?P<name>[^/]+)\.desktop",
        r"dbus-1/interfaces/(?P<name>[^/]+)\.xml",
    ),
    "man": (rf"(?:[^/]+/)?man\w+/(?P<name>[^/]+?)\.\d\w*{_PACKED}",),
    "libexec": (_ANY,),
    "lib": (
        r"(?:\w+-linux-\w+/)?(?P<name>[^/]+?)(?:\.\d\w*)?",
        r"python\d[\d.]*/(?:dist|site)-packages/(?P<name>[^/.]+)(?:\.py)?",
        r"(?:\w+-linux-\w+/)?perl5/(?:\d[\d.]*/)?(?:auto/)?(?P<name>[^/.]+)(?:\.pm)?",
    ),
    "etc": (r"(?P<name>[^/]+?)(?:\.(?:conf|cfg|ini|toml|ya?ml|json|d))?",),
}
# What other programs may be built or linked with.
_LENT = {
    "share": (r"(?:pkgconfig|cmake|aclocal|vala/vapi|gir-1\.0)/(?P<name>[^/]+?)(?:\.\w+)?",),
    "include": (r"(?P<name>[^/]+?)(?:\.h\w*)?",),
    "lib": (
        r"(?:\w+-linux-\w+/)?lib(?P<name>[^/]+?)\.(?:so|a|la)[.\d]*",
        r"(?:\w+-linux-\w+/)?(?:pkgconfig|cmake|girepository-1\.0)/(?P<name>[^/]+?)(?:\.\w+)?",
    ),
}
_LENT["lib64"] = _LENT["lib"]
_SHAPES = {
    first: ([re.compile(s) for s in _OWN.get(first, ())], [re.compile(s) for s in _LENT.get(first, ())])
    for first in dict.fromkeys((*_OWN, *_LENT))
}
_VERSION = re.compile(r"-v?\d[\d.]*$")
_FACES = re.compile(
    r"[-_](?:gtk|qt|gui|cli|console|curses|tui|x11|bin)\d?$"
)  # of one program, each with a name
_LANGUAGE = re.compile(r"(?:python|pypy|perl|ruby|site_ruby|node|node_modules|lua|php|R|tcl|ghc|go)[-\d._]*")
_BEHIND = re.compile(r"(?:rc|lib)$")
_PARTS = re.compile(r"[-_.]")
_MORE = ", and goes on"
_LINKED = re.compile(r"\.so[.\d]*$")
_LIBRARY = re.compile(r"(?:\w+-linux-\w+/)?lib(?P<name>[^/]+?)(?:-\d[\d.]*)?\.(?:so|a|la)[.\d]*")


def libraries(tree: Tree, people: Iterable[Person]) -> dict[str, str]:
    """Libraries that stand in prefixes, with what each is called without its version (libthing)."""
    found = {}
    for prefix in (_SYSTEM, *(f"{p.home}/.local" for p in people)):
        for top in (f"{prefix}/lib", f"{prefix}/lib64"):
            for i in tree.slice(top) if top in tree else ():
                path = tree.paths[i]
                if match := _LIBRARY.fullmatch(path[len(top) + 1 :]):
                    found[path] = f"lib{match['name']}"
    return found


def may_need(tree: Tree, found: Iterable[str]) -> Iterator[str]:
    """What else in the folders of these libraries may have been linked with them: plug-ins and modules of languages."""
    for top in sorted({parent(path) for path in found}):
        yield from (p for i in tree.slice(top) if _LINKED.search(p := tree.paths[i]))


@dataclass(frozen=True, slots=True)
class _Prefix:
    """One prefix, and how what is installed there is called: the names of each program, of its launcher and the like
    (`called`), and how its programs stand in its folders, letter by letter (`programs`), each with whose it is and where it is from."""

    top: str
    person: str
    called: dict[str, dict[str, str]]
    programs: dict[str, dict[str, str]]

    def whose(self, name: str) -> tuple[dict[str, str], str]:
        """Whoever is called so, by id, with what of it is; and "" or how the name goes on behind that.

        Exactly so, without a version, by the last part of a reverse domain name; else what it begins with, up to a part."""
        plain = _VERSION.sub("", name)
        for said in dict.fromkeys((name, plain, _BEHIND.sub("", plain), plain.rpartition(".")[2])):
            if exactly := self.programs.get(said) or _surest(self.called.get(normal(said), {})):
                return exactly, ""
        for match in reversed(list(_PARTS.finditer(name))):
            begins = name[: match.start()]
            for said in (begins, begins.rpartition(".")[2]):
                if is_distinctive(said) and (found := _surest(self.called.get(normal(said), {}))):
                    return found, name[match.start() :]
        return {}, ""


def written(tree: Tree, apps: Iterable[Known]) -> dict[str, int]:
    """When the programs of an installer below /usr/local were last written (ns), by application."""
    return {
        a.id: max(times)
        for a in apps
        if a.registry == "files"
        and (
            times := [
                int(tree.mtime[tree.where[x]]) for x in a.executables if within(x, _SYSTEM) and x in tree
            ]
        )
    }


def is_brought(tree: Tree, path: str, since: int | None) -> bool:
    """Whether an installer brought all that stands at a place below /usr/local: root's, and no later than a day after the
    program was written (ns)."""
    part = tree.slice(path)
    if since is None or not part or not within(path, _SYSTEM):
        return False
    here = slice(part.start, part.stop)
    files = ~tree.is_folder[here]
    return bool(((tree.uid[here] == 0) & ((tree.mtime[here] <= since + _DAY) | ~files)).all())


def _surest(found: dict[str, str]) -> dict[str, str]:
    """Of those that are called so, whose program or launcher is; several of one project have one name to show."""
    return {id: source for id, source in found.items() if source in ("its program", "its launcher")} or found


def installed_beside(
    tree: Tree,
    apps: Iterable[Known],
    names: Mapping[str, Mapping[str, str]],
    people: Iterable[Person],
    is_free: Callable[[str], bool],
    is_alone: Callable[[str, str], bool],
    also_among_packages: bool,
) -> Iterator[tuple[Place, list[Claim]]]:
    """Places below each prefix that are called like a program of no registry there, with whoever is called so. `names`: per
    application its own, normalised, with where each comes from; `is_free`: what no registry lists and nobody has yet;
    `is_alone`: whether a library, as it is called, is in use by nothing but an application (its id); `also_among_packages`: what
    packages bring is known path by path, so what else stands among it is looked at too."""
    installed = [a for a in apps if a.registry == "files"]
    links = _links_to(tree, installed, is_free)
    prefixes = _prefixes(people) + ([(_PACKAGES, EVERYONE)] if also_among_packages else [])
    for top, person in prefixes:
        bins = {f"{top}/{b}" for b in _BINS}
        prefix = _Prefix(top, person, defaultdict(dict), defaultdict(dict))
        for app in installed:
            standing = (
                *app.executables,
                *app.tops,
                *links.get(app.id, ()),
                *(lf.path for lf in app.launchers),
            )
            programs = [base(x) for x in standing if parent(x) in bins]
            here = programs or any(parent(x) == f"{top}/share/applications" for x in standing)
            for program in programs:
                if not is_common(program, False):
                    plain = _VERSION.sub("", program)
                    for name in {program, plain, _FACES.sub("", plain)}:
                        prefix.programs[name][app.id] = "its program"
            for name, source in names.get(app.id, {}).items() if here else ():
                prefix.called[name][app.id] = source
        if prefix.programs or prefix.called:
            yield from _below(tree, prefix, is_free, is_alone)


def beside_what_is_gone(
    tree: Tree, gone: Mapping[str, str], people: Iterable[Person], is_free: Callable[[str], bool]
) -> Iterator[tuple[Place, str]]:
    """Places below prefixes that are called like a program which is not there any more, with whose each is. `gone`: id by name,
    of what kept something in a prefix."""
    for top, person in _prefixes(people):
        prefix = _Prefix(top, person, defaultdict(dict), defaultdict(dict))
        for name, id in gone.items():
            prefix.programs[name][id] = prefix.called[normal(name)][id] = "its name"
        for place, claims in _below(tree, prefix, is_free, lambda *_: False):
            yield place, claims[0].id


def _prefixes(people: Iterable[Person]) -> list[tuple[str, str]]:
    return [(_SYSTEM, EVERYONE), *((f"{p.home}/.local", p.name) for p in people)]


def _links_to(tree: Tree, apps: Iterable[Known], is_free: Callable[[str], bool]) -> dict[str, list[str]]:
    """Links that no package brought, among the programs of packages, by whose program they lead to."""
    whose = {x: app.id for app in apps for x in app.executables}
    found: dict[str, list[str]] = defaultdict(list)
    for folder in (f"{_PACKAGES}/{b}" for b in _BINS) if whose else ():
        for path in tree.children(folder):
            if tree.kind(path) == "link" and (id := whose.get(tree.target(path), "")) and is_free(path):
                found[id].append(path)
    return found


def _below(
    tree: Tree, prefix: _Prefix, is_free: Callable[[str], bool], is_alone: Callable[[str, str], bool]
) -> Iterator[tuple[Place, list[Claim]]]:
    """First what is its own, plug-ins among it; then what others may be linked with: whose plug-ins need that is known by then."""
    among_packages = prefix.top == _PACKAGES  # where nearly everything is theirs
    for lent in (False, True):
        for first, (own, others) in _SHAPES.items():
            top = f"{prefix.top}/{first}"
            if (among_packages and (lent or first != "share")) or (lent and not others):
                continue
            for i in tree.slice(top):
                path = tree.paths[i]
                if among_packages and not is_free(path):
                    continue
                inside = path[len(top) + 1 :]
                found = _matched(others, inside)
                if bool(found) == lent and (found := found or _matched(own, inside)) and is_free(path):
                    claims = _claims(tree, prefix, path, found["name"], is_alone if lent else None)
                    if claims:
                        kind = Kind.PREFERENCES if first == "etc" else Kind.SUPPORT
                        yield Place(path, prefix.person, kind, path), claims


def _matched(shapes: list[re.Pattern[str]], inside: str) -> re.Match[str] | None:
    return next((found for shape in shapes if (found := shape.fullmatch(inside))), None)


def _claims(
    tree: Tree, prefix: _Prefix, path: str, name: str, is_alone: Callable[[str, str], bool] | None
) -> list[Claim]:
    """`is_alone`: where others may need what stands there, whether they do."""
    whose, goes_on = prefix.whose(name)
    if _LANGUAGE.fullmatch(base(path)):  # what was installed for a language, by whomever
        return []
    if not whose or is_a_themes(tree, path) or (goes_on and (is_alone or base(path) == name)):
        return []
    library = f"lib{_VERSION.sub('', name)}"
    return [
        _claim(path, id, f"{source}{_MORE if goes_on else ''}", bool(is_alone and not is_alone(library, id)))
        for id, source in whose.items()
    ]


def _claim(path: str, id: str, source: str, lent: bool) -> Claim:
    why = "; other programs may need it" if lent else ""
    proof = Proof(By.MATCHED, path)
    return Claim(id, By.MATCHED, f"called like {source}{why}", [proof], tick=not lent, exact=not lent)
