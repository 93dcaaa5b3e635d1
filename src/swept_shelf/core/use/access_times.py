"""Sign: when a program's own files were last read (access time), with the mount's real behaviour."""

from __future__ import annotations

import re
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.documents.terms import Kind, Share
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.use.company import crowds
from swept_shelf.core.use.passes import Spans, inside, joined, passes
from swept_shelf.core.use.trace import DAY, WEAK, Look, Subject, Trace

PROGRAM, PARTS = "program read", "parts read"
_INSTALLING = 3600  # seconds after an installation in which its own scripts and triggers read
_PARTS = 60  # files of one application that are asked
_QUIET = ("/usr/share/doc", "/usr/share/man")  # what nobody reads by using programs
_BUSY = ("/usr/bin", "/usr/sbin", "/usr/games", "/usr/lib", "/opt", "/usr/local")
_SAMPLE, _HOME_LEAST = 400, 50
_SAME_MOMENT, _TOGETHER = (
    10,
    4,
)  # seconds in which so many applications' programs are read by none of their users
_DOCUMENTS = ("/usr/share/doc/", "/usr/share/lintian/", "/usr/share/bug/")
_MINUTES = 600
_QUIET_SHARES = {600: 0.08, 3600: 0.15, 21600: 0.3}
_BUSY_SHARES = {600: 0.35, 3600: 0.45, 21600: 0.6}
_NOT_PARTS = re.compile(
    r"/(doc|man|info|icons|pixmaps|applications|metainfo|appdata|locale|help|mime|dbus-1|glib-2\.0|"
    r"bash-completion|zsh|fish|systemd|lintian|bug|menu)(/|$)|\.(desktop|service|mo|gz)$"
    # Where every program looks for what it draws, says, spells and imports: whoever shows a text reads all fonts.
    r"|^/usr/(?:local/)?share/(fonts|themes|sounds|backgrounds|wallpapers|color|gtk-doc|hunspell|myspell|hyphen|mythes|dict|"
    r"javascript|X11|terminfo|zoneinfo|tessdata|texmf)/|^/usr/(?:local/)?lib/python[\d.]+/(site|dist)-packages/|^/usr/(lib|share)/(?:\w+-linux-\w+/)?(perl5?|ruby|lua)/"
)


def behaviour(machine: Machine, volumes: list[Volume]) -> str:
    """What access times are worth here: noatime, relatime or strictatime, by the root's volume."""
    return _mode(options(machine, volumes, "/"))


def options(machine: Machine, volumes: list[Volume], path: str) -> str:
    """How the machine mounts the volume of `path`: another computer's disk by its own fstab(5)."""
    volume = volume_of(volumes, path)
    if not machine.live:
        for line in machine.text("/etc/fstab").splitlines():
            parts = line.split()
            if len(parts) >= 4 and not parts[0].startswith("#") and parts[1] == volume.mount:
                return parts[3]
    return volume.options


def _mode(text: str) -> str:
    words = text.split(",")
    return "noatime" if "noatime" in words else "strictatime" if "strictatime" in words else "relatime"


def look(at: Look) -> None:
    """Per application the newest access time of its programs, and of files that only it reads."""
    crowded = _crowds(at)
    quiet = joined(s for top in _QUIET for s in _passes(at, top, _QUIET_SHARES))
    over: dict[str, Spans] = {}
    modes: dict[str, str] = {}
    for subject in at.subjects:
        documents = _documents(subject, at)
        ran = max(
            (t // 1_000_000_000 for p in subject.app.executables if (t := at.tree.accessed(p))), default=None
        )
        for kind, paths in ((PROGRAM, list(subject.app.executables)), (PARTS, _parts(subject, at))):
            found: dict[bool, Trace] = {}
            for path in paths:
                mount = volume_of(at.volumes, path).mount
                if mount not in modes:
                    modes[mount] = _mode(options(at.machine, at.volumes, mount))
                read = at.tree.accessed(path) if modes[mount] != "noatime" else None
                if read is None:
                    continue
                at.saw(kind)
                top = next((t for t in (*_BUSY, *(p.home for p in at.people)) if within(path, t)), "")
                if top and top not in over:
                    over[top] = joined([*quiet.tolist(), *_passes(at, top, _BUSY_SHARES)])
                seconds = read // 1_000_000_000
                aside = _aside(subject, at, path, seconds, over.get(top, quiet), kind, documents)
                if not aside and kind == PROGRAM and inside(crowded, seconds, 0):
                    aside = "several programs were read in the same moment"
                if not aside and kind == PARTS and ran is not None and seconds > ran + DAY:
                    aside = (
                        "its program was not read then: another one read this"  # with relatime within a day
                    )
                kept = found.get(bool(aside))
                if kept is None or kept.at < seconds:
                    grain = DAY if modes[mount] == "relatime" else 0
                    found[bool(aside)] = Trace(
                        subject.id,
                        kind,
                        seconds,
                        at.logins.only(seconds),
                        path,
                        WEAK,
                        min(seconds + grain, max(at.now, seconds)),
                        0,
                        "another program may have read it",
                        aside,
                    )
            at.traces += found.values()


def _aside(
    subject: Subject, at: Look, path: str, seconds: int, spans: Spans, kind: str, documents: NDArray[np.int64]
) -> str:
    if why := at.timely(seconds):
        return why
    changed = at.changed(subject, path)
    if any(c - 60 <= seconds <= c + _INSTALLING for c in changed):
        return "read as it was installed or upgraded"
    if inside(spans, seconds):
        return "many files were read then: a backup or an indexer"
    if _most_read_with_it(documents, seconds):
        return "its documents were read with it: its package was checked or copied"
    came = max(changed, default=None)
    if came is not None and seconds < came:
        return "older than its installation"
    if subject.background:
        return "runs in the background"
    unasked = at.unasked[subject.id]
    if unasked and (path in unasked or kind == PARTS):
        return unasked.get(path) or next(iter(unasked.values()))
    if at.logins.nobody(seconds):
        return "nobody was logged in then"
    entry = at.tree.entry(path) if came is None else None
    if entry is not None and 0 <= seconds - entry.identity.ctime_ns // 1_000_000_000 <= _INSTALLING:
        return "read as it was put there"  # no registry knows when it came: when its file last changed
    return ""


def _crowds(at: Look) -> Spans:
    """When programs of several applications were read in one moment. What one is made from counts as one."""
    events = [
        (read // 1_000_000_000, s.app.package.source if s.app.package else s.id)
        for s in at.subjects
        for path in s.app.executables
        if (read := at.tree.accessed(path)) is not None
    ]
    return crowds(events, _SAME_MOMENT, _TOGETHER)


def _documents(subject: Subject, at: Look) -> NDArray[np.int64]:
    """When its package's documents were read, which no program reads by being used; oldest first."""
    own = [p for p in subject.files if p.startswith(_DOCUMENTS)][:_PARTS]
    read = [t // 1_000_000_000 for p in own if (t := at.tree.accessed(p)) is not None]
    return np.sort(np.array(read, dtype=np.int64))


def _most_read_with_it(documents: NDArray[np.int64], seconds: int) -> bool:
    """Whether more than half of the documents were read in the same minutes."""
    low, high = np.searchsorted(documents, (seconds - _MINUTES, seconds + _MINUTES + 1))
    return bool(2 * (high - low) > len(documents))


def _parts(subject: Subject, at: Look) -> list[str]:
    """Files of its own folders that only the program itself reads."""
    tree, own = at.tree, []
    for b in subject.belongings:
        if b.kind == Kind.PROGRAM and b.share == Share.SOLE and b.identity and b.identity.type == "folder":
            part = tree.slice(b.path)
            own += [
                tree.paths[i]
                for i in (
                    np.flatnonzero(tree.is_file[part.start : part.stop] & tree.without(part, b.except_))
                    + part.start
                ).tolist()
            ]
    own = [p for p in own if p not in subject.app.executables and not _NOT_PARTS.search(p)]
    return own[:: max(1, -(-len(own) // _PARTS))]


def _passes(at: Look, top: str, shares: dict[int, float]) -> Iterator[tuple[int, int]]:
    """When most of what lies below `top` was read at once, by a sample of its files."""
    tree = at.tree
    part = tree.slice(top)
    files = np.flatnonzero(tree.is_file[part.start : part.stop]) + part.start  # of nothing, nothing
    if top.startswith(tuple(p.home for p in at.people)) and len(files) < _HOME_LEAST:
        return
    chosen = (tree.paths[i] for i in files[:: max(1, -(-len(files) // _SAMPLE))].tolist())
    yield from passes(
        (t // 1_000_000_000 for p in chosen if (t := tree.accessed(p)) is not None), shares
    ).tolist()
