"""Looks at the places of each kind of reference; each file is read by its own grammar."""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Iterable, Mapping
from contextlib import nullcontext
from copy import copy
from dataclasses import dataclass, replace

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Person, Reference
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import NOTHING, Machine
from swept_shelf.core.machine.near import Near
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.references.cutting import without
from swept_shelf.core.references.file_names import known_by
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.kind import NAMING, TEXT, By, Codec, Entry, Kind, Target
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.links import Links
from swept_shelf.core.references.other_roots import OtherRoots
from swept_shelf.core.references.places import File, Places
from swept_shelf.core.references.pointees import Pointees, spelled_out, words_in
from swept_shelf.core.references.sieve import WRITTEN_OTHERWISE, Sieve
from swept_shelf.core.references.take_out import cut_of
from swept_shelf.core.tree.elsewhere import Elsewhere, Inode
from swept_shelf.core.tree.objects import in_a_store

_SECONDS = 15.0  # for one file
_NO_FENCE = nullcontext()
_ALTERNATIVES = "/etc/alternatives/"
_KEPT = 8 << 20  # characters of files that several kinds read
_PROGRAM = b"\x7fELF"
_NAMING = "files of settings that name something"


Going = dict[str, list[str]]  # files that go whole, by whom they point at


_THAT_NAME = frozenset(k.name for k in KINDS.values() if any(p.pattern.endswith(NAMING) for p in k.places))


def is_naming(kind: Kind) -> bool:
    return kind.name in _THAT_NAME


@dataclass(frozen=True, slots=True)
class Seen:
    """What one look added: what it found, files that go whole, and what was told of whom, by file and line."""

    found: Found
    going: Going
    told: set[tuple[str, str, int]]


class Looker:
    def __init__(
        self,
        machine: Machine,
        near: Near,
        people: list[Person],
        shipped: Mapping[str, str],
        to: Pointees,
        found: Found,
        links: list[str],
    ) -> None:
        self._machine, self._near, self._people = machine, near, people
        self._shipped, self._to, self._found = shipped, to, found
        self._going: Going = {}
        self._followed = False  # what names files that go, after what was looked for first
        self._sieve = Sieve(near.held)
        self._nobody: set[str] = set()  # files that are known to name nobody of those that are looked for
        theirs = OtherRoots(machine)
        self._places = Places(machine, near, people, [link for link in links if not theirs.hold(link)])
        self._links = Links(machine, near, people)
        self._seen: set[tuple[str, str]] = set()
        self._texts: dict[tuple[str, int, Codec], str] = {}
        self._held = 0  # characters of them
        self._naming: dict[str, set[str]] = {}
        self._told: set[tuple[str, str, int]] = set()  # whom, in which file and line

    def name(self, naming: dict[str, set[str]]) -> None:
        """`naming`: the applications that files of settings name."""
        self._naming = self._places.naming = naming

    def apart(self) -> Looker:
        """One that knows what this one does, and notes what it finds elsewhere."""
        other = copy(self)
        other._found, other._going, other._told, other._seen = Found(), {}, set(self._told), set(self._seen)
        return other

    def take(self) -> Seen:
        """All that was found since, taken away from here."""
        seen = Seen(self._found, self._going, set(self._told))
        self._found, self._going = Found(), {}
        return seen

    def add(self, seen: Seen) -> None:
        """What another one found, apart from what a surer kind told here."""
        for id, paths in seen.going.items():
            self._going.setdefault(id, []).extend(paths)
        for id, rows in seen.found.references.items():
            untold = (
                r for r in rows if not is_naming(KINDS[r.kind]) or (id, r.path, r.line) not in self._told
            )
            new = [r for r in untold if self._is_new(id, r.id, r.path, r.whole)]
            self._found.references.setdefault(id, []).extend(new)
        self._told |= seen.told
        self._found.count(seen.found)

    def going(self) -> Going:
        """Files that go whole and were not followed yet."""
        return self._going

    def follow(self, going: Going) -> None:
        """From now on look for what names these files: units, launchers, anything by its path."""
        found = [known_by(id, paths, self._machine.exists) for id, paths in going.items()]
        self._to = self._to.of_the_same(found)
        self._going, self._followed = {}, True

    def look_everywhere(self, kinds: Iterable[Kind], holders: Iterable[Person | None]) -> None:
        """Each kind in the system (None) and in these homes."""
        people = list(holders)
        for kind in kinds:
            self._found.looked_at.setdefault(kind.family, 0)
            for holder in people:
                self.look(kind, holder)

    def sift(self) -> None:
        """Know at once which of the small files that were read name nobody. All links have to be known."""
        self._nobody = self._sieve.naming_nobody(self._words())

    def _words(self) -> set[str]:
        return self._to.words | self._links.words

    def look(self, kind: Kind, holder: Person | None) -> None:
        """All of one kind's places in the system, or in a person's home."""
        home = holder.home if holder else ""

        def trouble(path: str, reason: str) -> None:
            self._found.could_not(kind.family, path, reason)

        rows: list[tuple[File, list[Hit]]] = []
        settings: list[tuple[File, Entry]] = []
        for place in kind.places:
            if place.pattern.startswith("~") != bool(holder):
                continue
            before = self._found.looked_at[kind.family]
            for file in self._places.files(kind, place, home, trouble):
                try:
                    text = "" if kind.links else self._text_that_may_name(kind, file.path)
                except CouldNotRead as error:
                    if self._machine.readlink(file.path) != NOTHING:
                        trouble(error.path or file.path, error.reason)
                    continue
                if text is None:
                    continue
                # Where a link leads is not read, and asked of thousands.
                with _NO_FENCE if kind.links else fence(file.path, trouble, seconds=_SECONDS, memory=None):
                    entries = self._entries(kind, file.path, text)
                    if kind.wins:
                        settings += [(file, e) for e in entries if e.setting]
                    if hits := self._hits(kind, file, entries, home):
                        rows.append((file, hits))
                        self._told |= {
                            (h.id, file.path, number) for h in hits for number in _lines(h.entry, text)
                        }
            if read := self._found.looked_at[kind.family] - before:
                counted = self._found.looked_in.setdefault(kind.family, {})
                said = _NAMING if place.pattern.endswith(NAMING) else place.pattern
                counted[said] = counted.get(said, 0) + read
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

    def other_names(self, elsewhere: Elsewhere, files: Mapping[Inode, str]) -> None:
        """Names that its files have where nobody lists them: what they hold stays until those go too."""
        kind = KINDS["other name of its file"]
        for file, id in files.items():
            for path in elsewhere.names.get(file, ()):
                if in_a_store(path):
                    continue
                if path not in self._shipped and not self._to.whose(Target(By.PATH, path)):
                    entry = Entry(0, path, path, (), "another name of one of its files")
                    self._add(kind, path, Hit(id, entry, True), True)

    def _add(self, kind: Kind, path: str, hit: Hit, in_effect: bool) -> None:
        entry = hit.entry
        text = f"{hit.id}\0{kind.name}\0{path}\0{entry.line}\0{entry.key}".encode("utf-8", "surrogateescape")
        id = hashlib.sha256(text).hexdigest()[:12]
        rows = self._found.references.setdefault(hit.id, [])
        if not self._is_new(hit.id, id, path, hit.whole):
            return
        self._told.add((hit.id, path, entry.line))
        if kind.links:
            self._links.note(path, hit.id)
        elif (
            hit.whole
            and kind.action == "take_out"
            and not entry.ask
            and self._to.whose(Target(By.PATH, path)) != hit.id
        ):
            self._going.setdefault(hit.id, []).append(path)
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

    def _is_new(self, pointee: str, id: str, path: str, whole: bool) -> bool:
        """And is none from now on, nor anything else in a file that goes whole."""
        keys = {(pointee, id), (pointee, path if whole else id)}
        if keys & self._seen or (pointee, path) in self._seen:
            return False
        self._seen |= keys
        return True

    # -- what stands in a file ----------------------------------------------------------------------------------

    def _text_that_may_name(self, kind: Kind, path: str) -> str | None:
        """What a file says; None where it is the registry's own or can name nobody. Raises CouldNotRead."""
        owned = self._shipped.get(path)
        if owned == "":
            return None
        if path in self._nobody and kind.codec is TEXT and not (kind.strict and not self._followed):
            self._found.looked_at[kind.family] += 1
            return None
        try:
            text = self._text(path, kind)
        except ValueError as error:
            raise CouldNotRead(str(error), path) from None
        self._found.looked_at[kind.family] += 1
        if owned and hashlib.md5(text.encode("utf-8", "surrogateescape")).hexdigest() == owned:
            return None
        if kind.strict and not self._followed:  # whether it is whole was asked then
            return text
        return text if self._may_name(text, path) else None

    def _text(self, path: str, kind: Kind) -> str:
        key = path, kind.head, kind.codec
        if key not in self._texts:
            if len(self._texts) > 50 or self._held > _KEPT:
                self._texts.clear()
                self._held = 0
            data = self._near.read(path, kind.head or kind.most + 1)
            if kind.codec is TEXT and data.startswith(_PROGRAM):
                data = b""  # no settings, however long
            if not kind.head and len(data) > kind.most:
                raise CouldNotRead(
                    f"is larger than the {human_bytes(kind.most)} that are read of such a file", path
                )
            self._texts[key] = kind.codec.text_of(data)
            self._held += len(self._texts[key])
        return self._texts[key]

    def _entries(self, kind: Kind, path: str, text: str) -> list[Entry]:
        """Raises CouldNotRead."""
        if kind.links:
            return self._link(kind, path)
        try:
            return list(kind.parse(path, text))
        except ValueError as error:
            raise CouldNotRead(str(error), path) from None

    def _may_name(self, text: str, path: str) -> bool:
        """Whether one of the words stands in it without which it can name nobody; what is written otherwise is read whole."""
        if any(sign in text for sign in WRITTEN_OTHERWISE):
            return True
        here = words_in(text) | words_in(path)
        return not self._to.words.isdisjoint(here) or not self._links.words.isdisjoint(here)

    def _link(self, kind: Kind, path: str) -> list[Entry]:
        """A link by where it leads: as it is written, and one link further, and so on."""
        if path in self._shipped or path.startswith(_ALTERNATIVES):
            return []
        first, chain = self._links.chain(path)
        if not first:
            return []
        self._found.looked_at[kind.family] += 1
        if any(here.startswith(_ALTERNATIVES) for here in chain):
            return []  # the registry's own command makes and takes it
        targets = [Target(By.PATH, here) for here in chain]
        return [replace(e, targets=(*e.targets, *targets)) for e in kind.parse(path, first)]

    def _hits(self, kind: Kind, file: File, entries: list[Entry], home: str) -> list[Hit]:
        found: list[Hit] = []
        own = self._to.lists(file.path)  # what an application's own package brought is no reference to it
        for entry in entries:
            ids = dict.fromkeys(id for t in entry.targets if (id := self._whose(t, home)) not in ("", own))
            found += [Hit(id, entry, kind.whole or kind.links) for id in ids]
        if is_naming(kind):  # what a surer kind told is told
            named = self._naming[file.path]
            found = [h for h in found if h.id in named and (h.id, file.path, h.entry.line) not in self._told]
        if kind.whole:  # one for each, by the surest of what it says
            found = [
                min((h for h in found if h.id == id), key=lambda h: h.entry.ask)
                for id in {h.id: 0 for h in found}
            ]
        registrys = file.path in self._shipped  # what a package brought is edited, not taken
        if (
            kind.alone
            and not registrys
            and len({h.id for h in found}) == 1
            and self._is_empty_without(kind, file.path, found)
        ):
            found = [replace(h, whole=True) for h in found[:1]]
        return found

    def _whose(self, target: Target, home: str) -> str:
        """Whom a target means, also by the name or the path of a link that leads to it."""
        if id := self._to.whose(target, home):
            return id
        if target.by in (By.COMMAND, By.PATH):
            return self._links.whose(spelled_out(target.value, home), home)
        return ""

    def _is_empty_without(self, kind: Kind, path: str, hits: list[Hit]) -> bool:
        """Whether nothing that says anything is left in a file when all of them are cut."""
        cuts = [cut_of(h.entry) for h in hits]
        if None in cuts:
            return False
        rest = without(self._texts[path, kind.head, kind.codec], [c for c in cuts if c is not None])
        if kind.alone == "entries":
            return not any(True for _ in kind.parse(path, rest))
        return not any(True for _ in said_lines(rest, "#;"))

    def _hidden(self, kind: Kind, file: File, home: str) -> bool:
        """Whether another file hides it: one of its name in a place that counts before this one, or one that is read instead."""
        if any(self._machine.exists(join(parent(file.path), name)) for name in file.place.hidden_by):
            return True
        if not kind.masks:
            return False
        name = base(file.path)
        before = [p.pattern.rpartition("/")[0] for p in kind.places if p.rank < file.place.rank]
        mine = file.place.pattern.startswith("~")
        near = [p for p in before if p.startswith("~") == mine]
        if any(self._places.stands(p, home, name) for p in near):
            return True
        # What is for everybody is hidden where everybody has one of that name.
        own = [p for p in before if p.startswith("~") and not mine]
        return bool(own and self._people) and all(
            any(self._places.stands(p, person.home, name) for p in own) for person in self._people
        )


def _lines(entry: Entry, text: str) -> range:
    """The lines over which it goes, or what it is a piece of: one that is continued is one."""
    start, end = entry.whole or (entry.start, entry.end)
    begins = end > start and text.count("\n", 0, start) + 1 == entry.line
    return range(entry.line, entry.line + text.count("\n", start, end - 1) + 1) if begins else range(0)


def _counting(settings: Iterable[tuple[File, Entry]], wins: str) -> dict[str, tuple[str, int]]:
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
