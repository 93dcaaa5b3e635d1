"""Places that mention programs without being an application's: temporary ones, working copies, build folders, language
environments, other systems unpacked or mounted, archives and logs. Nothing that stands in them says whose they are."""

from __future__ import annotations

from collections.abc import Container, Iterable

from swept_shelf.core.belongings.candidates import HOME_PLACES, SYSTEM_PLACES
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.tree.walk import Tree

_PASSING = ("/tmp", "/var/tmp", "/run", "/srv", "/media", "/mnt")
# What stands at the top of a working copy (version control), of what is built, of a language's environment.
_SIGNS = frozenset(
    {
        ".git", ".hg", ".svn", ".bzr", "CVS", "_darcs", ".fossil",
        "CMakeCache.txt", "CMakeLists.txt", "Makefile", "configure.ac", "meson.build", "build.ninja", "compile_commands.json",
        "pyproject.toml", "setup.py", "setup.cfg", "tox.ini", "pyvenv.cfg", "conda-meta", "requirements.txt",
        "package.json", "node_modules", "Cargo.toml", "go.mod", "pom.xml", "build.gradle", "Gemfile", "composer.json",
    }
)  # fmt: skip
_SYSTEM = frozenset({"bin", "etc", "lib", "usr", "var", "proc", "dev", "sbin"})
_MOST = 200  # folders of a place that are looked into
_ARCHIVES = (
    ".tar",
    ".gz",
    ".xz",
    ".bz2",
    ".zst",
    ".zip",
    ".7z",
    ".iso",
    ".img",
    ".qcow2",
    ".deb",
    ".rpm",
    ".log",
    ".out",
)


def is_workshop(tree: Tree, path: str, tops: Container[str] = ()) -> bool:
    """Whether the place itself, a folder right inside it, or one around it below the `tops`, is one of those."""
    if any(within(path, top) for top in _PASSING) or path.lower().endswith(_ARCHIVES):
        return True
    folders = [path, *(c for c in tree.children(path) if tree.kind(c) == "folder")][:_MOST]
    above = parent(path)
    while above not in tops and above != "/":
        folders.append(above)
        above = parent(above)
    return any(_has_signs({base(c) for c in tree.children(folder)}) for folder in folders)


def tops_of(people: Iterable[Person]) -> frozenset[str]:
    """The folders that applications' places stand in, and homes: what lies around those says nothing of a place."""
    homes = {p.home for p in people}
    inside = {f"{home}/{folder}" for home in homes for folder in (".local", *(f for f, _ in HOME_PLACES))}
    return frozenset(
        {"/home", "/usr", "/usr/local", "/var", *homes, *inside, *(top for top, _ in SYSTEM_PLACES)}
    )


def _has_signs(names: set[str]) -> bool:
    return bool(names & _SIGNS) or len(names & _SYSTEM) >= 3
