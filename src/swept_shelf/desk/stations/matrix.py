"""The clearance matrix: lines x families. A ring is clear, a rust square found, a dashed square could not look."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QToolTip

from swept_shelf.core.documents.clearance import FAMILIES, Cell, ClearanceLine
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.heard import tell_piece
from swept_shelf.desk.parts.painted import Painted, Piece, TextMark, line_height, text_width
from swept_shelf.desk.theme import theme

LEFT = "left"  # found, and all of it left on purpose
STATE_WORDS: dict[str, str] = {
    Looked.CLEAR: "nothing points at it",
    Looked.FOUND: "still pointed at",
    LEFT: "left on purpose",
    Looked.COULD_NOT_LOOK: "could not look",
    Looked.NOT_PART: "not part of this line",
}


_MANY = 8  # lines from which a line is one row of text


class Matrix(Painted):
    has_pieces = True
    chosen = Signal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self._lines: list[ClearanceLine] = []
        self._settled: set[tuple[str, str]] = set()
        self._with_verdicts = True
        self._row, self._column = 0, 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(spoken("Clearance matrix"))

    def show_lines(
        self, lines: list[ClearanceLine], settled: set[tuple[str, str]], with_verdicts: bool = True
    ) -> None:
        """`settled`: (line, family) of cells in which all that was found is left on purpose. A cell with something in it stays in
        hand while the lines are the same."""
        same = [x.id for x in lines] == [x.id for x in self._lines]
        self._lines, self._settled, self._with_verdicts = lines, settled, with_verdicts
        if not same or (lines and lines[self._row].cells[self._column].state == Looked.CLEAR):
            loud = [
                (i, j)
                for state in (Looked.FOUND, Looked.COULD_NOT_LOOK)
                for i, line in enumerate(lines)
                for j, c in enumerate(line.cells)
                if c.state == state
            ]
            self._row, self._column = loud[0] if loud else (0, 0)
        self.updateGeometry()
        self.refresh()
        self._tell()

    def sizeHint(self) -> QSize:
        return QSize(700, round(self._head() + self._pitch() * len(self._lines) + 4))

    def minimumSizeHint(self) -> QSize:
        return QSize(400, self.sizeHint().height())

    def _pitch(self) -> float:
        if len(self._lines) > _MANY:
            return max(28.0, line_height("bold") + 8)
        return max(46.0, line_height("bold") + line_height("small") + 10)

    def _head(self) -> float:
        longest = max(text_width(f.replace("_", " "), "small") for f in FAMILIES)
        return longest * (0.72 if self._angle() > -90 else 1) + line_height("small") + 8

    def _angle(self) -> float:
        """Names lean, or stand where the columns are too close for leaning lines."""
        return -42 if self._step() * 0.67 >= line_height("small") * 0.82 else -90

    def _first(self) -> float:
        return min(220.0 * theme().scale, self.width() * 0.26)

    def _step(self) -> float:
        return (self.width() - self._first() - text_width("programs", "small") * 0.55) / len(FAMILIES)

    def _center(self, row: int, column: int) -> QPointF:
        return QPointF(
            self._first() + self._step() * (column + 0.5), self._head() + self._pitch() * (row + 0.5)
        )

    def lay_out(self) -> None:
        if not self._lines:
            return
        head, pitch = self._head(), self._pitch()
        for j, family in enumerate(FAMILIES):
            name, at = family.replace("_", " "), self._center(0, j)
            across = -4 if self._angle() > -90 else line_height("small") * 0.35
            name = spoken(name)
            rect = QRectF(
                at.x() + across,
                head - 10 - line_height("small"),
                text_width(name, "small"),
                line_height("small"),
            )
            self.texts.append(TextMark(rect, name, "small", angle=self._angle()))
        self.fill(0, head, self.width(), 1, "line")
        many = len(self._lines) > _MANY
        for i, line in enumerate(self._lines):
            y = head + pitch * i
            self.text(0, y + 4, self._first() - 10, line.name, "bold")
            if not many:
                words = [line.verdict.replace("_", " ")] if self._with_verdicts else []
                words += [plural(len(line.mentions), "mention")] if line.mentions else []
                said = " · ".join(words)
                self.text(0, y + 4 + line_height("bold"), self._first() - 10, said, "small", "ink2")
            self.fill(0, y + pitch, self.width(), 1, "line")
            for j, cell in enumerate(line.cells):
                left = (line.id, cell.family) in self._settled
                self._cell(cell, self._center(i, j), (i, j) == (self._row, self._column), left)

    def _cell(self, cell: Cell, at: QPointF, in_hand: bool, left: bool) -> None:
        side = max(20.0, min(24.0 * theme().scale, self._step() - 6))
        square = QRectF(at.x() - side / 2, at.y() - side / 2, side, side)

        def draw(p: QPainter) -> None:
            t = theme()
            if cell.state == Looked.CLEAR:
                p.setPen(QPen(t.color("program"), 2))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(at, 6.5, 6.5)
            elif cell.state == Looked.FOUND and left:
                p.setPen(QPen(t.color("rust"), 1.5))
                p.drawRect(square.adjusted(1, 1, -1, -1))
            elif cell.state == Looked.FOUND:
                p.fillRect(square, t.color("rust"))
            elif cell.state == Looked.COULD_NOT_LOOK:
                p.setPen(QPen(t.color("ink2"), 1, Qt.PenStyle.DashLine))
                p.drawRect(square.adjusted(2, 2, -2, -2))
            else:
                p.fillRect(QRectF(at.x() - 6, at.y(), 12, 1.5), t.color("line"))
            if in_hand:
                p.setPen(QPen(t.color("ink" if self.hasFocus() else "ink2"), 2 if self.hasFocus() else 1))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(square.adjusted(-4, -4, 4, 4))

        self.shapes.append(draw)
        words = {Looked.FOUND: str(len(cell.findings)), Looked.COULD_NOT_LOOK: "?"}.get(cell.state, "")
        if words:
            found = cell.state == Looked.FOUND and not left
            rect = QRectF(at.x() - side, at.y() - line_height("small") / 2, side * 2, line_height("small"))
            self.texts.append(
                TextMark(
                    rect,
                    words,
                    "small_bold" if found else "small",
                    "paper" if found else "ink2",
                    "rust" if found else "desk",
                    Qt.AlignmentFlag.AlignHCenter,
                )
            )

    def _tell(self) -> None:
        if self._lines:
            line = self._lines[self._row]
            cell = line.cells[self._column]
            self.setAccessibleDescription(
                spoken(
                    f"{line.name}, {cell.family.replace('_', ' ')}: {STATE_WORDS[self._state(line, cell)]}"
                )
            )
            tell_piece(self, self._row * len(FAMILIES) + self._column)
            self.chosen.emit(line.id, cell.family)

    def told(self) -> list[Piece]:
        """Cell by cell, line after line."""
        wide, high = self._step(), self._pitch()
        return [
            Piece(
                f"{line.name}, {cell.family.replace('_', ' ')}",
                STATE_WORDS[self._state(line, cell)],
                QRectF(self._first() + wide * j, self._head() + high * i, wide, high),
                (i, j) == (self._row, self._column),
            )
            for i, line in enumerate(self._lines)
            for j, cell in enumerate(line.cells)
        ]

    def _state(self, line: ClearanceLine, cell: Cell) -> str:
        return LEFT if (line.id, cell.family) in self._settled else cell.state

    def _move(self, row: int, column: int) -> None:
        if not self._lines:
            return
        self._row = min(max(0, row), len(self._lines) - 1)
        self._column = min(max(0, column), len(FAMILIES) - 1)
        self.refresh()
        self._tell()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Left: (0, -1),
            Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Up: (-1, 0),
            Qt.Key.Key_Down: (1, 0),
        }
        if event.key() in moves:
            down, right = moves[Qt.Key(event.key())]
            self._move(self._row + down, self._column + right)
        else:
            super().keyPressEvent(event)

    def _at(self, point: QPointF) -> tuple[int, int] | None:
        if not self._lines or point.x() < self._first() or point.y() < self._head():
            return None
        row, column = (
            int((point.y() - self._head()) // self._pitch()),
            int((point.x() - self._first()) // self._step()),
        )
        return (row, column) if row < len(self._lines) and column < len(FAMILIES) else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if (place := self._at(event.position())) is not None:
            self._move(*place)

    def focusInEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().focusInEvent(event)
        self.refresh()

    def focusOutEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().focusOutEvent(event)
        self.refresh()

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self._lines:
            if (place := self._at(QPointF(event.pos()))) is not None:
                line = self._lines[place[0]]
                cell = line.cells[place[1]]
                looked = f" · {cell.looked_at}" if cell.looked_at else ""
                QToolTip.showText(
                    event.globalPos(),
                    spoken(
                        f"{cell.family.replace('_', ' ')}: {STATE_WORDS[self._state(line, cell)]}{looked}"
                    ),
                )
            return True
        return super().event(event)
