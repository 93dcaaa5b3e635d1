"""The columns of the List lens: each knows its head, its width and its cell."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import overload

from swept_shelf.core.documents.sizes import grouped, human_bytes
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.documents.times import day
from swept_shelf.core.documents.used import used_in_words
from swept_shelf.core.survey.facts import registered_as
from swept_shelf.desk.parts.rows import Cell

Entry = Application | LeftBehind
EARLY = datetime(1, 1, 1, tzinfo=UTC)
VERDICT_WORDS = {
    Verdict.REMOVE: Verdict.REMOVE,
    Verdict.CLEAR_CACHE: "clear cache",
    Verdict.STOP_STARTING: "stop starting",
    Verdict.MOVE_DATA: "move data",
    Verdict.ASK_OWNER: "ask the owner",
    Verdict.KEEP: Verdict.KEEP,
    "": "",
}


@dataclass(frozen=True, slots=True)
class Shown:
    """What a cell is made from beside its entry."""

    survey: Survey
    verdicts: dict[str, str]
    largest: int


@dataclass(frozen=True, slots=True)
class Column:
    """`width` 0 shares what is left; `first`: shown unless the person says otherwise."""

    key: str
    head: str
    width: int
    right: bool
    first: bool
    cell: Callable[[Entry, Shown], Cell]


def _application(e: Entry, s: Shown) -> Cell:
    if isinstance(e, LeftBehind):
        gone = f"gone since {day(e.gone_since)}" if e.gone_since else "gone"
        return Cell(f"left by {e.name}", gone, sort=e.name.lower(), font="bold")
    older = next(
        (
            o.name
            for i in e.other_versions
            if isinstance(o := s.survey.find(i), Application) and o.version > e.version
        ),
        "",
    )
    starts = any(x.how == "login" and x.enabled for x in e.starts)
    summary = (
        e.summary + (f" · older than {older}" if older else "") + (" · starts at login" if starts else "")
    )
    return Cell(e.name, summary or "no description", sort=e.name.lower(), font="bold")


def _holds(e: Entry, s: Shown) -> Cell:
    total = e.bytes.total
    return Cell(
        human_bytes(total), sort=total, kinds=e.bytes, kinds_of=s.largest, tip=f"{grouped(total)} bytes"
    )


def _comes_back(e: Entry, s: Shown) -> Cell:
    total = e.comes_back if isinstance(e, Application) else e.bytes.total
    return Cell(human_bytes(total), sort=total, right=True, tip=f"{grouped(total)} bytes")


def _last_used(e: Entry, s: Shown) -> Cell:
    if isinstance(e, LeftBehind):
        return Cell("not installed", sort=EARLY)
    used = e.last_use
    if s.survey.so_far:
        return Cell("…", sort=EARLY, tip=used.because)
    who = " · ".join(x for x in (used.person, used.certainty) if x)
    if used.at is None:
        return Cell("no sign", "in the background" if used.background else "", sort=EARLY, tip=used.because)
    first = f"since {day(used.at)}" if used.wide else day(used.at)
    return Cell(first, who, sort=used.at, tip="\n".join(used_in_words(used)))


def _installed(e: Entry, s: Shown) -> Cell:
    at = e.installed.known if isinstance(e, Application) else None
    return Cell((day(at) or "not known") if isinstance(e, Application) else "", sort=at or EARLY)


def _registered(e: Entry, s: Shown) -> Cell:
    words = registered_as(e) if isinstance(e, Application) else "left behind"
    return Cell(re.split(r" from |, ", words)[0], sort=words.lower(), tip=words)


def _asked(e: Entry, s: Shown) -> Cell:
    if isinstance(e, LeftBehind):
        return Cell("")
    words = e.requested_by.removeprefix("asked for by ")
    if words in ("", "asked for"):
        words = "not known"
    elif words == "pulled in" and e.why_here:
        words = f"with {e.why_here[0]}"
    return Cell(words, sort=words.lower(), tip=e.requested_by or "no registry knows who asked for it")


def _publisher(e: Entry, s: Shown) -> Cell:
    words = e.publisher if isinstance(e, Application) else ""
    return Cell(words, sort=words.lower())


def _version(e: Entry, s: Shown) -> Cell:
    words = e.version if isinstance(e, Application) else e.was.version
    return Cell(words, sort=words)


def _volume(e: Entry, s: Shown) -> Cell:
    mounts = {v.id: v.mount for v in s.survey.volumes}
    words = ", ".join(sorted({mounts.get(b.volume, b.volume) for b in e.belongings if b.bytes}))
    return Cell(words, sort=words)


def _people(e: Entry, s: Shown) -> Cell:
    words = ", ".join(sorted({b.person for b in e.belongings if b.person != "everyone"}))
    return Cell(words, sort=words)


def _verdict(e: Entry, s: Shown) -> Cell:
    verdict = VERDICT_WORDS[s.verdicts.get(e.id, "")]
    return Cell(verdict, sort=verdict, font="bold", color="rust", right=True)


COLUMNS = (
    Column("application", "Application", 0, False, True, _application),
    Column("holds", "Holds", 146, False, True, _holds),
    Column("comes back", "Comes back", 84, True, True, _comes_back),
    Column("last used", "Last used", 102, False, True, _last_used),
    Column("installed", "Installed", 98, False, True, _installed),
    Column("registered", "Registered as", 120, False, True, _registered),
    Column("asked", "Asked for by", 92, False, True, _asked),
    Column("publisher", "Publisher", 120, False, False, _publisher),
    Column("version", "Version", 84, False, False, _version),
    Column("volume", "Volume", 84, False, False, _volume),
    Column("people", "People", 110, False, False, _people),
    Column("verdict", "", 96, True, True, _verdict),
)
ALWAYS = ("application", "verdict")
_OF_ORDER = len(COLUMNS) - 1  # the one column that a decision changes


class Cells(Sequence[Cell]):
    """An entry's cells, each made when it is first asked for: of a thousand rows a screen shows a dozen."""

    def __init__(self, entry: Entry, shown: Shown) -> None:
        self._entry, self._shown = entry, shown
        self._made: list[Cell | None] = [None] * len(COLUMNS)

    def show(self, shown: Shown) -> Cells:
        """For other verdicts; the rest of an entry stays what it was."""
        self._shown = shown
        self._made[_OF_ORDER] = None
        return self

    def __len__(self) -> int:
        return len(self._made)

    @overload
    def __getitem__(self, i: int) -> Cell: ...
    @overload
    def __getitem__(self, i: slice) -> list[Cell]: ...
    def __getitem__(self, i: int | slice) -> Cell | list[Cell]:
        if isinstance(i, slice):
            return [self[n] for n in range(*i.indices(len(self)))]
        made = self._made[i]
        if made is None:
            made = self._made[i] = COLUMNS[i].cell(self._entry, self._shown)
        return made


def column(key: str) -> int:
    return next(i for i, c in enumerate(COLUMNS) if c.key == key)


def group_of(entry: Entry, by: str, survey: Survey) -> str:
    """The group an entry stands in; "" where nothing is grouped."""
    app = entry if isinstance(entry, Application) else None
    people = {b.person for b in entry.belongings} - {"everyone"}
    if by == "registry":
        return registered_as(app) if app else "left behind"
    if by == "publisher":
        return (app.publisher if app else "") or "publisher not known"
    if by == "person":
        return next(iter(people)) if len(people) == 1 else "several people" if people else "nobody alone"
    if by == "kind":
        return _TYPES[app.type] if app else "left behind"
    return ""


_TYPES = {
    "desktop": "desktop programs",
    "terminal": "terminal programs",
    "service": "services",
    "kernel": "older kernels",
    "runtime": "runtimes",
}
GROUPS = ("", "registry", "publisher", "person", "kind")
