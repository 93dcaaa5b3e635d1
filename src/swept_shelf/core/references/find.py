"""Looks at every place that can point at an application; each file is read by its own grammar."""

from __future__ import annotations

import hashlib
import re
import stat
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from fnmatch import translate
from functools import lru_cache
from operator import methodcaller

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, join, parent, plain, within
from swept_shelf.core.documents.survey import NotRead, Person, Reference
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.machine.base_folders import person_folders
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.references.cutting import without
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.pointees import Pointees, longest_word, spelled_out, words_in
from swept_shelf.core.references.take_out import cut_of

FAMILIES = tuple(dict.fromkeys(k.family for k in KINDS.values()))
_SECONDS = 15.0  # for one file
_ALTOGETHER, _MEMORY = 300.0, 512 << 20  # for all files together
_DEEPEST, _MOST_FILES = 6, 5000  # of one pattern: folders below each other, files
_ALTERNATIVES = "/etc/alternatives/"
_SEARCHED = ("/bin", "/sbin", "/games")  # folders in which shells search
_STANDARD = ("/usr/bin", "/usr/sbin", "/usr/games", "/bin", "/sbin", "/usr/local/bin", "/usr/local/sbin")
_KEPT = 8 << 20  # characters of files that several kinds read
_GONE = "is not there"
_NOTHING = (_GONE, "is a loop of links", "not a directory")  # where nothing can be listed, whoever looks


@dataclass(slots=True)
class Found:
    """References by application, what was looked at by family, and what could not be."""

    references: dict[str, list[Reference]] = field(default_factory=dict)
    looked_at: dict[str, int] = field(default_factory=dict)
    not_read: dict[str, list[NotRead]] = field(default_factory=dict)

    def could_not(self, family: str, path: str, reason: str) -> None:
        row = NotRead(path, reason)
        if reason != _GONE and row not in self.not_read.setdefault(family, []):
            self.not_read[family].append(row)


@dataclass(frozen=True, slots=True)
class _File:
    path: str
    place: Place
    heeded: bool


def find_references(
    machine: Machine, people: list[Person], shipped: Mapping[str, str], to: Pointees
) -> Found:
    """Every reference to any of `to`. `shipped`: what registries own, with the MD5 sum of a settings file as it was shipped: only
    a settings file that was changed since is looked at, the rest is the registry's own."""
    found = Found()

    def left(path: str, reason: str) -> None:
        """Not all was looked at: then no family is clear."""
        for family in FAMILIES:
            found.could_not(family, path, reason)

    looker = _Looker(machine, people, shipped, to, found)
    with fence("/", left, seconds=_ALTOGETHER, memory=_MEMORY):
        for kind in sorted(KINDS.values(), key=lambda k: not k.links):
            found.looked_at.setdefault(kind.family, 0)
            for holder in (None, *people):
                looker.look(kind, holder)
    order = {name: number for number, name in enumerate(KINDS)}
    for references in found.references.values():
        references.sort(key=lambda r: (order[r.kind], r.path, r.line))
    return found


class _Looker:
    def __init__(
        self, machine: Machine, people: list[Person], shipped: Mapping[str, str], to: Pointees, found: Found
    ) -> None:
        self._machine, self._people, self._shipped, self._to, self._found = (
            machine,
            people,
            shipped,
            to,
            found,
        )
        self._bases = {p.home: person_folders(machine, p) for p in people}
        self._links: dict[str, str] = {}  # by path
        self._names_of_links: dict[
            tuple[str, str], str
        ] = {}  # by home and name, where shells search the folder
        self._seen: set[tuple[str, str]] = set()
        self._link_words: set[str] = set()
        self._listed: dict[str, dict[str, str] | str] = {}
        self._texts: dict[tuple[str, int], str] = {}

    def look(self, kind: Kind, holder: Person | None) -> None:
        """All of one kind's places in the system, or in a person's home."""
        home = holder.home if holder else ""

        def trouble(path: str, reason: str) -> None:
            self._found.could_not(kind.family, path, reason)

        rows: list[tuple[_File, list[Hit]]] = []
        settings: list[tuple[_File, Entry]] = []
        for place in kind.places:
            if place.pattern.startswith("~") != bool(holder):
                continue
            for file in self._files(kind, place, home):
                with fence(file.path, trouble, seconds=_SECONDS, memory=None):
                    entries = self._entries(kind, file)
                    if kind.wins:
                        settings += [(file, e) for e in entries if e.setting]
                    if hits := self._hits(kind, file, entries, home):
                        rows.append((file, hits))
        counts = _counting(settings, kind.wins)
        for file, hits in rows:
            hidden = self._hidden(kind, file, home)
            for hit in hits:
                lost = bool(hit.entry.setting) and counts.get(hit.entry.setting) not in (
                    None,
                    (file.path, hit.entry.line),
                )
                effect = hit.entry.enabled and file.heeded and not hidden and not lost
                self._add(kind, file.path, hit, effect)

    def _add(self, kind: Kind, path: str, hit: Hit, in_effect: bool) -> None:
        entry = hit.entry
        text = f"{hit.id}\0{kind.name}\0{path}\0{entry.line}\0{entry.key}".encode("utf-8", "surrogateescape")
        id = hashlib.sha256(text).hexdigest()[:12]
        rows = self._found.references.setdefault(hit.id, [])
        keys = {(hit.id, id), (hit.id, path if hit.whole else id)}
        if keys & self._seen:
            return
        self._seen |= keys
        if kind.links:
            self._note_link(path, hit.id)
        person = person_of(self._people, path)
        if person == EVERYONE and kind.owner_by_name:
            person = base(path)
        rows.append(
            Reference(
                id,
                kind.family,
                kind.name,
                path,
                entry.line,
                entry.key,
                entry.text.strip()[:400],
                person,
                entry.detail,
                in_effect,
                False,
                "ask" if entry.ask and kind.action != "leave" else kind.action,
                hit.whole,
            )
        )

    def _note_link(self, path: str, id: str) -> None:
        """Whoever names the link means what it leads to. By its bare name only those whose shells search its folder do, and only
        where no program of that name stands in the system's own folders."""
        self._links[path] = id
        self._link_words.add(longest_word(base(path)))
        if not parent(path).endswith(_SEARCHED):
            return
        name = base(path)
        if not any(
            f"{folder}/{name}" != path and self._machine.exists(f"{folder}/{name}") for folder in _STANDARD
        ):
            home = next((p.home for p in self._people if within(path, p.home)), "")
            self._names_of_links.setdefault((home, name), id)

    # -- what stands in a file ----------------------------------------------------------------------------------

    def _entries(self, kind: Kind, file: _File) -> list[Entry]:
        """Raises CouldNotRead."""
        if kind.links:
            return self._link(kind, file.path)
        owned = self._shipped.get(file.path)
        if owned == "":
            return []
        if (file.path, kind.head) not in self._texts:
            if len(self._texts) > 50 or sum(map(len, self._texts.values())) > _KEPT:
                self._texts.clear()
            self._texts[file.path, kind.head] = (
                self._machine.read_bytes(file.path, kind.head).decode("utf-8", "surrogateescape")
                if kind.head
                else self._machine.read_text(file.path, most=kind.most)
            )
        text = self._texts[file.path, kind.head]
        self._found.looked_at[kind.family] += 1
        if owned and hashlib.md5(text.encode("utf-8", "surrogateescape")).hexdigest() == owned:
            return []
        if not (kind.strict or self._may_name(text, file.path)):
            return []
        try:
            return list(kind.parse(file.path, text))
        except ValueError as error:
            raise CouldNotRead(str(error), file.path) from None

    def _may_name(self, text: str, path: str) -> bool:
        """Whether one of the words stands in it without which it can name nobody; what is written otherwise is read whole."""
        if "%" in text or "\\" in text or "&#" in text:
            return True
        here = words_in(text) | words_in(path)
        return not self._to.words.isdisjoint(here) or not self._link_words.isdisjoint(here)

    def _link(self, kind: Kind, path: str) -> list[Entry]:
        """A link by where it leads: as it is written, and one link further, and so on."""
        target, seen = self._machine.readlink(path), 0
        if not target or path in self._shipped or path.startswith(_ALTERNATIVES):
            return []
        self._found.looked_at[kind.family] += 1
        targets: list[Target] = []
        here = path
        first = target
        while target and seen < 8:
            here = target if target.startswith("/") else plain(f"{parent(here)}/{target}")
            if here.startswith(_ALTERNATIVES):
                return []  # the registry's own command makes and takes it
            targets.append(Target(By.PATH, here))
            target, seen = self._machine.readlink(here), seen + 1
        return [replace(e, targets=(*e.targets, *targets)) for e in kind.parse(path, first)]

    def _hits(self, kind: Kind, file: _File, entries: list[Entry], home: str) -> list[Hit]:
        found: list[Hit] = []
        own = self._to.lists(file.path)  # what an application's own package brought is no reference to it
        for entry in entries:
            ids = dict.fromkeys(id for t in entry.targets if (id := self._whose(t, home)) not in ("", own))
            found += [Hit(id, entry, kind.whole or kind.links) for id in ids]
        if kind.whole:  # one for each, by the surest of what it says
            found = [
                min((h for h in found if h.id == id), key=lambda h: h.entry.ask)
                for id in {h.id: 0 for h in found}
            ]
        if kind.alone and len({h.id for h in found}) == 1 and self._is_empty_without(kind, file.path, found):
            found = [replace(h, whole=True) for h in found[:1]]
        return found

    def _whose(self, target: Target, home: str) -> str:
        """Whom a target means, also by the name or the path of a link that leads to it."""
        if id := self._to.whose(target, home):
            return id
        if target.by in (By.COMMAND, By.PATH):
            value = spelled_out(target.value, home)
            return (
                self._links.get(value, "")
                or self._names_of_links.get((home, value), "")
                or self._names_of_links.get(("", value), "")
            )
        return ""

    def _is_empty_without(self, kind: Kind, path: str, hits: list[Hit]) -> bool:
        """Whether nothing that says anything is left in a file when all of them are cut."""
        cuts = [cut_of(h.entry) for h in hits]
        if None in cuts:
            return False
        rest = without(self._texts[path, kind.head], [c for c in cuts if c is not None])
        if kind.alone == "entries":
            return not any(True for _ in kind.parse(path, rest))
        return not any(True for _ in said_lines(rest, "#;"))

    def _hidden(self, kind: Kind, file: _File, home: str) -> bool:
        """Whether another file hides it: one of its name in a place that counts before this one, or one that is read instead."""
        if any(self._machine.exists(join(parent(file.path), name)) for name in file.place.hidden_by):
            return True
        if not kind.masks:
            return False
        name = base(file.path)
        before = [p.pattern.rpartition("/")[0] for p in kind.places if p.rank < file.place.rank]
        mine = file.place.pattern.startswith("~")
        near = [p for p in before if p.startswith("~") == mine]
        if any(self._stands(self._folder(p, home), name) for p in near):
            return True
        # What is for everybody is hidden where everybody has one of that name.
        own = [p for p in before if p.startswith("~") and not mine]
        return bool(own and self._people) and all(
            any(self._stands(self._folder(p, person.home), name) for p in own) for person in self._people
        )

    def _stands(self, folder: str, name: str) -> bool:
        return bool(folder) and "*" not in folder and self._machine.exists(f"{folder}/{name}")

    # -- places -------------------------------------------------------------------------------------------------

    def _folder(self, pattern: str, home: str) -> str:
        if not pattern.startswith("~"):
            return pattern
        top, slash, rest = pattern.partition("/")
        where = self._bases[home].get(top, "")
        return f"{where}{slash}{rest}" if where else ""

    def _files(self, kind: Kind, place: Place, home: str) -> Iterator[_File]:
        pattern = self._folder(place.pattern, home)
        if not pattern:
            return
        for count, (path, type) in enumerate(self._below("", pattern.strip("/").split("/"), kind, 0)):
            if count >= _MOST_FILES:
                self._found.could_not(kind.family, pattern, f"holds more than {_MOST_FILES} files")
                return
            if type == "folder" or (kind.links and type != "link"):
                continue
            named = not place.heeded or re.fullmatch(place.heeded, base(path)) is not None
            yield _File(path, place, named and (not place.runs or self._runs(path)))

    def _runs(self, path: str) -> bool:
        """Whether it may be started, itself or as what a link leads to."""
        status = self._machine.lstat(path)
        return status is not None and (stat.S_ISLNK(status.st_mode) or bool(status.st_mode & stat.S_IXUSR))

    def _below(self, here: str, parts: list[str], kind: Kind, depth: int) -> Iterator[tuple[str, str]]:
        """Paths that fit, links in folders followed, in order; with what each is."""
        part, rest = parts[0], parts[1:]
        names = self._names(here, kind)
        if part == "**":
            yield from self._below(here, rest, kind, depth)
            if depth < _DEEPEST:
                for name, type in names.items():
                    if type == "folder":
                        yield from self._below(f"{here}/{name}", parts, kind, depth + 1)
            return
        if any(c in part for c in "*?["):
            fits = _fits(part)
            found = [(n, t) for n, t in names.items() if fits(n)]
        else:
            found = [(part, names[part])] if part in names else []
        for name, type in found:
            if not rest:
                yield f"{here}/{name}", type
            elif type != "file":
                yield from self._below(f"{here}/{name}", rest, kind, depth)

    def _names(self, folder: str, kind: Kind) -> dict[str, str]:
        """What is in a folder; one that may not be read is noted."""
        if folder not in self._listed:
            try:
                self._listed[folder] = self._machine.listed(folder or "/")
            except CouldNotRead as error:
                self._listed[folder] = error.reason
        names = self._listed[folder]
        if isinstance(names, str):
            if names not in _NOTHING:
                self._found.could_not(kind.family, folder, names)
            return {}
        return names


@lru_cache(maxsize=1024)
def _fits(pattern: str) -> Callable[[str], object]:
    """Whether a name fits: what only says how it ends is asked so, many times faster."""
    if pattern == "*":
        return bool
    if pattern[0] == "*" and not any(c in pattern[1:] for c in "*?["):
        return methodcaller("endswith", pattern[1:])
    return re.compile(translate(pattern)).match


def _counting(settings: Iterable[tuple[_File, Entry]], wins: str) -> dict[str, tuple[str, int]]:
    """Per setting the entry that counts."""
    groups: dict[str, list[tuple[int, str, int, str]]] = defaultdict(list)
    for file, entry in settings:
        if entry.enabled and file.heeded:
            groups[entry.setting].append((file.place.rank, base(file.path), entry.line, file.path))
    found: dict[str, tuple[str, int]] = {}
    for setting, rows in groups.items():
        best = min(rows) if wins == "first" else max(rows, key=lambda r: (-r[0], r[1], r[2]))
        found[setting] = (best[3], best[2])
    return found
