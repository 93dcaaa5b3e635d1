"""The safety net: names and paths of applications in configuration that no kind of reference reads, or not this line of it.

A mention is weaker than a reference: nobody knows what the line does there. It is shown, and never taken out."""

from __future__ import annotations

import hashlib
import os
import re
from collections import defaultdict, deque
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Person, Reference
from swept_shelf.core.documents.version_control import VERSION_CONTROL
from swept_shelf.core.machine.literal_search import occurrences, write_all
from swept_shelf.core.machine.machine import SHELF
from swept_shelf.core.machine.near import Near
from swept_shelf.core.machine.people import person_of
from swept_shelf.core.references.pointees import Pointee, Pointees

MENTION, FAMILY = "mention", "other_programs"
_LARGEST, _CHUNK = 256 << 10, 8 << 20  # bytes of a file that is searched; of what one search reads
_MOST_FILES, _MOST_FOLDERS, _DEEPEST = 20_000, 10_000, 7
_MOST = 20  # mentions of one application that are shown, the surest first
_TOPS = ("/etc", "/usr/local", "/opt")
_CONFIGURATION = frozenset(
    {
        "", "bash", "cfg", "cmd", "cnf", "conf", "config", "cron", "desktop", "directory", "el", "env", "fish", "ini", "json",
        "jsonc", "kdl", "keys", "link", "list", "local", "lua", "menu", "mount", "network", "path", "pkla", "pl", "plist", "policy",
        "nft", "v4", "v6", "gradle", "pa", "nu", "elv", "ps1", "hs", "yuck", "dirs", "site", "rprofile", "nmconnection", "session",
        "jl", "launch", "lisp", "module", "name", "pref", "preferences", "prefs", "profile", "properties", "py", "rasi", "rb", "rc", "reg", "ron", "rules", "sbt", "scm", "service", "sh",
        "slice", "socket", "sources", "target", "theme", "timer", "toml", "vcl", "vim", "xinetd", "xml", "yaml", "yml", "zsh",
    }
)  # fmt: skip
_BY_NAME = frozenset(
    {"prefs.js", "user.js", "pkcs11.txt", "environments.txt"}
)  # settings, though their ending does not say so
_NOT_ENTERED = frozenset(
    {
        ".cache", "cache", "Cache", "Code Cache", "CacheStorage", "GPUCache", "IndexedDB", "Service Worker", "blob_storage",
        *VERSION_CONTROL, "node_modules", "site-packages", "dist-packages", "__pycache__", "vendor", "registry",
        "toolchains", "Trash", ".thumbnails", "thumbnails", "man", "doc", "locale", "icons", "fonts", "logs", "tmp", "crashes",
        SHELF, SHELF.lstrip("."),
    }
)  # fmt: skip
_WORKING_COPY = (*VERSION_CONTROL, "pyvenv.cfg")
_ANOTHER_ROOT = ("usr", "etc", "var")  # of a container, a chroot
_OTHERWISE = re.compile(
    r"histor(y|ies)|_hist$|known_hosts|shadow$|^(passwd|g?shadow|group|sub[ug]id)-$"
)  # typed, secret, or the copy before
_MADE_ANEW = re.compile(
    rb"(?i)generated automatically|auto(?:matically|-)?[ -]?generated"
)  # and will be, without what is gone
_OURS = re.compile(rb'\{\s*"format": "swept-shelf/')  # an order, a survey: it says what was found elsewhere
_ENDS = r"(?:desktop|service|socket|timer|path|mount|target|conf|cfg|ini|json|toml|ya?ml|xml|list|rules|sock|pid|log|sh|py|d|so)\b"


@dataclass(slots=True)
class _Named:
    """What one file names of one application: (its text, whether a path or an id stands there) by line."""

    lines: dict[int, tuple[str, bool]] = field(default_factory=dict)


def _literals(to: Pointees) -> dict[bytes, tuple[str, bool]]:
    """What is searched for: whose it is, and whether it is a path or an id, which no ordinary word is. What is of two is nobody's."""
    found: dict[str, tuple[str, bool] | None] = {}
    for p in to.all:
        for text, sure in _texts(p):
            known = found.setdefault(text, (p.id, sure))
            if known is not None and known != (p.id, sure):
                found[text] = (p.id, True) if known[0] == p.id else None
    return {text.encode("utf-8", "surrogateescape"): whose for text, whose in found.items() if whose}


def _texts(p: Pointee) -> Iterator[tuple[str, bool]]:
    """Its paths and ids, and its names: those alone are no ordinary words."""
    for path in (*p.programs, *p.folders):
        if path.count("/") > 1:
            yield path, True
    for id in (*p.launchers, *p.buses):
        if "." in id.removesuffix(".desktop") or id.removesuffix(".desktop") in p.names:
            yield id, True
    accounts = (a for a in p.accounts if a.startswith("_") and a not in p.names)
    for name in (*p.names, *accounts):
        if "/" not in name:
            yield name, False


class Configuration:
    """Files of settings, by where they stand and how they are called; no link is followed."""

    def __init__(self, near: Near, people: list[Person]) -> None:
        self._near, self._homes = near, [p.home for p in people]
        self.not_read: list[tuple[str, str]] = []

    def files(self) -> Iterator[str]:
        homes, left = self._homes, _MOST_FILES
        for top in dict.fromkeys((*_TOPS, *homes)):
            for path in self._below(top, set(homes) - {top}, top in homes):
                if not left:
                    self.not_read.append(
                        (top, f"more than {_MOST_FILES} files of settings: not all were searched")
                    )
                    return
                left -= 1
                yield path

    def _below(self, top: str, others: set[str], home: bool) -> Iterator[str]:
        waiting, listed = deque([(top, 0)]), 0
        while waiting:
            folder, depth = waiting.popleft()
            listed += 1
            if listed > _MOST_FOLDERS:
                self.not_read.append(
                    (top, f"more than {_MOST_FOLDERS} folders: not all were searched for mentions")
                )
                return
            try:
                names = self._near.listed(folder)
            except CouldNotRead:
                continue  # whoever looks for references, or walks, names what may not be listed
            if depth and (
                (home and any(sign in names for sign in _WORKING_COPY))
                or all(names.get(top) == "folder" for top in _ANOTHER_ROOT)
            ):
                continue
            for name, kind in names.items():
                path = f"{folder}/{name}"
                if kind == "file" and _is_configuration(name):
                    yield path
                elif (
                    kind == "folder" and depth < _DEEPEST and name not in _NOT_ENTERED and path not in others
                ):
                    waiting.append((path, depth + 1))


def search_settings(near: Near, people: list[Person], shipped: Mapping[str, str], to: Pointees) -> Mentions:
    """Read and search all files of settings at once; what of it is no mention is known later, when the references are."""
    return _Search(near, people, shipped, to).search()


class _Search:
    def __init__(self, near: Near, people: list[Person], shipped: Mapping[str, str], to: Pointees) -> None:
        self._near, self._people, self._shipped = near, people, shipped
        self._to, self._literals = to, _literals(to)
        self._batch: list[tuple[str, bytes]] = []
        self._size = 0
        self._found: dict[tuple[str, str], _Named] = defaultdict(_Named)
        self.not_read: list[tuple[str, str]] = []
        self.searched = 0

    def search(self) -> Mentions:
        if self._literals:
            where = Configuration(self._near, self._people)
            for path in where.files():
                self._add(path)
            self._flush()
            self.not_read += where.not_read
        return Mentions(self._people, dict(self._found), self.searched, self.not_read)

    # -- what they name ---------------------------------------------------------------------------------------

    def _add(self, path: str) -> None:
        """Read a file, for the next search; what is no text, large or the registry's own is not."""
        owned = self._shipped.get(path)
        if owned == "":
            return
        try:
            data = self._near.read(path, _LARGEST + 1)
        except CouldNotRead as error:
            self.not_read.append((path, error.reason))
            return
        if len(data) > _LARGEST or b"\0" in data or (owned and hashlib.md5(data).hexdigest() == owned):
            return
        if (path.startswith("/etc/") and _MADE_ANEW.search(data[:1024])) or _OURS.match(data):
            return
        self.searched += 1
        self._batch.append((path, data))
        self._size += len(data)
        if self._size > _CHUNK:
            self._flush()

    def _flush(self) -> None:
        """One search over all that was read."""
        batch, self._batch, self._size = self._batch, [], 0
        if not batch:
            return
        texts = os.memfd_create("texts")
        try:
            ends, end = [], 0
            for _, data in batch:
                end += write_all(texts, data + b"\n")
                ends.append(end)
            number = start = 0
            for at, literal in occurrences(self._literals, f"/proc/self/fd/{texts}", [texts]):
                while at >= ends[number]:
                    start = ends[number]
                    number += 1
                self._note(*batch[number], at - start, literal)
        except CouldNotRead as error:
            self.not_read.append((batch[0][0], error.reason))
        finally:
            os.close(texts)

    def _note(self, path: str, data: bytes, at: int, literal: bytes) -> None:
        if literal not in self._literals or not _stands_alone(data, at, literal):
            return
        id, sure = self._literals[literal]
        line = data.count(b"\n", 0, at) + 1
        if self._is_own(id, path):
            return
        lines = self._found[id, path].lines
        if line in lines:
            lines[line] = lines[line][0], lines[line][1] or sure
            return
        start, end = data.rfind(b"\n", 0, at) + 1, data.find(b"\n", at)
        text = data[start : end if end >= 0 else len(data)].decode("utf-8", "surrogateescape")
        lines[line] = text.strip()[:400], sure

    def _is_own(self, id: str, path: str) -> bool:
        """Whether it lies in a place of the application itself."""
        return self._to.lists(path) == id or self._to.place(path) == id


@dataclass(frozen=True, slots=True)
class Mentions:
    """`found`: what files of settings name, by application and file; `searched`: how many files; `not_read`: (path, reason)."""

    people: list[Person]
    found: dict[tuple[str, str], _Named]
    searched: int
    not_read: list[tuple[str, str]]

    def naming(self) -> dict[str, set[str]]:
        """Files in which something is named, with the applications whose it is."""
        found: dict[str, set[str]] = defaultdict(set)
        for id, path in self.found:
            found[path].add(id)
        return found

    def mentions(self, known: Mapping[str, list[Reference]]) -> dict[str, list[Reference]]:
        """All apart from lines that are `known` as references; the surest of each application first."""
        whole = {(id, r.path) for id, rows in known.items() for r in rows if r.whole}
        taken = {(id, r.path, r.line) for id, rows in known.items() for r in rows}
        rows: dict[str, list[tuple[bool, str, _Named]]] = defaultdict(list)
        for (id, path), named in self.found.items():
            left = {n: x for n, x in named.lines.items() if (id, path, n) not in taken}
            if left and (id, path) not in whole:
                rows[id].append((not any(sure for _, sure in left.values()), path, _Named(left)))
        return {id: list(self._shown(id, sorted(found, key=lambda r: r[:2]))) for id, found in rows.items()}

    def _shown(self, id: str, rows: list[tuple[bool, str, _Named]]) -> Iterator[Reference]:
        for unsure, path, named in rows[:_MOST]:
            line, (text, _) = next(iter(named.lines.items()))
            detail = "names a place of it" if not unsure else "names it"
            if len(named.lines) > 1:
                detail += f", in {plural(len(named.lines), 'line')}"
            yield _mention(id, self.people, path, line, text, detail)
        if len(rows) > _MOST:
            path, more = rows[_MOST][1], len(rows) - _MOST
            yield _mention(
                id,
                self.people,
                path,
                0,
                "",
                f"names it, and {plural(more - 1, 'more file')} do" if more > 1 else "names it",
            )


def _mention(id: str, people: list[Person], path: str, line: int, text: str, detail: str) -> Reference:
    key = f"{id}\0{MENTION}\0{path}\0{line}".encode("utf-8", "surrogateescape")
    number = hashlib.sha256(key).hexdigest()[:12]
    return Reference(
        number, FAMILY, MENTION, path, line, text, text, person_of(people, path), detail, True, True, "leave"
    )


def _is_configuration(name: str) -> bool:
    stem, dot, ending = name.lstrip(".").rpartition(".")
    kind = ending.lower() if dot and stem else ""
    return (
        kind in _CONFIGURATION
        or name in _BY_NAME
        or ((dot or name.startswith(".")) and ending.endswith("rc"))
    ) and not _OTHERWISE.search(name)


_LEFT = re.compile(rb"(?:[\w+~-]|[\w]\.)\Z")
_RIGHT = re.compile(rb"[\w+~-]|@[\w]|\.(?!%s)[\w]" % _ENDS.encode())


def _stands_alone(data: bytes, at: int, literal: bytes) -> bool:
    """Whether it is not a part of a longer name; a path may go on below it."""
    before, after = data[max(0, at - 2) : at], data[at + len(literal) : at + len(literal) + 12]
    if literal.startswith(b"/"):
        return not re.search(rb"[\w.+~-]\Z", before) and not re.match(rb"[\w+~-]|\.\w", after)
    return not _LEFT.search(before) and not _RIGHT.match(after)
