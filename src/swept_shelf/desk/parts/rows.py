"""Rows of tables as plain data, one model for all of them, and the delegate that paints them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from PySide6.QtCore import (
    QAbstractTableModel,
    QModelIndex,
    QPersistentModelIndex,
    QRect,
    QRectF,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QKeyEvent, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from swept_shelf.core.documents.errors import printable, printable_lines
from swept_shelf.core.documents.survey import Kinds
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.band import paint_band, paint_swatch
from swept_shelf.desk.parts.painted import elide, elide_path, line_height
from swept_shelf.desk.theme import theme

Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell: a first line, a second under it, and what is drawn with them. `path`: too long, it is shortened in its middle."""

    text: str = ""
    second: str = ""
    sort: Any = ""
    font: str = "body"
    color: str = "ink"
    right: bool = False
    kinds: Kinds | None = None
    kinds_of: int = 0
    swatch: str = ""
    check: bool | None = None
    tip: str = ""
    indent: int = 0
    path: bool = False


@dataclass(frozen=True, slots=True)
class Row:
    """`key` names what the row is about; `heading` is not in hand; from `spread_from` on one cell fills the row.

    Rows of one `group` stay together whatever they are sorted by, its heading first."""

    key: str
    cells: Sequence[Cell]
    heading: bool = False
    spread_from: int = -1
    extra: Any = field(default=None)
    group: str = ""


class Rows(QAbstractTableModel):
    def __init__(self, columns: Sequence[tuple[str, bool]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.columns = list(columns)
        self.rows: list[Row] = []
        self._order: tuple[int, bool] | None = None

    def show_rows(self, rows: list[Row]) -> None:
        self.beginResetModel()
        self.rows = rows
        if self._order:
            self._sorted(*self._order)
        self.endResetModel()

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index | None = None) -> int:
        return len(self.columns)

    def cell(self, index: Index) -> Cell:
        cells = self.rows[index.row()].cells
        return cells[index.column()] if index.column() < len(cells) else Cell()

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        cell = self.cell(index)
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            checked = (
                ("" if cell.check is None else "ticked " if cell.check else "not ticked ")
                if role == Qt.ItemDataRole.AccessibleTextRole
                else ""
            )
            second = cell.second if role != Qt.ItemDataRole.DisplayRole else ""
            return spoken(checked) + " ".join(spoken(printable(x)) for x in (cell.text, second) if x)
        if role == Qt.ItemDataRole.ToolTipRole:
            return spoken(printable_lines(cell.tip or cell.text)) or None
        return None

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        if orientation != Qt.Orientation.Horizontal:
            return None
        name, right = self.columns[section]
        if role == Qt.ItemDataRole.DisplayRole:
            mark = (" ↓" if not self._order[1] else " ↑") if self._order and self._order[0] == section else ""
            return spoken(name) + mark
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        if self.rows[index.row()].heading:
            return Qt.ItemFlag.ItemIsEnabled
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        if column < 0:
            return
        self.layoutAboutToBeChanged.emit()
        self._order = (column, order == Qt.SortOrder.AscendingOrder)
        self._sorted(*self._order)
        self.layoutChanged.emit()

    def _sorted(self, column: int, ascending: bool) -> None:
        headings = [r for r in self.rows if r.heading]
        rest = sorted(
            (r for r in self.rows if not r.heading), key=lambda r: r.cells[column].sort, reverse=not ascending
        )
        self.rows = sorted([*headings, *rest], key=lambda r: r.group)


class RowPainter(QStyledItemDelegate):
    """Paints a cell; the row in hand stands on paper with an ink edge."""

    def __init__(self, view: RowTable, height: int, ruled: bool) -> None:
        super().__init__(view)
        self._height, self._ruled = height, ruled
        self.ground = "desk"

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(40, self._height)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        model = index.model()
        assert isinstance(model, Rows)
        row, cell = model.rows[index.row()], model.cell(index)
        rect: QRect = option.rect
        state = option.state
        in_hand = bool(state & QStyle.StateFlag.State_Selected) and not row.heading
        painter.save()
        if in_hand:
            painter.fillRect(rect, theme().color("paper" if self.ground == "desk" else "well"))
            if index.column() == 0:
                painter.fillRect(QRect(rect.x(), rect.y(), 4, rect.height()), theme().color("ink"))
        if self._ruled:
            painter.setPen(QPen(theme().color("line"), 1))
            painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        self._content(painter, QRectF(rect).adjusted(8 + cell.indent, 0, -6, -1), cell)
        painter.restore()

    def _content(self, p: QPainter, rect: QRectF, cell: Cell) -> None:
        x = rect.x()
        side = theme().px(12)
        middle = rect.center().y()
        if cell.check is not None:
            square = QRectF(x, middle - side / 2, side, side)
            p.setPen(QPen(theme().color("ink"), 1))
            p.setBrush(theme().color("ink") if cell.check else Qt.BrushStyle.NoBrush)
            p.drawRect(square)
            x += side + 8
        if cell.swatch:
            paint_swatch(p, QRectF(x, middle - side / 2, side, side), cell.swatch)
            x += side + 6
        first, second = line_height(cell.font), line_height("small")
        two = bool(cell.second) or cell.kinds is not None
        top = middle - (first + second) / 2 if two else middle - first / 2
        shorten = elide_path if cell.path else elide
        said = shorten(printable(cell.text), cell.font, rect.right() - x)
        self._line(p, QRectF(x, top, rect.right() - x, first), said, cell.font, cell.color, cell.right)
        if cell.second:
            self._line(
                p, QRectF(x, top + first, rect.right() - x, second), cell.second, "small", "ink2", cell.right
            )
        if cell.kinds is not None and cell.kinds_of:
            wide = (rect.width() - 10) * cell.kinds.total / cell.kinds_of
            paint_band(p, QRectF(x, top + first + 2, max(2.0, wide), 9), cell.kinds)

    def _line(self, p: QPainter, rect: QRectF, text: str, font: str, color: str, right: bool) -> None:
        p.setFont(theme().font(font))
        p.setPen(theme().color(color))
        side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
        p.drawText(rect, side | Qt.AlignmentFlag.AlignVCenter, elide(printable(text), font, rect.width()))


class RowTable(QTableView):
    """A table of rows. `widths`: fixed pixels per column at 100 %, 0 for the ones that share what is left;
    `drop`: columns that go, first to last, where there is no room for all; `least`: what a sharing one needs. `opened`: Return, or a
    double click, on a row."""

    opened = Signal(str)

    def __init__(
        self,
        name: str,
        columns: Sequence[tuple[str, bool]],
        widths: Sequence[int],
        height: int = 22,
        ruled: bool = False,
        sortable: bool = False,
        drop: Sequence[int] = (),
        least: int = 150,
    ) -> None:
        super().__init__()
        self.rows = Rows(columns, self)
        self.setModel(self.rows)
        self._widths, self._drop, self._least = list(widths), list(drop), least
        self.left_out: set[int] = set()
        self.setAccessibleName(spoken(name))
        self.painter_of_rows = RowPainter(self, round(max(height * theme().scale, height)), ruled)
        self.setItemDelegate(self.painter_of_rows)
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTabKeyNavigation(False)
        self.verticalHeader().hide()
        self.verticalHeader().setMinimumSectionSize(12)
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self._row_height = round(max(height * theme().scale, height))
        self.verticalHeader().setDefaultSectionSize(self._row_height)
        self.verticalScrollBar().setSingleStep(self._row_height)
        header = self.horizontalHeader()
        header.setFont(theme().font("small"))
        header.setHighlightSections(False)
        header.setMinimumSectionSize(20)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        header.setSortIndicatorShown(False)
        if sortable:
            header.setSectionsClickable(True)
            header.sectionClicked.connect(self._sort)
        if not any(name for name, _ in columns):
            header.hide()
        self.doubleClicked.connect(lambda _: self.opened.emit(self.key()))
        self.on_sort: Callable[[], None] | None = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.key())
        super().keyPressEvent(event)

    def key(self) -> str:
        index = self.currentIndex()
        return (
            self.rows.rows[index.row()].key if index.isValid() and index.row() < len(self.rows.rows) else ""
        )

    def show_rows(self, rows: list[Row]) -> None:
        key, at = self.key(), self.verticalScrollBar().value()
        self.rows.show_rows(rows)
        self._span()
        self.put_in_hand(key)
        self.verticalScrollBar().setValue(at)

    def _span(self) -> None:
        self.clearSpans()
        for i, row in enumerate(self.rows.rows):
            if row.spread_from >= 0:
                self.setSpan(i, row.spread_from, 1, len(self.rows.columns) - row.spread_from)
        if any(row.group for row in self.rows.rows):
            for i, row in enumerate(self.rows.rows):
                self.setRowHeight(
                    i, min(self._row_height, theme().px(30)) if row.heading else self._row_height
                )

    def put_in_hand(self, key: str) -> None:
        if key and key != self.key():
            for i, row in enumerate(self.rows.rows):
                if row.key == key and not row.heading:
                    self.setCurrentIndex(self.rows.index(i, 0))
                    return

    def _sort(self, column: int) -> None:
        order = self.rows._order
        ascending = order is not None and order[0] == column and not order[1]
        key = self.key()
        self.rows.sort(column, Qt.SortOrder.AscendingOrder if ascending else Qt.SortOrder.DescendingOrder)
        self._span()
        self.put_in_hand(key)

    def resizeEvent(self, event: Any) -> None:
        super().resizeEvent(event)
        self.fit()

    def fit(self) -> None:
        """Fixed columns get their width, the others share the rest; what has no room is left out, never cut."""
        room = self.viewport().width()
        grown = 1 + (theme().scale - 1) * 0.95
        fixed = [round(w * grown) for w in self._widths]
        shown = set(range(len(fixed))) - self.left_out
        sharing = [i for i, w in enumerate(fixed) if not w]
        for column in self._drop:
            if sum(fixed[i] for i in shown) + self._least * len(sharing) <= room:
                break
            shown.discard(column)
        rest = max(0, room - sum(fixed[i] for i in shown))
        for i, width in enumerate(fixed):
            self.setColumnHidden(i, i not in shown)
            if i in shown:
                self.setColumnWidth(i, width or max(40, rest // max(1, len(sharing))))

    def below_whole_rows(self, high: int) -> int:
        """Pixels that are left of `high` below the last row that stands there whole; none where all have room."""
        header = self.horizontalHeader()
        room = high - 2 * self.frameWidth() - (header.height() if header.isVisibleTo(self) else 0)
        rows = self.rows.rows
        if any(r.group for r in rows) or len(rows) * self._row_height <= room:
            return 0
        return max(0, room) % self._row_height


class WholeRows(QWidget):
    """Gives a table as much height as it has whole rows for: none is cut by its lower edge."""

    def __init__(self, table: RowTable) -> None:
        super().__init__()
        self._table, self._box = table, QVBoxLayout(self)
        self._box.addWidget(table)
        self._fit()
        table.rows.modelReset.connect(self._fit)
        table.rows.layoutChanged.connect(self._fit)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        self._box.setContentsMargins(0, 0, 0, self._table.below_whole_rows(self.height()))
