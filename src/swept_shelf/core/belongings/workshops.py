"""Places that mention programs without being an application's: temporary ones, working copies, build folders, language
environments, other systems unpacked or mounted, archives and logs. Nothing that stands in them says whose they are."""

from __future__ import annotations

from collections.abc import Container, Iterable

from swept_shelf.core.belongings.candidates import HOME_PLACES, SYSTEM_PLACES
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.version_control import VERSION_CONTROL
from swept_shelf.core.tree.walk import Tree

_PASSING = ("/tmp", "/var/tmp", "/run", "/srv", "/media", "/mnt")
# What stands at the top of a working copy (version control), of what is built, of a language's environment.
_SIGNS = frozenset(
    {
        *VERSION_CONTROL,
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


class Workshops:
    """Those of one walk; places are asked one after the other, and stand in the same folders. `tops`: folders that places stand in."""

    def __init__(self, tree: Tree, tops: Container[str] = ()) -> None:
        self._tree, self._tops = tree, tops
        self._signed: dict[str, bool] = {}

    def hold(self, path: str) -> bool:
        """Whether the place itself, a folder right inside it, or one around it below the tops, is one of those."""
        if any(within(path, top) for top in _PASSING) or path.lower().endswith(_ARCHIVES):
            return True
        inner = [c for c in self._tree.children(path) if self._tree.kind(c) == "folder"]
        return any(self._has_signs(folder) for folder in inner[:_MOST]) or self.is_or_lies_in_one(path)

    def is_or_lies_in_one(self, path: str) -> bool:
        """Whether the place itself, or one around it below the tops, has their signs."""
        here = path
        while here not in self._tops and here != "/":
            if self._has_signs(here):
                return True
            here = parent(here)
        return False

    def _has_signs(self, folder: str) -> bool:
        if folder not in self._signed:
            names = {base(c) for c in self._tree.children(folder)}
            self._signed[folder] = bool(names & _SIGNS) or len(names & _SYSTEM) >= 3
        return self._signed[folder]


def tops_of(people: Iterable[Person]) -> frozenset[str]:
    """The folders that applications' places stand in, and homes: what lies around those says nothing of a place."""
    homes = {p.home for p in people}
    inside = {f"{home}/{folder}" for home in homes for folder in (".local", *(f for f, _ in HOME_PLACES))}
    return frozenset(
        {"/home", "/usr", "/usr/local", "/var", *homes, *inside, *(top for top, _ in SYSTEM_PLACES)}
    )
