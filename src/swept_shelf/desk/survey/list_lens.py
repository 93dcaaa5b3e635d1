"""The List lens: every application in a row, every column sortable and optional, several rows in hand at once."""

from __future__ import annotations

import csv
import io
from collections import defaultdict

from PySide6.QtCore import QItemSelection, QItemSelectionModel, QPointF, Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent
from PySide6.QtWidgets import QAbstractItemView

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.desk.parts.dragging import far_enough
from swept_shelf.desk.parts.rows import Cell, Row, RowTable
from swept_shelf.desk.survey.list_columns import ALWAYS, COLUMNS, EARLY, Cells, Entry, Shown, column, group_of

SYSTEM = "system:"


class ListLens(RowTable):
    """Rows of `entries`; system packages, where shown, are read only."""

    selected = Signal(str)
    toggled = Signal(list)
    dragged = Signal(list)
    hand_changed = Signal()

    def __init__(self) -> None:
        self._quiet = False
        self._of: Survey | None = None
        self._cells: dict[str, Cells] = {}
        super().__init__(
            "List of applications",
            [(c.head, c.right) for c in COLUMNS],
            [c.width for c in COLUMNS],
            height=46,
            ruled=True,
            sortable=True,
            drop=[
                column(k)
                for k in (
                    "asked",
                    "registered",
                    "installed",
                    "last used",
                    "comes back",
                    "people",
                    "volume",
                    "version",
                    "publisher",
                )
            ],
            least=170,
        )
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.entries: list[Entry] = []
        self._grip: QPointF | None = None
        self._held: QMouseEvent | None = None
        self.doubleClicked.connect(lambda _: self._toggle())
        self.take_columns([c.key for c in COLUMNS if c.first])
        self.rows.sort(column("holds"), Qt.SortOrder.DescendingOrder)
        self.selectionModel().selectionChanged.connect(lambda *_: self.hand_changed.emit())

    def take_columns(self, keys: list[str]) -> None:
        self.left_out = {i for i, c in enumerate(COLUMNS) if c.key not in keys and c.key not in ALWAYS}
        self.fit()

    def show_survey(
        self,
        survey: Survey,
        verdicts: dict[str, str],
        entries: list[Entry],
        group: str = "",
        system: dict[str, tuple[str, int]] | None = None,
    ) -> None:
        """`system`: (version, bytes) by package of the system, where those are to be shown too."""
        self.entries = entries
        of_system = {p: system.get(p, ("", 0)) for p in survey.system.packages} if system is not None else {}
        sizes = [a.bytes.total for a in survey.applications] + [e.bytes.total for e in survey.left_behind]
        shown = Shown(survey, verdicts, max(sizes, default=0))
        if survey is not self._of:
            self._of, self._cells = survey, {}
        rows = []
        for e in entries:
            cells = self._cells.setdefault(e.id, Cells(e, shown)).show(shown)
            rows.append(Row(e.id, cells, group=group_of(e, group, survey)))
        rows += [_of_system(name, *known, group) for name, known in of_system.items()]
        if group:
            rows += _headings(rows)
        in_hand = self.hand()
        self._quiet = True
        self.show_rows(rows)
        self._take_in_hand(in_hand)
        self._quiet = False

    def hand(self) -> list[str]:
        """Of the rows in hand."""
        return [
            self.rows.rows[i.row()].key
            for i in self.selectionModel().selectedRows()
            if i.row() < len(self.rows.rows)
        ]

    def take_several(self, lines: list[str]) -> None:
        """What came in hand together elsewhere; what is in the drawer stays there."""
        self._quiet = True
        self._take_in_hand(lines)
        self._quiet = False

    def show_selected(self, line: str) -> None:
        if line in self.hand():
            return
        self._quiet = True
        self.put_in_hand(line)
        self._quiet = False

    def copied(self) -> str:
        """The rows in hand as tab-separated text with their heads, in the columns that are shown."""
        shown = [i for i, c in enumerate(COLUMNS) if not self.isColumnHidden(i) and c.head]
        made = io.StringIO()
        writer = csv.writer(made, delimiter="\t", lineterminator="\n")
        writer.writerow([COLUMNS[i].head for i in shown])
        hand = set(self.hand())
        for row in self.rows.rows:
            if row.key in hand and not row.heading:
                writer.writerow([printable(row.cells[i].text) for i in shown])
        return made.getvalue()

    def currentChanged(self, current, previous) -> None:  # type: ignore[no-untyped-def]
        super().currentChanged(current, previous)
        if not self._quiet and current.isValid():
            key = self.rows.rows[current.row()].key
            self.selected.emit("" if key.startswith(SYSTEM) else key)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        left = event.button() == Qt.MouseButton.LeftButton and not event.modifiers()
        at = self.indexAt(event.position().toPoint())
        self._grip, self._held = event.position() if left and at.isValid() else None, None
        if self._grip is not None and len(self.hand()) > 1 and self.selectionModel().isSelected(at):
            self._held = event.clone()
            return  # all in hand are dragged; a click takes this one alone, when it ends
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is None:
            super().mouseMoveEvent(event)
        elif far_enough(self._grip, event.position()):
            self._grip = None
            self.dragged.emit([k for k in self.hand() if not k.startswith(SYSTEM)])

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None and self._held is not None:
            super().mousePressEvent(self._held)
        self._grip = self._held = None
        super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._toggle()
        elif event.matches(QKeySequence.StandardKey.Copy):
            QGuiApplication.clipboard().setText(self.copied())
        else:
            super().keyPressEvent(event)

    def _toggle(self) -> None:
        lines = [k for k in self.hand() if not k.startswith(SYSTEM)]
        if lines:
            self.toggled.emit(lines)

    def _take_in_hand(self, keys: list[str]) -> None:
        if len(keys) < 2:
            return
        chosen, wanted = QItemSelection(), set(keys)
        for i, row in enumerate(self.rows.rows):
            if row.key in wanted:
                chosen.select(self.rows.index(i, 0), self.rows.index(i, len(COLUMNS) - 1))
        self.selectionModel().select(
            chosen, QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        )


def _of_system(name: str, version: str, total: int, group: str) -> Row:
    cells = {
        "application": Cell(name, "part of the system", sort=name, color="ink2"),
        "version": Cell(version, sort=version, color="ink2"),
        "holds": Cell(human_bytes(total), sort=total, color="ink2", tip=f"{grouped(total)} bytes"),
        "registered": Cell("system package", sort="system package", color="ink2"),
    }
    unsorted = {"comes back": 0, "last used": EARLY, "installed": EARLY}
    return Row(
        SYSTEM + name,
        [cells.get(c.key, Cell("", sort=unsorted.get(c.key, ""))) for c in COLUMNS],
        group="the system" if group else "",
    )


def _headings(rows: list[Row]) -> list[Row]:
    """One heading per group with how many stand in it and what they hold."""
    holds, counts, totals = column("holds"), defaultdict[str, int](int), defaultdict[str, int](int)
    for row in rows:
        counts[row.group] += 1
        totals[row.group] += row.cells[holds].sort
    return [
        Row(
            f"group:{g}",
            [
                Cell(
                    f"{g} · {plural(counts[g], 'entry', 'entries')} · {human_bytes(totals[g])}",
                    font="small_bold",
                    color="ink2",
                ),
                *(Cell("") for _ in COLUMNS[1:]),
            ],
            heading=True,
            spread_from=0,
            group=g,
        )
        for g in sorted(counts)
    ]
