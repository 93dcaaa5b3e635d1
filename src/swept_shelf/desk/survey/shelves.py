"""The Shelves lens: each application stands where its last use puts it, as wide as the space it holds."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QToolTip

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import grouped, human_bytes
from swept_shelf.desk.parts.band import paint_band
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.survey.shelf_layout import (
    LEFT,
    NO_SIGN,
    Box,
    ShelfLayout,
    ShelfRow,
    Thing,
    lay_out_shelves,
)
from swept_shelf.desk.theme import theme


class Shelves(Painted):
    selected = Signal(str)
    toggled = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._rows: list[ShelfRow] = []
        self._layouts: list[ShelfLayout] = []
        self._places: list[tuple[QRectF, Box, int]] = []
        self._current = ""
        self._ordered: dict[str, str] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Shelves of applications by last use")
        self.setMouseTracking(True)

    # -- public ---------------------------------------------------------------------------------------------

    def show_rows(self, rows: list[ShelfRow]) -> None:
        self._rows = rows
        self.updateGeometry()
        self.refresh()

    def show_state(self, current: str, ordered: dict[str, str]) -> None:
        self._current, self._ordered = current, ordered
        names = [
            f"{b.thing.name}, {human_bytes(b.thing.bytes)}"
            for _, b, _ in self._places
            if b.thing.line == current
        ]
        self.setAccessibleDescription(names[0] if names else "nothing in hand")
        self.refresh()

    def sizeHint(self) -> QSize:
        return QSize(640, round(self._pitch() * max(1, len(self._shown_rows())) + 12))

    def minimumSizeHint(self) -> QSize:
        return QSize(300, self.sizeHint().height())

    # -- layout ---------------------------------------------------------------------------------------------

    def _shown_rows(self) -> list[ShelfRow]:
        return [r for r in self._rows if r.things] or self._rows[:1]

    def _pitch(self) -> float:
        return self._box_height() + (7 if self._tight() else 9)

    def _box_height(self) -> float:
        return max(42.0, line_height("bold") + line_height("small") + (9 if self._tight() else 11))

    def _tight(self) -> bool:
        """Whether all shelves fit into what is seen only when they stand a little closer."""
        above = self.parentWidget()
        usual = max(42.0, line_height("bold") + line_height("small") + 11) + 9
        return above is not None and above.height() < usual * len(self._shown_rows()) + 12

    def lay_out(self) -> None:
        left = max(112.0, text_width(NO_SIGN, "bold") + 18)
        rows = self._shown_rows()
        beside = min(300.0, self.width() * 0.3)
        self._layouts = lay_out_shelves(rows, max(80.0, self.width() - left - beside - 8))
        self._places = []
        self.setMinimumHeight(round(self._pitch() * len(rows) + 12))
        y = 4.0
        for i, layout in enumerate(self._layouts):
            if layout.row.name == LEFT and i:
                self._divide(y - 2)
            self._row(layout, i, y, left)
            y += self._pitch()

    def _divide(self, y: float) -> None:
        width = self.width()

        def draw(p: QPainter) -> None:
            p.setPen(QPen(theme().color("line"), 1, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(0, y), QPointF(width, y))

        self.shapes.append(draw)

    def _row(self, layout: ShelfLayout, number: int, y: float, left: float) -> None:
        high = self._box_height()
        self.text(0, y + 2, left - 10, layout.row.name, "bold")
        self.text(0, y + 3 + line_height("bold"), left - 10, human_bytes(layout.row.bytes), "small", "ink2")
        self.fill(left - 8, y + high, self.width() - left + 8, 4, "wood")
        beside: list[Thing] = []
        end = left
        for box in layout.boxes:
            rect = QRectF(left + box.x, y, box.width, high)
            self._places.append((rect, box, number))
            self._box(rect, box)
            if box.width < 60:
                beside.append(box.thing)
            end = rect.right()
        self._beside(layout, beside, end + 14, y + high / 2)

    def _box(self, rect: QRectF, box: Box) -> None:
        thing = box.thing
        current, ordered = thing.line == self._current and bool(thing.line), thing.line in self._ordered

        def draw(p: QPainter) -> None:
            t = theme()
            p.fillRect(rect, t.color("paper"))
            width = 2.0 if current else 1.0
            pen = QPen(t.color("ink" if current else "wood"), width)
            if thing.dashed and not current:
                pen.setStyle(Qt.PenStyle.DashLine)
            inner = rect.adjusted(1, rect.height() - 9, -1, -1)
            paint_band(p, inner, thing.kinds)
            p.setPen(pen)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(rect.adjusted(width / 2, width / 2, -width / 2, -width / 2))
            if box.broken:
                middle = rect.x() + rect.width() * 0.72
                p.setPen(QPen(t.color("desk"), 6))
                p.drawLine(QPointF(middle - 4, rect.bottom() + 1), QPointF(middle + 4, rect.y() - 1))
            if ordered:
                p.fillRect(QRectF(rect.x(), rect.y() - 5, rect.width(), 3), t.color("rust"))

        self.shapes.append(draw)
        if rect.width() >= 60:
            inside = rect.width() - 12
            if box.broken:
                inside = rect.width() * 0.72 - 16
            self.text(rect.x() + 7, rect.y() + 1, inside, thing.name, "bold", background="paper")
            note = human_bytes(thing.bytes) + (f" · {thing.note}" if thing.note else "")
            self.text(rect.x() + 7, rect.y() + line_height("bold"), inside, note, "small", "ink2", "paper")

    def _beside(self, layout: ShelfLayout, things: list[Thing], x: float, middle: float) -> None:
        """Names of boxes too narrow for them, then what is too small to draw; only whole phrases."""
        y, room = middle - line_height("small") / 2, self.width() - 4
        left = list(layout.small)
        for i, thing in enumerate(things):
            note = f"{human_bytes(thing.bytes)}" + (f" · {thing.note}" if thing.note else "")
            name = text_width(thing.name, "small_bold") + 4
            rest = self._small_text([*things[i + 1 :], *left])
            if x + name + text_width(note, "small") + (text_width(rest, "small") + 14 if rest else 0) > room:
                left = [*things[i:], *left]
                break
            self.text(x, y, name, thing.name, "small_bold")
            self.text(x + name, y, text_width(note, "small") + 2, note, "small", "ink2")
            x += name + text_width(note, "small") + 14
        words = self._small_text(left)
        if words and x + text_width(words, "small") <= room:
            self.text(x, y, text_width(words, "small") + 2, words, "small", "ink2")

    def _small_text(self, things: list[Thing]) -> str:
        return (
            f"+{grouped(len(things))} small · {human_bytes(sum(t.bytes for t in things))}" if things else ""
        )

    # -- mouse and keys -------------------------------------------------------------------------------------

    def _at(self, point: QPointF) -> Box | None:
        return next((b for r, b, _ in self._places if r.adjusted(-1, 0, 1, 0).contains(point)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if (box := self._at(event.position())) is not None and box.thing.line:
            self.selected.emit(box.thing.line)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if (box := self._at(event.position())) is not None and box.thing.line:
            self.toggled.emit(box.thing.line)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._current:
            self.toggled.emit(self._current)
        elif key in (
            Qt.Key.Key_Left,
            Qt.Key.Key_Right,
            Qt.Key.Key_Up,
            Qt.Key.Key_Down,
            Qt.Key.Key_Home,
            Qt.Key.Key_End,
        ):
            self._step(key)
        else:
            super().keyPressEvent(event)

    def _step(self, key: int) -> None:
        places = [(r, b, n) for r, b, n in self._places if b.thing.line]
        if not places:
            return
        here = next((i for i, (_, b, _) in enumerate(places) if b.thing.line == self._current), None)
        if here is None:
            self.selected.emit(places[0][1].thing.line)
            return
        rect, _, row = places[here]
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            there = here + (1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            there = 0 if key == Qt.Key.Key_Home else len(places) - 1
        else:
            down = key == Qt.Key.Key_Down
            rows = sorted({n for _, _, n in places if (n > row if down else n < row)}, reverse=not down)
            if not rows:
                return
            there = min(
                (i for i, (_, _, n) in enumerate(places) if n == rows[0]),
                key=lambda i: abs(places[i][0].x() - rect.x()),
            )
        if 0 <= there < len(places):
            self.selected.emit(places[there][1].thing.line)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            box = self._at(QPointF(event.pos()))
            if box is not None:
                t = box.thing
                QToolTip.showText(
                    event.globalPos(),
                    f"{printable(t.name)}\n{human_bytes(t.bytes)} · {grouped(t.bytes)} bytes",
                )
            else:
                QToolTip.hideText()
            return True
        return super().event(event)

    def box_of(self, line: str) -> QRectF | None:
        return next((r for r, b, _ in self._places if b.thing.line == line), None)
