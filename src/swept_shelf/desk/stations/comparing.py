"""Two visits in hand: what changed between them as slopes, and below it what is newly pointed at, what people's folders did and
what orders gave back."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.comparison import Change, Comparison, What
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.sizes import human_bytes, plural, signed_bytes
from swept_shelf.core.documents.times import day, day_and_clock
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.reports import comparison_csv, comparison_cyclonedx
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, rule
from swept_shelf.desk.parts.segments import Segments
from swept_shelf.desk.stations.slopes import Slopes
from swept_shelf.desk.theme import theme

_OVER = {"all that changed": 0, "over 1 MB": 10**6, "over 100 MB": 10**8}
_WORTH_SAYING = 100_000  # bytes that a person's folder changed by
_SAID = 2  # entries of each column at the foot
_FORMS: dict[str, tuple[str, Callable[[Comparison, list[Change]], bytes]]] = {
    "Comma-separated values (*.csv)": (".csv", comparison_csv),
    "Comparison (*.json)": (".json", lambda c, _: to_json(c)),
    "CycloneDX (*.cdx.json)": (".cdx.json", lambda c, _: comparison_cyclonedx(c)),
}


class ComparingPage(QWidget):
    closed = Signal()
    said = Signal(str)
    line_wanted = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._comparison: Comparison | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 0, 0, 0)
        column.setSpacing(8)
        head = QHBoxLayout()
        self._head, self._sub = label("", "head"), Elided("", "small", second=True)
        head.addWidget(self._head)
        head.addWidget(self._sub, 1)
        column.addLayout(head)
        tools = QHBoxLayout()
        self.over = Segments(tuple(_OVER))
        self._count = Elided("", "small", second=True)
        self.copy_button, self.write_button, self.back_button = (
            button("Copy"),
            button("Write…"),
            button("Holding shelf"),
        )
        tools.addWidget(self.over)
        tools.addWidget(self._count, 1)
        for b in (self.copy_button, self.write_button, self.back_button):
            head.addWidget(b)
        column.addLayout(tools)
        self.slopes = Slopes()
        column.addWidget(self.slopes, 1)
        self._nothing = label("", second=True, wrap=True)
        column.addWidget(self._nothing)
        column.addWidget(rule())
        self._foot = QGridLayout()
        self._foot.setHorizontalSpacing(theme().px(20))
        self._foot.setVerticalSpacing(2)
        column.addLayout(self._foot)
        self.over.chosen.connect(self._take_over)
        self.copy_button.clicked.connect(self._copy)
        self.write_button.clicked.connect(self._write)
        self.back_button.clicked.connect(self.closed)
        self.slopes.chosen.connect(self.line_wanted)

    def show_comparison(self, comparison: Comparison) -> None:
        self._comparison = comparison
        a, b = comparison.before, comparison.after
        names = [f"visit {s.visit}" if s.visit else printable(s.name) for s in (a, b)]
        head = f"{names[0]} and {names[1]}"
        self._head.setText(spoken(head[:1].upper() + head[1:]))
        said = [" → ".join(_heads(comparison))]
        for v in comparison.volumes:
            if v.free_before is not None and v.free_after is not None and v.free_before != v.free_after:
                less = v.free_before - v.free_after
                said.append(f"{human_bytes(abs(less))} {'less' if less > 0 else 'more'} free on {v.mount}")
        if not comparison.same_machine:
            said.append("two machines")
        self._sub.set(" · ".join(said))
        self._show()
        self._show_foot(comparison)

    @property
    def changes(self) -> list[Change]:
        """What is shown: changed by as much as is asked for."""
        least = next(n for name, n in _OVER.items() if self.over.buttons[name].isChecked())
        found = self._comparison.changes if self._comparison else []
        return [c for c in found if c.what != What.SAME and (abs(c.more) >= least or bool(c.moves))]

    def _take_over(self, name: str) -> None:
        self.over.take(name)
        self._show()

    def _show(self) -> None:
        c, changes = self._comparison, self.changes
        if c is None:
            return
        self.slopes.setVisible(bool(changes))
        self.slopes.show_changes(changes, _heads(c))
        self._nothing.setVisible(not changes)
        self._nothing.setText(spoken("Nothing came, went or changed by so much between the two."))
        out = f", {self.slopes.left_out} more below what fits" if self.slopes.left_out > 0 else ""
        self._count.set(f"{len(changes)} of {len(c.changes)}{out}")

    def _show_foot(self, c: Comparison) -> None:
        while (item := self._foot.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.setParent(None)
                old.deleteLater()
        new = [p for p in c.pointed if p.new]
        gone = len(c.pointed) - len(new)
        pointed = [(f"{p.name}: {p.kind}", f"{p.path}:{p.line}" if p.line else p.path) for p in new]
        if gone:
            pointed.append((f"{plural(gone, 'reference')} gone", "no longer there"))
        folders = [
            (f"{f.person}: {base(f.path)} {signed_bytes(f.more)}", "not an application’s")
            for f in c.folders
            if abs(f.more) >= _WORTH_SAYING
        ]
        promised = [
            (
                f"order {p.order}: {human_bytes(p.came_back)} came back",
                f"{plural(p.lines, 'line')}, {day(p.at)}",
            )
            for p in reversed(c.promises)
        ]
        columns = (
            ("Newly pointed at", pointed, "nothing new points at an application"),
            ("People’s own folders", folders, "none changed"),
            ("What orders gave back", promised, "no order between the two"),
        )
        for number, (name, rows, none) in enumerate(columns):
            self._column(number, name, rows, none)

    def _column(self, number: int, name: str, rows: Iterable[tuple[str, str]], none: str) -> None:
        rows = list(rows)
        self._foot.setColumnStretch(number, 1)
        self._foot.addWidget(Elided(name, "bold"), 0, number)
        if not rows:
            self._foot.addWidget(Elided(none, "small", second=True), 1, number)
        for i, (first, second) in enumerate(rows[:_SAID]):
            more = f" · and {len(rows) - _SAID} more" if i == _SAID - 1 and len(rows) > _SAID else ""
            self._foot.addWidget(Elided(first), 1 + 2 * i, number)
            self._foot.addWidget(
                Elided(f"{second}{more}", "small", second=True, middle=True), 2 + 2 * i, number
            )

    def _copy(self) -> None:
        if self._comparison is not None:
            table = comparison_csv(self._comparison, self.changes, "\t")
            QGuiApplication.clipboard().setText(table.decode("utf-8"))

    def _write(self) -> None:
        if self._comparison is None:
            return
        start = str(Path.home() / "comparison.csv")
        path, form = QFileDialog.getSaveFileName(
            self, spoken("Write the comparison"), start, ";;".join(_FORMS)
        )
        if not path:
            return
        ending, write = _FORMS.get(form, next(iter(_FORMS.values())))
        path = path if path.endswith((".csv", ".json")) else path + ending
        try:
            Path(path).write_bytes(write(self._comparison, self.changes))
            self.said.emit(f"Wrote {path}")
        except OSError as error:
            self.said.emit(f"{path}: {error.strerror}")


def _heads(c: Comparison) -> tuple[str, str]:
    """When either was surveyed: the day, and the time where both were on one day."""
    moments = c.before.surveyed_at, c.after.surveyed_at
    say = day_and_clock if day(moments[0]) == day(moments[1]) else day
    return say(moments[0]), say(moments[1])
