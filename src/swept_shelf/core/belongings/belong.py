"""What belongs to each application: claims made into belongings with kinds, sizes, sharing and ticks."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Container, Iterable, Mapping
from dataclasses import replace
from functools import cached_property
from types import MappingProxyType

import numpy as np

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.personal import Personal
from swept_shelf.core.belongings.prefixes import is_brought
from swept_shelf.core.belongings.resolve import CERTAIN, Ruling, strength
from swept_shelf.core.documents.paths import base, outermost, parent, ways_up, within
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Belonging, Proof, Volume
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.volumes import is_in_memory, volume_of
from swept_shelf.core.tree.walk import Tree

_CACHE = re.compile(r"^(cache[s\d]*|code ?cache|gpucache|shadercache|tmp|temp|crash(es|pad)?)$", re.I)
_SOME_CACHE = re.compile(r"(?:[a-z]Cache|[ _-][Cc]ache)$")  # ShaderCache, image_cache
_LOG = re.compile(r"(^logs?$|\.log(\.\d+)?(\.gz)?$)", re.I)
_NOTHING: Mapping[str, int] = MappingProxyType({})


class Maker:
    """Makes belongings out of paths of one walk."""

    def __init__(
        self,
        tree: Tree,
        volumes: list[Volume],
        opened: frozenset[str] = frozenset(),
        in_memory: Iterable[str] = (),
        written: Mapping[str, int] = _NOTHING,
    ) -> None:
        """`opened`: documents that people opened: their own, wherever they lie; `in_memory`: mounts that take nothing of any volume;
        `written`: when the programs of an application below /usr/local were (ns)."""
        self._written = written
        self._tree = tree
        self._in_memory = tuple(in_memory)
        self._opened = opened
        self._volumes = volumes

    def make(
        self,
        path: str,
        person: str,
        kind: Kind,
        claim: Claim,
        shared_with: list[str],
        ticked: bool,
        without: list[str] | None = None,
        personal: bool = False,
        reason: str = "",
        share: Share | None = None,
    ) -> Belonging:
        tree = self._tree
        entry = tree.entry(path)
        newest = tree.newest_write(path)
        inner = [w for w in without or [] if w != path]
        size, why = tree.bytes_below(path, inner), reason or claim.reason
        ticked = ticked and not path.startswith("/run/")  # processes' own, made anew at each start
        if is_in_memory(path, self._in_memory, self._volumes):
            why, size, ticked = f"{why}; {human_bytes(size)} in memory only: gone at the next start", 0, False
        return Belonging(
            object="path",
            path=path,
            volume=volume_of(self._volumes, path).id,
            identity=entry.identity if entry else None,
            files=tree.files_below(path) - sum(tree.files_below(w) for w in inner),
            newest_write=from_ns(newest) if newest is not None else None,
            person=person,
            kind=kind,
            bytes=size,
            proof=claim.proof,
            reason=why,
            share=share or (Share.SHARED if shared_with else Share.SOLE),
            shared_with=shared_with,
            personal=personal,
            ticked=ticked and not shared_with and not personal,
            evidence=claim.evidence[:6],
            except_=inner,
            certain=ticked or strength(claim) >= CERTAIN,
        )

    def place(self, place: Place, ruling: Ruling, elsewhere: list[str]) -> list[tuple[str, Belonging]]:
        """A claimed place as belongings of its owner: the whole, with caches, logs and personal work split out.

        `elsewhere`: paths below that are claimed by themselves."""
        tree = self._tree
        claim, shared = ruling.claim, ruling.others
        made: list[tuple[str, Belonging]] = []
        if ruling.share == Share.COMMON:
            reason = f"{len(shared) + 1} applications have the same claim to it: nobody’s alone"
            return [
                (
                    claim.id,
                    self.make(
                        place.path,
                        place.person,
                        place.kind,
                        claim,
                        shared,
                        False,
                        elsewhere,
                        reason=reason,
                        share=Share.COMMON,
                    ),
                )
            ]
        if shared and elsewhere:
            return [
                (claim.id, self._child(place, c, claim, shared))
                for c in tree.children(place.path)
                if not any(within(e, c) for e in elsewhere)
            ]
        parts = dict.fromkeys(elsewhere, "")
        tick = claim.tick
        personal = (
            []
            if place.kind in (Kind.CACHE, Kind.LOG) or tree.kind(place.path) != "folder"
            else [
                p
                for p in self._personal.parts(place.path)
                if not is_brought(tree, p, self._written.get(claim.id))
            ]
        )
        if personal and claim.by_text_alone:
            tick = False  # what people made is there, and only a text says whose the place is
        for path in personal:
            if not any(within(path, e) for e in elsewhere):
                parts[path] = "personal"
                whose = (
                    f"{place.person}’s own work: stays"
                    if place.person != "everyone"
                    else "people’s own work: stays"
                )
                caches = self._caches_of_profiles(path)
                made += [
                    (claim.id, self.make(c, place.person, Kind.CACHE, claim, shared, tick)) for c in caches
                ]
                made.append(
                    (
                        claim.id,
                        self.make(
                            path,
                            place.person,
                            place.kind,
                            claim,
                            shared,
                            False,
                            caches,
                            personal=True,
                            reason=whose,
                        ),
                    )
                )
        for path, kind in self._splits(place, list(parts)):
            parts[path] = kind
            made.append((claim.id, self.make(path, place.person, kind, claim, shared, tick)))
        made.insert(
            0, (claim.id, self.make(place.path, place.person, place.kind, claim, shared, tick, list(parts)))
        )
        return made

    def _child(self, place: Place, child: str, claim: Claim, shared: list[str]) -> Belonging:
        return self.make(
            child, place.person, place.kind, claim, shared, False, reason="lies in a folder that several use"
        )

    def _splits(self, place: Place, taken: list[str]) -> list[tuple[str, Kind]]:
        """Caches and logs inside another kind, outermost, three levels down at most."""
        if place.kind in (Kind.CACHE, Kind.LOG):
            return []
        found: list[tuple[str, Kind]] = []
        top = place.path.count("/")
        for i in self._named_inside(place.path):
            path = self._tree.paths[i]
            if (
                path.count("/") - top > 3
                or any(within(path, t) or within(t, path) for t in taken)
                or any(within(path, f) for f, _ in found)
            ):
                continue
            is_cache = self._tree.is_folder[i] and _is_cache(base(path))
            found.append((path, Kind.CACHE if is_cache else Kind.LOG))
        return found

    def _caches_of_profiles(self, top: str) -> list[str]:
        """What the program keeps right in a person's profile and makes anew by itself."""
        tree, profiles = self._tree, self._personal.profiles
        inside = [tree.paths[i] for i in self._named_inside(top) if tree.is_folder[i]]
        found = [
            p for p in inside if parent(p) in profiles and _is_cache(base(p)) and "cache" in base(p).lower()
        ]
        # A folder of mail is a profile itself, whatever it is called, and pictures may be somebody's.
        return [
            p
            for p in found
            if not (self._personal.documents_in(p) or any(within(profile, p) for profile in profiles))
        ]

    def _named_inside(self, path: str) -> list[int]:
        part = self._tree.slice(path)
        return self._named[bisect_right(self._named, part.start) : bisect_left(self._named, part.stop)]

    @cached_property
    def _personal(self) -> Personal:
        return Personal(self._tree, self._opened)

    @cached_property
    def _named(self) -> list[int]:
        """Positions of everything that is called like a cache or a log."""
        paths, folders = self._tree.paths, np.flatnonzero(self._tree.is_folder).tolist()
        likely = [i for i, p in enumerate(paths) if p.endswith((".log", ".gz", ".LOG")) or ".log." in p[-16:]]
        named = {i for i in folders if i and (_is_cache(base(paths[i])) or _LOG.search(base(paths[i])))}
        return sorted(named | {i for i in likely if _LOG.search(base(paths[i]))})

    def registered(
        self, files: list[str], own_folders: list[str], listed: dict[str, str], conffiles: set[str]
    ) -> list[Belonging]:
        """What the registry lists: folders that are its alone as one, other files one by one, conffiles apart."""
        made = []
        folders = [f for f in own_folders if f in self._tree]
        tops = set(folders)
        inside: dict[str, list[str]] = {f: [] for f in folders}
        for conffile in sorted(conffiles):
            if conffile in self._tree:
                for above in ways_up(conffile):
                    if above in tops:
                        inside[above].append(conffile)
        for folder in folders:
            if inside[folder] and all(
                p in conffiles or self._tree.kind(p) == "folder" for p in files if within(p, folder)
            ):
                continue
            made.append(
                self.make(folder, "everyone", Kind.PROGRAM, _listed(listed, folder), [], True, inside[folder])
            )
        loose = set(outermost([*files, *folders]))
        for path in files:
            if path in conffiles:
                made.append(
                    self.make(
                        path,
                        "everyone",
                        Kind.PREFERENCES,
                        _listed(listed, path),
                        [],
                        True,
                        reason="settings file of its package",
                    )
                )
            elif path in loose:
                made.append(self.make(path, "everyone", Kind.PROGRAM, _listed(listed, path), [], True))
        return made


def _is_cache(name: str) -> bool:
    return bool(_CACHE.match(name) or _SOME_CACHE.search(name))


def _listed(listed: dict[str, str], path: str) -> Claim:
    package = listed.get(path, "")
    return Claim("", By.REGISTERED, "listed by its package", [Proof(By.REGISTERED, path, 0, package)])


def strangers(tree: Tree, folder: str, owned: Container[str], listed: Container[str]) -> list[str]:
    """Outermost paths below an application's own folder that no package lists."""
    found: list[str] = []
    part = tree.slice(folder)
    for i in range(part.start + 1, part.stop):
        path = tree.paths[i]
        if path not in owned and path not in listed and not (found and within(path, found[-1])):
            found.append(path)
    return found


def without_strangers(belonging: Belonging, strange: list[str], tree: Tree) -> Belonging:
    """The belonging with what its package does not list taken apart."""
    inner = [s for s in strange if within(s, belonging.path)]
    if not inner:
        return belonging
    excluded = [*belonging.except_, *inner]
    return replace(
        belonging,
        except_=excluded,
        bytes=tree.bytes_below(belonging.path, excluded),
        files=belonging.files - sum(tree.files_below(s) for s in inner),
    )
