"""Single files that a package, or an installer of no registry, has below one folder stand as one row, the folder, which opens."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from swept_shelf.core.documents.paths import parent
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Belonging
from swept_shelf.core.documents.terms import By, Kind

_KEY = "folded "
_LEAST = 4  # fewer files stand for themselves
_BELOW = 2  # parts of a path below its prefix: /usr/share/locale, /usr/local/share/locale
_Group = tuple[str, Kind, str, By, bool]


@dataclass(frozen=True, slots=True)
class Folded:
    """`opened`: its members follow it."""

    folder: str
    members: tuple[Belonging, ...]
    opened: bool

    @property
    def key(self) -> str:
        first = self.members[0]
        return f"{_KEY}{self.folder} {self.kind} {first.person} {first.proof} {first.ticked}"

    @property
    def called(self) -> str:
        return f"{'▾' if self.opened else '▸'} {plural(len(self.members), 'file')} in {self.folder}"

    @property
    def how(self) -> str:
        return f"Return, or a double click, {'closes' if self.opened else 'opens'} it"

    @property
    def reason(self) -> str:
        """Why they are its, where that is the same of all; else of the first."""
        return self.members[0].reason

    @property
    def kind(self) -> Kind:
        return self.members[0].kind

    @property
    def bytes(self) -> int:
        return sum(b.bytes for b in self.members)


class Opened:
    """Which folders are open, of the one application in hand."""

    def __init__(self) -> None:
        self.keys: set[str] = set()
        self._of = ""

    def of(self, line: str) -> set[str]:
        """The open ones of an application; another one's are forgotten."""
        if line != self._of:
            self._of, self.keys = line, set()
        return self.keys

    def turn(self, key: str) -> bool:
        """Open or close a folder; False where the key is none's."""
        if not key.startswith(_KEY):
            return False
        self.keys ^= {key}
        return True


def folded(belongings: Sequence[Belonging], opened: set[str]) -> list[Belonging | Folded]:
    """In the order given, each folder where the first of its files stood. `opened`: keys of folders that are open."""
    groups: dict[_Group, list[Belonging]] = {}
    for b in belongings:
        if _single(b):
            groups.setdefault(_of(b), []).append(b)
    found: list[Belonging | Folded] = []
    done: set[_Group] = set()
    for b in belongings:
        members = groups.get(_of(b), []) if _single(b) else []
        if len(members) < _LEAST:
            found.append(b)
        elif _of(b) not in done:
            done.add(_of(b))
            made = Folded(_of(b)[0], tuple(members), False)
            open_now = made.key in opened
            found.append(Folded(made.folder, made.members, open_now))
            found += members if open_now else []
    return found


def _single(b: Belonging) -> bool:
    together = b.proof == By.REGISTERED or (b.proof == By.MATCHED and not b.personal and not b.shared_with)
    return b.is_path and together and b.identity is not None and b.identity.type != "folder"


def _of(b: Belonging) -> _Group:
    return folder_of(b.path), b.kind, b.person, b.proof, b.ticked


def folder_of(path: str) -> str:
    """The folder under which single files of one prefix stand together."""
    above = parent(path)
    parts = above.split("/")
    prefix = parts.index(".local") if ".local" in parts else 2 if above.startswith("/usr/local") else 1
    return "/".join(parts[: prefix + _BELOW + 1])
