"""The List lens: every application in a row, every column sortable."""

from __future__ import annotations

from datetime import UTC, datetime

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent

from swept_shelf.core.documents.sizes import grouped, human_bytes
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.times import day
from swept_shelf.desk.parts.rows import Cell, Row, RowTable

_COLUMNS = (("Application", False), ("Holds", False), ("Comes back", True), ("Last used", False), ("Installed", False),
            ("Registered as", False), ("Asked for", False), ("", True))  # fmt: skip
_EARLY = datetime(1, 1, 1, tzinfo=UTC)
VERDICT_WORDS = {"remove": "remove", "clear_cache": "clear cache", "keep": "keep", "": ""}


class ListLens(RowTable):
    selected = Signal(str)
    toggled = Signal(str)

    def __init__(self) -> None:
        self._quiet = False
        super().__init__(
            "List of applications",
            _COLUMNS,
            (0, 146, 84, 102, 98, 120, 82, 96),
            height=46,
            ruled=True,
            sortable=True,
            drop=(6, 5, 4, 3, 2),
            least=170,
        )
        self.doubleClicked.connect(lambda _: self.toggled.emit(self.key()))
        self.rows.sort(1, Qt.SortOrder.DescendingOrder)

    def show_survey(self, survey: Survey, verdicts: dict[str, str], matching: frozenset[str] | None) -> None:
        largest = max((a.bytes.total for a in survey.applications), default=0)
        rows = [_row(a, survey, verdicts, largest) for a in survey.applications if matching is None or a.id in matching]
        rows += [_left(e, verdicts, largest) for e in survey.left_behind if matching is None or e.id in matching]
        self._quiet = True
        self.show_rows(rows)
        self._quiet = False

    def show_selected(self, line: str) -> None:
        self._quiet = True
        self.put_in_hand(line)
        self._quiet = False

    def currentChanged(self, current, previous) -> None:  # type: ignore[no-untyped-def]
        super().currentChanged(current, previous)
        if not self._quiet and current.isValid():
            self.selected.emit(self.rows.rows[current.row()].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.key():
            self.toggled.emit(self.key())
        else:
            super().keyPressEvent(event)


def _row(a: Application, survey: Survey, verdicts: dict[str, str], largest: int) -> Row:
    verdict = VERDICT_WORDS[verdicts.get(a.id, "")]
    older = next((e.name for i in a.other_versions if isinstance(e := survey.find(i), Application) and e.version > a.version), "")
    starts = any(s.how == "autostart" and s.enabled for s in a.starts)
    summary = a.summary + (f" · older than {older}" if older else "") + (" · starts at login" if starts else "")
    used = a.last_use
    who = " · ".join(x for x in (used.person, used.certainty) if x)
    return Row(a.id, (
        Cell(a.name, summary or "no description", sort=a.name.lower(), font="bold"),
        Cell(human_bytes(a.bytes.total), sort=a.bytes.total, kinds=a.bytes, kinds_of=largest, tip=f"{grouped(a.bytes.total)} bytes"),
        Cell(human_bytes(a.comes_back), sort=a.comes_back, right=True, tip=f"{grouped(a.comes_back)} bytes"),
        Cell(day(used.at) or "no sign", who if used.at else "", sort=used.at or _EARLY),
        Cell(day(a.installed.known) or "not known", sort=a.installed.known or _EARLY),
        Cell("system package" if a.registry == "debian" else "no registry", sort=a.registry),
        Cell(a.requested_by or "not known", sort=a.requested_by),
        Cell(verdict, sort=verdict, font="bold", color="rust", right=True),
    ))  # fmt: skip


def _left(e: LeftBehind, verdicts: dict[str, str], largest: int) -> Row:
    verdict, total = VERDICT_WORDS[verdicts.get(e.id, "")], e.bytes.total
    return Row(e.id, (
        Cell(f"left by {e.name}", f"gone since {day(e.gone_since)}" if e.gone_since else "gone", sort=e.name.lower(), font="bold"),
        Cell(human_bytes(total), sort=total, kinds=e.bytes, kinds_of=largest, tip=f"{grouped(total)} bytes"),
        Cell(human_bytes(total), sort=total, right=True), Cell("not installed", sort=_EARLY), Cell("", sort=_EARLY),
        Cell("left behind", sort="left"), Cell("", sort=""), Cell(verdict, sort=verdict, font="bold", color="rust", right=True),
    ))  # fmt: skip
