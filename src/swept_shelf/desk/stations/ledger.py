"""The Ledger station: visits of this machine, and the holding shelf with put back and empty."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.documents.comparison import Comparison
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.documents.times import clock, day
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, on_taken, rule, set_taken
from swept_shelf.desk.parts.rows import Cell, Row, RowTable
from swept_shelf.desk.session import Session
from swept_shelf.desk.stations.archive_file import ARCHIVE, ask_archive
from swept_shelf.desk.stations.comparing import ComparingPage
from swept_shelf.desk.stations.free_chart import FreeChart
from swept_shelf.desk.stations.sheet import LEFT, Sheet
from swept_shelf.desk.stations.upkeep_page import UpkeepPage
from swept_shelf.desk.stations.visit_button import VisitButton
from swept_shelf.desk.windows import open_visit

_VISITS = 12  # shown at the right, the newest first
_COLUMNS = (("What", False), ("From", False), ("Since", False), ("Bytes", True), ("Holds", False))


class LedgerStation(Sheet):
    def __init__(self, session: Session) -> None:
        super().__init__(session, "Ledger", "Visits")
        self._asking = False
        self._groups: dict[str, list[Slot]] = {}
        self._in_hand: list[str] = []
        self._visits: dict[str, VisitButton] = {}
        self.pages = QStackedWidget()
        shelf = QWidget()
        column = QVBoxLayout(shelf)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self._chart_head = Elided("", "head")
        self._chart_head.setContentsMargins(LEFT, 0, 0, 0)
        column.addWidget(self._chart_head)
        self.chart = FreeChart()
        column.addWidget(self.chart)
        column.addWidget(rule())
        self._head.setText(spoken("Holding shelf"))
        column.addLayout(self.head)
        self.comparing = ComparingPage()
        for page in (shelf, self.comparing):
            self.pages.addWidget(page)
        self.left.addWidget(self.pages)
        self.table = RowTable(
            "On the holding shelf", _COLUMNS, (0, 86, 136, 90, 200), height=35, ruled=True, drop=(1, 4)
        )
        column.addWidget(self.table, 1)
        self._empty = label("Nothing waits on the holding shelf.", second=True, wrap=True)
        self._empty.setContentsMargins(LEFT, 0, 0, 0)
        self._empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self._empty, 1)
        buttons = QHBoxLayout()
        buttons.setContentsMargins(LEFT, 0, 0, 0)
        self.back_button, self.empty_button, self.sure_button, self.leave_button = (
            button("Put back"),
            button("Empty…"),
            button("Empty for good", filled=True),
            button("Leave it"),
        )
        self._words = label("", "small", second=True, wrap=True)
        # The safe answer stands first; no second click of a double one meets "Empty for good".
        for b in (self.back_button, self.leave_button, self.sure_button):
            buttons.addWidget(b)
        buttons.addWidget(self._words, 1)
        buttons.addWidget(self.empty_button)
        column.addLayout(buttons)
        self.report_button = button("Report…")
        self.report_button.clicked.connect(self._report)
        self.archive_button = button("Archive the shelf…")
        self.archive_button.setToolTip(
            spoken("All that waits, as one file on another medium; the shelf can be emptied then")
        )
        self.archive_button.clicked.connect(self._archive)
        self.restore_button = button("From an archive…")
        self.restore_button.setToolTip(spoken("Put back what such a file holds"))
        self.restore_button.clicked.connect(self._restore)
        self.upkeep_button = button("Upkeep…")
        self.upkeep_button.setToolTip(spoken("A timer that looks, and says what grew and what nobody uses"))
        self.upkeep_button.clicked.connect(lambda: UpkeepPage(session, self).open())
        self.window_button = button("Open the visit in a window")
        self.window_button.clicked.connect(self._open_visit)
        for b in (self.archive_button, self.restore_button, self.upkeep_button, self.window_button):
            self.side.foot.addWidget(b)
        self.side.foot.addWidget(self.report_button)
        self.back_button.clicked.connect(lambda: self._work(Task.PUT_BACK))
        self.empty_button.clicked.connect(lambda: self._ask(True))
        self.leave_button.clicked.connect(lambda: self._ask(False))
        self.sure_button.clicked.connect(lambda: self._work(Task.EMPTY))
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._ask(False))
        self.comparing.closed.connect(lambda: self._take([]))
        self.comparing.said.connect(session.said)
        self.comparing.line_wanted.connect(self._go_to)
        session.ledger_changed.connect(self._show)
        session.surveyed_changed.connect(self._show)
        self._show()

    def _show(self) -> None:
        s = self._session
        slots = sorted(s.shelf.waiting(), key=lambda slot: not slot.sealed)  # others' last
        self._groups = defaultdict(list)
        for slot in slots:
            self._groups[f"{slot.run}\0{slot.manifest['line']}"].append(slot)
        rows = [_group(key, members) for key, members in self._groups.items()]
        held, originals = _held([slot for slot in slots if slot.sealed])
        self.table.show_rows(rows)
        if rows and not self.table.key():
            self.table.setCurrentIndex(self.table.rows.index(0, 0))
        self.table.setVisible(bool(rows))
        self._empty.setVisible(not rows and s.standing.now.known)
        self._sub.set(
            f"{human_bytes(held + originals)} wait, {human_bytes(originals)} of it originals of packages"
            if rows
            else ""
        )
        self._show_visits()
        self._show_chart()
        self._ask(False)

    def _show_visits(self) -> None:
        s, body = self._session, self.side.clear()
        visits = s.standing.now.visits
        body.addWidget(label("Visits", "head"))
        if not s.standing.now.known:
            body.addWidget(
                label(s.standing.problem or "The ledger is being read.", "small", second=True, wrap=True)
            )
        elif not visits:
            body.addWidget(label("This computer has not been visited yet.", "small", second=True, wrap=True))
        elif len(visits) > 1:
            body.addWidget(label("two in hand are compared", "small", second=True))
        self._visits = {}
        for v in visits[:_VISITS]:
            row = VisitButton(v, s.shop.machine.now(), v.id in self._in_hand)
            on_taken(row, lambda id=v.id: self._take_visit(id))  # type: ignore[misc]
            self._visits[v.id] = row
            body.addWidget(row)
            body.addWidget(rule(dotted=True))
        if len(visits) > _VISITS:
            body.addWidget(label(f"{len(visits) - _VISITS} earlier visits", "small", second=True))
        body.addStretch(1)
        self.report_button.setEnabled(bool(visits))
        self.window_button.setVisible(len(visits) > 1)
        self.window_button.setEnabled(bool(self._in_hand))

    # -- two visits in hand -----------------------------------------------------------------------------------

    def _take_visit(self, id: str) -> None:
        """Take a visit in hand, or let it go; the two taken last are compared."""
        self._take(
            [v for v in self._in_hand if v != id] if id in self._in_hand else [*self._in_hand, id][-2:]
        )

    def _open_visit(self) -> None:
        for id in self._in_hand:
            open_visit(self._session, self._visits[id].number)

    def _take(self, ids: list[str]) -> None:
        self._in_hand = ids
        self.window_button.setEnabled(bool(ids))
        for id, row in self._visits.items():
            set_taken(row, id in ids)
        if len(ids) < 2:
            self.pages.setCurrentIndex(0)
            return
        shop, numbers = self._session.shop, list(self._visits)
        older, newer = sorted(ids, key=numbers.index, reverse=True)
        self._session.behind.do(
            "comparison", lambda: shop.compare(older, newer), self._compared, self._session.said.emit
        )

    def _compared(self, comparison: Comparison) -> None:
        if len(self._in_hand) == 2:
            self.comparing.show_comparison(comparison)
            self.pages.setCurrentIndex(1)

    def _go_to(self, line: str) -> None:
        """What is taken in hand among the changes is taken in hand in the survey, where it is still there."""
        if self._session.survey is not None and self._session.survey.find(line) is not None:
            self._session.select(line)
            self._session.station_wanted.emit("Survey")

    @property
    def visits(self) -> list[VisitButton]:
        """Those at the right, the newest first."""
        return list(self._visits.values())

    def _show_chart(self) -> None:
        s = self._session
        visits = list(reversed(s.standing.now.visits))
        volumes = s.standing.now.volumes
        first = volumes[0] if volumes else None
        known = [v for v in visits if first and first.id in v.free]
        self.chart.setVisible(bool(known))
        if first is None or not known:
            self._chart_head.set("No visit yet" if s.standing.now.known else "")
            return
        self._chart_head.set(
            f"Free space over {plural(len(known), 'visit')}, of {human_bytes(first.capacity)} on {first.mount}"
        )
        self.chart.show_free(
            [v.free[first.id] for v in known], first.free, day(known[0].opened_at), first.capacity
        )

    def _chosen(self) -> list[Slot]:
        return self._groups.get(self.table.key(), [])

    def _ask(self, on: bool) -> None:
        """Emptying is asked for twice, in place."""
        self._asking = on
        chosen, busy = self._chosen(), self._session.busy
        others = any(not s.sealed for s in chosen)
        held, originals = _held(chosen)
        name = chosen[0].manifest["name"] if chosen else ""
        for b, shown in (
            (self.back_button, not on),
            (self.empty_button, not on),
            (self.sure_button, on),
            (self.leave_button, on),
        ):
            b.setVisible(shown and bool(chosen) and not self._session.past)
            b.setEnabled(not busy and not others)
        if on:
            self._words.setText(
                spoken(f"{name} can then not be put back. {human_bytes(held + originals)} come back.")
            )
        else:
            self._words.setText(
                spoken(
                    "Working on the shelf."
                    if busy
                    else "Without this carrier’s seal nothing of it is obeyed. swept-shelf take-over says what it holds."
                    if others
                    else f"Emptying cannot be undone; it gives {human_bytes(held + originals)} back."
                    if chosen
                    else ""
                )
            )
        self.sure_button.setAccessibleName(spoken(f"Empty {name} for good"))
        self.archive_button.setVisible(bool(self._groups) and not self._session.past)
        self.restore_button.setVisible(not self._session.past)
        for b in (self.archive_button, self.restore_button):
            b.setEnabled(not busy)

    def _work(self, task: Task) -> None:
        chosen = self._chosen()
        if chosen:
            lines = {s.manifest["line"] for s in chosen}
            everything = {
                s.manifest["line"]
                for members in self._groups.values()
                for s in members
                if s.run == chosen[0].run
            }
            self._session.shelf.work(task, chosen[0].run, [] if lines == everything else sorted(lines))

    def _archive(self) -> None:
        s = self._session
        if path := ask_archive(self, "Archive the holding shelf", s.visit.number if s.visit else 0):
            s.archiving.write(path)

    def _restore(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, spoken("Put back from an archive"), str(Path.home()), f"Archive (*{ARCHIVE})"
        )
        if path:
            self._session.archiving.restore(path)

    def _report(self) -> None:
        start = str(Path.home() / f"visit-{self._session.visit.number if self._session.visit else 0}.html")
        path, _ = QFileDialog.getSaveFileName(
            self, spoken("Write the report"), start, ";;".join(f"{name} (*{end})" for name, end in _REPORTS)
        )
        if path:
            known = path.endswith(tuple(end for _, end in _REPORTS))
            self._session.proving.write_report(path if known else path + ".html")


_REPORTS = (
    ("Page for the owner", ".html"),
    ("Page for the owner", ".pdf"),
    ("Document", ".json"),
    ("Table", ".csv"),
)


def _held(slots: list[Slot]) -> tuple[int, int]:
    """Bytes of waiting items, and of originals."""
    return (
        sum(s.manifest.get("bytes", 0) for s in slots if s.waiting),
        sum(o["bytes"] for s in slots for o in s.manifest.get("originals", ())),
    )


def _group(key: str, slots: list[Slot]) -> Row:
    held, originals = _held(slots)
    first = slots[0].manifest
    at = datetime.fromisoformat(first["at"])
    files = sum(s.manifest.get("files", 0) or 1 for s in slots if s.waiting)
    kept = sum(len(s.manifest.get("originals", ())) for s in slots)
    holds = plural(files, "file") + (f", {plural(kept, 'original')}" if kept else "")
    if slots[0].emptying:
        holds = "the rest of an emptying that was cut off"
    if not all(s.sealed for s in slots):
        holds = "not ours: left alone"
    return Row(
        key,
        (
            Cell(first["name"], font="bold"),
            Cell(f"order {first['order']}", font="small", color="ink2"),
            Cell(f"{day(at)} {clock(at)}", font="small", color="ink2"),
            Cell(human_bytes(held + originals), right=True, tip=f"{grouped(held + originals)} bytes"),
            Cell(holds, font="small", color="ink2"),
        ),
    )
