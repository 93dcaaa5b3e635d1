"""The drawer: of the application in hand, what belongs to it and why, what points at it, when it was used."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.documents.survey import (
    STORE,
    Application,
    Belonging,
    LastUse,
    LeftBehind,
    Reference,
    Survey,
)
from swept_shelf.core.documents.terms import By, Kind, SoFar, Verdict
from swept_shelf.core.documents.times import day, short_day
from swept_shelf.core.documents.used import used_in_words
from swept_shelf.core.orders.scope import tickable
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.survey.facts import about, had_again, registered_as
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label
from swept_shelf.desk.parts.painted import elide
from swept_shelf.desk.parts.rows import Cell, Row, RowTable, WholeRows
from swept_shelf.desk.survey.folded import Folded, Opened, folded
from swept_shelf.desk.survey.tick_table import TickTable
from swept_shelf.desk.survey.use_strip import UseStrip
from swept_shelf.desk.theme import theme

Entry = Application | LeftBehind
NAMED_WORTH_SAYING = 1_000_000  # bytes
_TIPS = 20  # paths in a tool tip


_NOTHING = "A click, or an arrow key, takes an application in hand and shows what belongs to it."


_NOT_YET = Row("none", (Cell("still being looked for", color="ink2"),))
_NO_BELONGINGS_YET = Row("none", (Cell(""), *_NOT_YET.cells))


class Drawer(QFrame):
    verdict_wanted = Signal(str)
    tick_wanted = Signal(str, bool)
    page_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("drawer")
        self.setAccessibleName(spoken("Drawer"))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 10, 16, 8)
        outer.setSpacing(6)
        top = QHBoxLayout()
        top.setSpacing(12)
        self._name, self._facts = label("", "head"), Elided("", "small", second=True)
        self._name.setMaximumWidth(theme().px(260))
        self._remove, self._cache = button("Remove"), button("Clear cache")
        self._remove.clicked.connect(lambda: self.verdict_wanted.emit(Verdict.REMOVE))
        self._cache.clicked.connect(lambda: self.verdict_wanted.emit(Verdict.CLEAR_CACHE))
        for b in (self._remove, self._cache):
            b.setMinimumHeight(theme().px(26))
        top.addWidget(self._name)
        top.addWidget(self._facts, 1)
        self._opened = Opened()
        self.shown_only = False  # an earlier visit: nothing is decided
        self._shown: tuple[Entry, Survey, frozenset[str] | None, str] | None = None
        top.addWidget(self._cache)
        top.addWidget(self._remove)
        outer.addLayout(top)
        self._body = QWidget()
        grid = self._grid = QGridLayout(self._body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(20)
        grid.setVerticalSpacing(4)
        self._used = Elided("", "bold")
        head = QHBoxLayout()
        head.setContentsMargins(0, 0, 0, 0)
        head.addWidget(Elided("Belongings", "bold"), 1)
        self.all_button = button("All of them…", plain=True, name="All belongings on a page of their own")
        self.all_button.setFixedWidth(
            round(theme().metrics("small").horizontalAdvance(self.all_button.text())) + theme().px(16)
        )
        self.all_button.setFixedHeight(theme().px(20))
        self.all_button.setToolTip(spoken("Alt+B"))
        self.all_button.clicked.connect(self.page_wanted.emit)
        head.addWidget(self.all_button)
        grid.addLayout(head, 0, 0)
        grid.addWidget(Elided("Pointed at by", "bold"), 0, 1)
        grid.addWidget(self._used, 0, 2)
        self.belongings = TickTable("Belongings", (("", False),) * 4, (106, 0, 64, 172), drop=(3,))
        self.belongings.ticked.connect(self.tick_wanted)
        self.belongings.opened.connect(self._turn)
        self.pointers = RowTable("Pointed at by", (("", False),), (0,), height=22)
        self.pointers.painter_of_rows.ground = "paper"
        self.strip = UseStrip()
        grid.addWidget(WholeRows(self.belongings), 1, 0)
        grid.addWidget(WholeRows(self.pointers), 1, 1)
        grid.addWidget(self.strip, 1, 2)
        for column, share in ((0, 60), (1, 17), (2, 23)):
            grid.setColumnStretch(column, share)
        grid.setRowStretch(1, 1)
        outer.addWidget(self._body, 1)
        self.show_entry(None, None, frozenset(), "", datetime.now().astimezone())

    def _turn(self, key: str) -> None:
        if self._opened.turn(key):
            self._show_belongings()

    def _show_belongings(self) -> None:
        if self._shown is None:
            return
        entry, survey, ticks, verdict = self._shown
        if survey.so_far and survey.so_far != SoFar.BELONGINGS:
            self.belongings.show_rows([_NO_BELONGINGS_YET])
            return
        self.belongings.show_rows(
            [
                _folder(b, verdict, ticks)
                if isinstance(b, Folded)
                else _belonging(b, entry, survey, ticks, verdict)
                for b in folded(_sorted(entry), self._opened.of(entry.id))
            ]
        )

    def resizeEvent(self, event: QResizeEvent) -> None:
        """On a narrow desk the strip of use makes way for the belongings."""
        super().resizeEvent(event)
        wide = self.width() > theme().px(560)
        self._used.setVisible(wide)
        self.strip.setVisible(wide)
        self._grid.setColumnStretch(2, 20 if wide else 0)

    def show_entry(
        self,
        entry: Entry | None,
        survey: Survey | None,
        ticks: frozenset[str] | None,
        verdict: str,
        now: datetime,
    ) -> None:
        """`ticks`: what the order takes along of it; None where it is not on the order."""
        self._body.setVisible(entry is not None)
        for b in (self._remove, self._cache):
            b.setVisible(entry is not None and not self.shown_only)
        self._name.setText(
            spoken(elide(printable(entry.name) if entry else "Nothing in hand", "head", theme().px(250)))
        )
        self._name.setToolTip(spoken(printable(entry.name) if entry else ""))
        self.all_button.setVisible(survey is not None and not survey.so_far)
        self._facts.set(facts(entry, survey) if entry and survey else _NOTHING)
        if isinstance(entry, Application) and survey:
            self._facts.setToolTip(spoken(printable("\n".join(about(survey, entry)))))
        if entry is None or survey is None:
            return
        self._remove.setText(spoken("Take off the order" if verdict == Verdict.REMOVE else "Remove"))
        self._cache.setText(spoken("Keep the cache" if verdict == Verdict.CLEAR_CACHE else "Clear cache"))
        has_cache = any(b.kind == Kind.CACHE and b.ticked for b in entry.belongings)
        self._cache.setVisible(has_cache and not self.shown_only)
        self._remove.setAccessibleName(self._remove.text())
        self._cache.setAccessibleName(self._cache.text())
        self._shown = entry, survey, ticks, verdict
        self._show_belongings()
        if isinstance(entry, Application):
            looked = not survey.so_far or survey.so_far == SoFar.BELONGINGS
            self.pointers.show_rows(_pointers(entry) if looked else [_NOT_YET])
            self._used.set("Last used: not known yet" if survey.so_far else _used(entry.last_use, now))
            self._used.setToolTip(spoken(printable("\n".join(used_in_words(entry.last_use)))))
            self.strip.show_use(None if survey.so_far else entry.last_use, now)
        elif entry.was.registry == STORE:
            store = next((s for s in survey.shared_stores if s.id == entry.id), None)
            self.pointers.show_rows([Row("none", (Cell("nothing points at it", color="ink2"),))])
            self._used.set(f"Oldest {day(store.oldest)}" if store and store.oldest else "")
            self.strip.show_use(None, now)
        else:
            said = entry.evidence[0] if entry.evidence else None
            rows = (
                [Row("said", (Cell(f"{said.text}", tip=f"{said.path}, line {said.line}"),))] if said else []
            )
            self.pointers.show_rows([Row("none", (Cell("nothing looked for yet", color="ink2"),)), *rows])
            self._used.set(f"Gone since {day(entry.gone_since)}" if entry.gone_since else "Gone")
            self.strip.show_use(None, now)


def _folder(f: Folded, verdict: str, ticks: frozenset[str] | None) -> Row:
    """Single files below one folder."""
    on = all(b.ticked for b in f.members) if ticks is None else verdict == Verdict.REMOVE
    tip = "\n".join(b.path for b in f.members[:_TIPS])
    return Row(
        f.key,
        (
            Cell(f.members[0].person, font="small", color="ink2", check=on, swatch=f.kind),
            Cell(f.called, tip=tip),
            Cell(human_bytes(f.bytes), right=True, tip=f"{grouped(f.bytes)} bytes"),
            Cell(f.reason, font="small", color="ink2", tip=f.how),
        ),
    )


def _used(use: LastUse, now: datetime) -> str:
    if use.at is None:
        return "In the background" if use.background else "No sign of use"
    if use.wide:
        return f"Used {short_day(use.at, now)} or later"
    return f"Last used {short_day(use.at, now)}"


def facts(entry: Entry, survey: Survey) -> str:
    """The line beside the name: version, registry, who asked, other versions."""
    if isinstance(entry, LeftBehind) and entry.was.registry == STORE:
        store = next((s for s in survey.shared_stores if s.id == entry.id), None)
        older = f"{human_bytes(store.older_than_month)} older than a month" if store else ""
        return " · ".join(x for x in ("shared store", store.clear_by if store else "", older) if x)
    if isinstance(entry, LeftBehind):
        return " · ".join(
            x
            for x in (
                entry.was.version,
                "was a system package",
                f"gone since {day(entry.gone_since)}" if entry.gone_since else "",
            )
            if x
        )
    parts = [entry.version, registered_as(entry)]
    if entry.requested_by:
        when = f", {day(entry.installed.known)}" if entry.installed.known else ""
        parts.append(f"{entry.requested_by}{when}")
    if entry.why_here:
        parts.append(f"here because of {entry.why_here[0]}")
    needed = [e.name for i in entry.needed_by if (e := survey.find(i))]
    if needed:
        parts.append(f"{', '.join(needed)} needs it")
    others = [
        f"{e.name} ({registered_as(e)})" if e.registry != entry.registry else e.name
        for i in (*entry.other_versions, *entry.also_here_as)
        if isinstance(e := survey.find(i), Application)
    ]
    if others:
        parts.append(f"{', '.join(others)} is also here")
    if entry.protected:
        parts.append("protected")
    if again := had_again(entry):
        parts.append(again)
    if entry.named >= NAMED_WORTH_SAYING:
        parts.append(f"named in {human_bytes(entry.named)} more")
    if len(entry.packages) > 1:
        parts.append(f"{len(entry.packages)} packages go with it")
    return " · ".join(p for p in parts if p)


def _sorted(entry: Entry) -> list[Belonging]:
    return sorted(
        entry.belongings,
        key=lambda b: (
            not b.certain,
            b.proof == By.REGISTERED and b.kind == Kind.PROGRAM and b.bytes < 100_000,
            -b.bytes,
        ),
    )


def _belonging(b: Belonging, entry: Entry, survey: Survey, ticks: frozenset[str] | None, verdict: str) -> Row:
    with_package = not tickable(entry, b)
    on = b.ticked if ticks is None else (b.path in ticks or (with_package and verdict == Verdict.REMOVE))
    home = next((p.home for p in survey.people if b.path.startswith(p.home + "/")), "")
    shown = b.path[len(home) + 1 :] if home else b.path
    more = f" ({plural(b.files, 'file')})" if b.personal and b.files > 1 else ""
    names = [e.name for i in b.shared_with if (e := survey.find(i))]
    reason = f"also used by {', '.join(names)}" if names else b.reason
    reason += "" if b.certain else "; it counts in no sum"
    stays = b.personal or bool(b.shared_with)
    return Row(
        b.path,
        (
            Cell(
                b.person, font="small", color="ink2", check=on, swatch=b.kind, tip=f"{b.kind} of {b.person}"
            ),
            Cell(shown + more, tip=b.path, path=True),
            Cell(human_bytes(b.bytes), right=True, tip=f"{grouped(b.bytes)} bytes"),
            Cell(
                reason,
                font="small",
                color="rust" if stays else "ink2",
                tip="\n".join(
                    f"{p.proof}: {p.path}{f', line {p.line}' if p.line else ''} {p.text}" for p in b.evidence
                )
                or reason,
            ),
        ),
        extra=None if with_package or ticks is None else on,
    )


def _pointers(a: Application) -> list[Row]:
    """One row per kind of pointer with its count; the places in the tool tip."""
    groups: dict[str, list[Reference]] = {}
    for r in a.pointers:
        groups.setdefault(r.kind, []).append(r)
    rows = []
    for kind, members in groups.items():
        one, many = KINDS[kind].words if kind in KINDS else (kind, f"{kind}s")
        tip = "\n".join(f"{r.path}{f', line {r.line}' if r.line else ''}: {r.detail}" for r in members)
        rows.append(Row(kind, (Cell(plural(len(members), one, many), tip=tip),)))
    if a.mentions:
        tip = "\n".join(f"{r.path}{f', line {r.line}' if r.line else ''}: {r.text}" for r in a.mentions)
        words = plural(len(a.mentions), "file names it", "files name it")
        rows.append(Row("mentions", (Cell(f"{words}, for nobody knows what", color="ink2", tip=tip),)))
    return rows or [Row("none", (Cell("nothing", color="ink2"),))]
