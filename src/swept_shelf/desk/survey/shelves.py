"""The Shelves lens: each application stands where its last use puts it, as wide as the space it holds."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.band import paint_band
from swept_shelf.desk.parts.dragging import far_enough
from swept_shelf.desk.parts.drawn import paint_drawn
from swept_shelf.desk.parts.heard import tell_piece
from swept_shelf.desk.parts.painted import Painted, Piece, line_height, text_width
from swept_shelf.desk.survey.marks import MARK_WORDS, Mark
from swept_shelf.desk.survey.shelf_layout import (
    LEFT,
    NO_SIGN,
    STORES,
    Box,
    ShelfLayout,
    ShelfRow,
    Thing,
    lay_out_shelves,
)
from swept_shelf.desk.theme import theme

_ACROSS, _UPRIGHT = 64, 18  # pixels from which a box has its name across, or upright
_BAND, _WOOD, _BETWEEN = 9, 4, 3  # heights of a box's kinds, of a shelf, of the line between its boards
_ABOVE = 6  # over a box: what is on the order has its edge there
_DIM = 0.25  # of a band's strength, on what is not looked for
_CLOSER = 4  # pixels that a board gives up where all shelves then have room at once
_KEYS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


class Shelves(Painted):
    """`opened`: the shelf whose small things are shown in place of all shelves, to a scale of their own; `several`: lines that
    were taken in hand together."""

    has_pieces = True
    selected = Signal(str)
    toggled = Signal(list)
    dragged = Signal(list)
    hand_changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._rows: list[ShelfRow] = []
        self._places: list[tuple[QRectF, Box, int]] = []
        self._smalls: list[tuple[QRectF, ShelfRow, int]] = []
        self._asked: tuple[list[ShelfRow], float, int, float] | None = None
        self._layouts: list[ShelfLayout] = []
        self._small_of: dict[str, tuple[Thing, ...]] = {}
        self._opened_things: tuple[Thing, ...] = ()
        self._current, self._small_in_hand, self.opened = "", "", ""
        self._ordered: dict[str, str] = {}
        self.several: list[str] = []
        self._from: QPointF | None = None
        self._grip: QPointF | None = None
        self._found: frozenset[str] | None = None
        self._band = QRectF()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(spoken("Shelves of applications by last use"))
        self.setMouseTracking(True)

    # -- public ---------------------------------------------------------------------------------------------

    def show_rows(self, rows: list[ShelfRow], found: frozenset[str] | None = None) -> None:
        """`found`: lines that are looked for; all others are dimmed."""
        self._rows, self._found = rows, found
        there = {t for r in rows for t in r.things}
        self._opened_things = tuple(t for t in self._opened_things if t in there)
        self.opened = self.opened if self._opened_things else ""
        self.updateGeometry()
        self.refresh()

    def show_state(self, current: str, ordered: dict[str, str]) -> None:
        if current != self._current:
            self._small_in_hand = ""
            self.several = self.several if current in self.several else []
        elif ordered == self._ordered:
            return
        self._current, self._ordered = current, ordered
        thing = next((t for r in self._rows for t in r.things if t.line and t.line == current), None)
        self.setAccessibleDescription(spoken(_said(thing) if thing else "nothing in hand"))
        self.refresh()
        tell_piece(
            self,
            next((n for n, (_, b, _) in enumerate(self._places) if current and b.thing.line == current), -1),
        )

    def hand(self) -> list[str]:
        """The lines in hand."""
        return self.several or ([self._current] if self._current else [])

    def take_several(self, lines: list[str]) -> None:
        """What came in hand together elsewhere; what is in the drawer stays there."""
        self.several = list(lines) if len(lines) > 1 else []
        self.hand_changed.emit()
        self.refresh()

    def _take(self, lines: list[str], last: str) -> None:
        """Several in hand, the last of them in the drawer."""
        self.several = lines if len(lines) > 1 else []
        if last != self._current:
            self.selected.emit(last)
        self.hand_changed.emit()
        self.refresh()

    def open_small(self, shelf: str) -> None:
        """Show a shelf's small things in place of all; "" shows all again."""
        self._opened_things = self._small_of.get(shelf, ()) if shelf else ()
        self.opened, self._small_in_hand = shelf, "" if shelf else self.opened
        self.updateGeometry()
        self.refresh()

    def sizeHint(self) -> QSize:
        return QSize(640, round(self._least() * max(1, len(self._shown_rows())) + _ABOVE))

    def minimumSizeHint(self) -> QSize:
        return QSize(300, self.minimumHeight())

    # -- layout ---------------------------------------------------------------------------------------------

    def _shown_rows(self) -> list[ShelfRow]:
        rows = [r for r in self._rows if r.things] or self._rows[:1]
        return [ShelfRow(self.opened, self._opened_things)] if self.opened else rows

    def _least(self) -> float:
        """The height of a board whose shelf says its name and its bytes."""
        return max(42.0, line_height("bold") + line_height("small") + _BAND) + _WOOD + _ABOVE

    def lay_out(self) -> None:
        left = max(112.0, text_width(NO_SIGN, "bold") + 24)
        above, rows = self.parentWidget(), self._shown_rows()
        space = max(self.height() if above is None else above.height(), self._least()) - _ABOVE
        least = self._least()
        if least * len(rows) > space >= (least - _CLOSER) * len(rows):
            least -= _CLOSER
        count = max(len(rows), int(space // (self._least() + line_height("small") - 2)))
        beside = text_width("+000 small", "small_bold") + 24
        asked = (rows, max(80.0, self.width() - left - 12), count, beside)
        if asked != self._asked:
            self._asked, self._layouts = asked, lay_out_shelves(*asked, named=_UPRIGHT)
        layouts = self._layouts
        used = sum(len(shelf.boards) for shelf in layouts)
        pitch = min(max(least, space / max(1, used)), 1.7 * least)
        self.setMinimumHeight(int(least * max(used, len(rows)) + _ABOVE))  # this may lay out, within
        self.texts, self.shapes, self._places, self._smalls = [], [], [], []
        y, number = float(_ABOVE), 0
        for shelf in layouts:
            if shelf.row.name == LEFT and number:
                self._divide(y - _ABOVE / 2 - 1)
            self._label(shelf.row, y, left - 18, pitch)
            for board in shelf.boards:
                last = board is shelf.boards[-1]
                self._board(
                    shelf, board, last, number, QRectF(left, y, self.width() - left, pitch - _WOOD - _ABOVE)
                )
                y += pitch
                number += 1

    def _divide(self, y: float) -> None:
        width = self.width()

        def draw(p: QPainter) -> None:
            p.setPen(QPen(theme().color("line"), 1, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(0, y), QPointF(width, y))

        self.shapes.append(draw)

    def _label(self, row: ShelfRow, y: float, width: float, pitch: float) -> None:
        high, bytes_ = line_height("small"), human_bytes(row.bytes)
        count = plural(len(row.things), {STORES: "store", LEFT: "thing"}.get(row.name, "application"))
        self.text(0, y, width, row.name, "bold")
        y += line_height("bold")
        if not row.things:
            return
        self.text(0, y, width, bytes_, "small", "ink2")
        if pitch - _ABOVE >= line_height("bold") + 2 * high - 2:
            self.text(
                0,
                y + high,
                width,
                f"{count[: count.index(' ')]} small" if self.opened else count,
                "small",
                "ink2",
            )
        if self.opened:
            self.text(0, y + 2 * high + 4, width, "Esc: all shelves", "small_bold")

    def _board(
        self, shelf: ShelfLayout, board: tuple[Box, ...], last: bool, number: int, area: QRectF
    ) -> None:
        y = area.bottom()
        if last:
            self.fill(area.x() - 8, y, area.width() + 8, _WOOD, "wood")
        else:
            self.shapes.append(lambda p: _between(p, QRectF(area.x() - 8, y, area.width() + 8, _BETWEEN)))
        end = area.x()
        for box in board:
            rect = QRectF(area.x() + box.x, area.y(), box.width, area.height())
            self._places.append((rect, box, number))
            self._box(rect, box)
            end = rect.right() + 12
        if last and shelf.small:
            self._small(shelf, number, QRectF(end, area.y(), self.width() - end - 4, area.height()))

    def _box(self, rect: QRectF, box: Box) -> None:
        thing = box.thing
        current = bool(thing.line) and thing.line in (self._current, *self.several)
        ordered = thing.line in self._ordered
        dim = self._is_dim(thing)
        close = rect.height() < line_height("bold") + line_height("small") + _BAND + 3
        band = _BAND - 3 if close else _BAND

        def draw(p: QPainter) -> None:
            t = theme()
            p.fillRect(rect, t.color("desk" if dim else "paper"))
            width = 2.0 if current else 1.0
            pen = QPen(t.color("ink" if current else "line" if dim else "wood"), width)
            if thing.dashed and not current:
                pen.setStyle(Qt.PenStyle.DashLine)
            p.setOpacity(_DIM if dim else 1)
            paint_band(p, rect.adjusted(1, rect.height() - band, -1, -1), thing.kinds)
            p.setOpacity(1)
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
        if rect.width() >= _ACROSS:
            inside = rect.width() * 0.72 - 16 if box.broken else rect.width() - 12
            y = rect.y() + (-1 if close else 1)
            ground, font, ink = ("desk", "small", "ink2") if dim else ("paper", "bold", "ink")
            lower = 1 if dim else 0  # a lighter type that stands on the same line
            self.text(rect.x() + 7, y + lower, inside, thing.name, font, ink, ground)
            size = human_bytes(thing.bytes)
            y += line_height("bold") - (2 if close else 1)
            self.text(rect.x() + 7, y, inside, size, "small", "ink2", ground)
            if not dim:
                left = rect.x() + 7 + text_width(size, "small") + 8
                self._marks(thing.marks, left, rect.x() + 7 + inside, y)
        elif rect.width() >= _UPRIGHT:
            self.upright(
                rect.adjusted(0, 2, 0, -band - 3),
                thing.name,
                "small",
                "ink2" if dim else "ink",
                "desk" if dim else "paper",
            )

    def _is_dim(self, thing: Thing) -> bool:
        return self._found is not None and thing.line not in self._found

    def _marks(self, marks: tuple[Mark, ...], left: float, right: float, y: float) -> None:
        """Behind the size, as many as have room."""
        side = line_height("small") - 4
        for mark in marks:
            if left + side > right:
                return
            place = QRectF(left, y + 2, side, side)
            self.shapes.append(lambda p, m=mark, r=place: paint_drawn(p, m, r, "ink2"))  # type: ignore[misc]
            left += side + 4

    def _small(self, shelf: ShelfLayout, number: int, area: QRectF) -> None:
        """What is too thin to draw: by name where all of it has room, else its number and bytes, which opens."""
        things = shelf.small
        self._small_of[shelf.row.name] = things
        names = [(printable(t.name), human_bytes(t.bytes)) for t in things[:6]]
        wide = sum(text_width(a, "small_bold") + text_width(b, "small") + 20 for a, b in names)
        middle = area.center().y() - line_height("small") / 2
        if len(things) <= 6 and wide <= area.width():
            x = area.x()
            for thing, (name, size) in zip(things, names, strict=True):
                a, b = text_width(name, "small_bold") + 5, text_width(size, "small") + 3
                mine = bool(thing.line) and thing.line == self._current
                self.text(x, middle, a, name, "small" if self._is_dim(thing) else "small_bold")
                self.text(x + a, middle, b, size, "small", "ink2")
                place = QRectF(x - 4, middle - 2, a + b + 6, line_height("small") + 4)
                self._mark(place, mine, thing.line in self._ordered)
                self._places.append((place, Box(thing, x, a + b, False), number))
                x += a + b + 12
            return
        head, size = f"+{grouped(len(things))} small", human_bytes(sum(t.bytes for t in things))
        if self._found is not None:
            found = [t for t in things if not self._is_dim(t)]
            size = f"{grouped(len(found))} found" if found else "none found"
        wide = min(area.width(), max(text_width(head, "small_bold"), text_width(size, "small")) + 4)
        top = area.center().y() - line_height("small")
        self.text(area.x(), top, wide, head, "small_bold")
        self.text(area.x(), top + line_height("small"), wide, size, "small", "ink2")
        place = QRectF(area.x() - 4, top - 2, wide + 8, 2 * line_height("small") + 4)
        inside = any(t.line and t.line == self._current for t in things)
        self._mark(
            place,
            inside or self._small_in_hand == shelf.row.name,
            any(t.line in self._ordered for t in things),
        )
        self._smalls.append((place, shelf.row, number))

    def _mark(self, rect: QRectF, current: bool, ordered: bool) -> None:
        def draw(p: QPainter) -> None:
            if ordered:
                p.fillRect(QRectF(rect.x() + 2, rect.y(), rect.width() - 4, 2), theme().color("rust"))
            if current:
                p.setPen(QPen(theme().color("ink"), 2))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(rect.adjusted(1, 1, -1, -1))

        if current or ordered:
            self.shapes.append(draw)

    # -- mouse and keys -------------------------------------------------------------------------------------

    def _at(self, point: QPointF) -> Box | None:
        return next((b for r, b, _ in self._places if r.adjusted(-1, 0, 1, 0).contains(point)), None)

    def _small_at(self, point: QPointF) -> ShelfRow | None:
        return next((row for r, row, _ in self._smalls if r.contains(point)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        box, left = self._at(event.position()), event.button() == Qt.MouseButton.LeftButton
        line = box.thing.line if box is not None else ""
        if line and not left and line in self.several:
            return  # the menu is for all of them
        if line and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            hand = self.hand()
            rest = [x for x in hand if x != line]
            self._take(
                rest if line in hand and rest else [*rest, line], rest[-1] if line in hand and rest else line
            )
        elif line and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._take_to(line)
        elif line:
            self._grip = event.position() if left else None
            if line not in self.several:
                self._take([line], line)
        elif left and (row := self._small_at(event.position())) is not None:
            self.open_small(row.name)
        elif left and self.opened:
            self.open_small("")
        elif left:
            self._from = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A box is dragged to the slip, with all in hand; from where no box is, a band around boxes takes them in hand."""
        if self._grip is not None:
            if far_enough(self._grip, event.position()):
                self._grip = None
                self.dragged.emit(self.hand())
            return
        if self._from is not None:
            self._band = QRectF(self._from, event.position()).normalized()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None and len(self.several) > 1 and not event.modifiers():
            box = self._at(event.position())
            if box is not None:
                self._take([box.thing.line], box.thing.line)  # a click, not a drag
        self._grip = None
        band, self._from, self._band = self._band, None, QRectF()
        if band.width() > 4 or band.height() > 4:
            lines = [b.thing.line for r, b, _ in self._places if b.thing.line and r.intersects(band)]
            if lines:
                self._take(lines, lines[-1])
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if (box := self._at(event.position())) is not None and box.thing.line:
            self.toggled.emit([box.thing.line])

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if not self._band.isEmpty():
            painter = QPainter(self)
            painter.setPen(QPen(theme().color("ink"), 1, Qt.PenStyle.DashLine))
            painter.drawRect(self._band)
            painter.end()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        act = key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if act and self._small_in_hand:
            self.open_small(self._small_in_hand)
        elif act and self._current:
            self.toggled.emit(self.hand())
        elif key == Qt.Key.Key_Escape and self.several:
            self._take([self._current], self._current)
        elif key == Qt.Key.Key_Escape and self.opened:
            self.open_small("")
        elif key in _KEYS or key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._step(key, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            super().keyPressEvent(event)

    def _take_to(self, line: str) -> None:
        """Everything from what is in hand to `line`, as it stands on the shelves."""
        lines = [b.thing.line for _, b, _ in self._places if b.thing.line]
        first = self.several[0] if self.several else self._current
        if first not in lines:
            self._take([line], line)
            return
        a, b = lines.index(first), lines.index(line)
        self._take(lines[a : b + 1] if a <= b else lines[b : a + 1][::-1], line)

    def _step(self, key: Qt.Key, more: bool) -> None:
        """From what is in hand to its neighbour: along the boards, or to the nearest on the next one."""
        stops = [(r, b.thing.line, n) for r, b, n in self._places if b.thing.line]
        stops = sorted(
            [*stops, *((r, f"\0{row.name}", n) for r, row, n in self._smalls)], key=lambda s: (s[2], s[0].x())
        )
        mine = f"\0{self._small_in_hand}" if self._small_in_hand else self._current
        here = next((i for i, (_, line, _) in enumerate(stops) if line == mine), None)
        if not stops:
            return
        if here is None:
            there = 0
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            there = 0 if key == Qt.Key.Key_Home else len(stops) - 1
        elif aside := _KEYS[key][0]:
            there = min(max(here + aside, 0), len(stops) - 1)
        else:
            rect, _, row = stops[here]
            down = _KEYS[key][1] > 0
            rows = sorted({n for _, _, n in stops if (n > row if down else n < row)}, reverse=not down)
            if not rows:
                return
            near = [i for i, (_, _, n) in enumerate(stops) if n == rows[0]]
            there = min(near, key=lambda i: abs(stops[i][0].x() - rect.x()))
        line = stops[there][1]
        self._small_in_hand = line[1:] if line.startswith("\0") else ""
        if self._small_in_hand:
            self.refresh()
        elif more:
            self._take_to(line)
        else:
            self._take([line], line)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            point = QPointF(event.pos())
            box, row = self._at(point), self._small_at(point)
            if box is not None:
                QToolTip.showText(event.globalPos(), spoken(_said(box.thing)))
            elif row is not None:
                names = [f"{t.name} · {human_bytes(t.bytes)}" for t in self._small_of[row.name]]
                more = f"\nand {len(names) - 12} more" if len(names) > 12 else ""
                QToolTip.showText(event.globalPos(), spoken(printable("\n".join(names[:12])) + more))
            else:
                QToolTip.hideText()
            return True
        return super().event(event)

    def told(self) -> list[Piece]:
        found: list[Piece] = []
        for rect, box, _ in self._places:
            name, _, says = _said(box.thing).partition("\n")
            says += f" · {verdict}" if (verdict := self._ordered.get(box.thing.line)) else ""
            mine = bool(box.thing.line) and box.thing.line == self._current and not self._small_in_hand
            found.append(Piece(name, says, rect, mine))
        for rect, row, _ in self._smalls:
            count = f"{len(self._small_of[row.name])} small, {row.name}"
            found.append(Piece(count, "opens", rect, self._small_in_hand == row.name))
        return found

    def box_of(self, line: str) -> QRectF | None:
        return next((r for r, b, _ in self._places if b.thing.line == line), None)


def _said(thing: Thing) -> str:
    words = [human_bytes(thing.bytes), f"{grouped(thing.bytes)} bytes", *(MARK_WORDS[m] for m in thing.marks)]
    return f"{printable(thing.name)}\n{' · '.join(words)}"


def _between(p: QPainter, rect: QRectF) -> None:
    """The line between two boards of one shelf."""
    color = theme().color("wood")
    color.setAlphaF(0.55)
    p.fillRect(rect, color)
