"""Two surveys as slopes: what something held then at the left board, what it holds now at the right one; rust is what grew or
came, dashed what came or went."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.comparison import Change, What
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import human_bytes, signed_bytes
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.heard import tell_piece
from swept_shelf.desk.parts.painted import Painted, Piece, elide, line_height, text_width
from swept_shelf.desk.theme import theme

_BOARD = 4.0
_LOUD = 0.03  # part of the highest: a growth of more is drawn loud


class Slopes(Painted):
    """`chosen` tells the id of what is in hand."""

    has_pieces = True
    chosen = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._changes: list[Change] = []
        self._heads = ("", "")
        self._in_hand = 0
        self._ends: list[tuple[QPointF, QPointF]] = []
        self.left_out = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(spoken("Changes as slopes"))

    def show_changes(self, changes: list[Change], heads: tuple[str, str]) -> None:
        """The largest change first; as many as there is room for."""
        self._changes, self._heads, self._in_hand = changes, heads, 0
        self.refresh()
        self._tell()

    def sizeHint(self) -> QSize:
        return QSize(640, 300)

    def minimumSizeHint(self) -> QSize:
        return QSize(400, round(line_height("body") * 6))

    @property
    def shown(self) -> list[Change]:
        """As many changes as there are lines for."""
        lines = max(1, int((self.height() - self._top()) // (line_height("body") + 2)))
        return self._changes[:lines]

    def _top(self) -> float:
        return line_height("small_bold") + 10

    def lay_out(self) -> None:
        shown = self.shown
        self.left_out = len(self._changes) - len(shown)
        self._ends = []
        if not shown:
            return
        figure = text_width("8.88 GB", "small") + 8
        left = max(figure + 60, self.width() * 0.33)
        right = self.width() - max(figure + 150, self.width() * 0.34)
        top, foot = self._top(), self.height() - 4.0
        most = max(max(c.bytes_before, c.bytes_after) for c in shown) or 1
        level = line_height("body") / 2

        def y(count: int) -> float:
            return top + level + (foot - top - 2 * level) * (1 - count / most)

        self.text(0, 0, left, self._heads[0], "small_bold", align=Qt.AlignmentFlag.AlignRight)
        self.text(right + 8, 0, self.width() - right - 8, self._heads[1], "small_bold")
        old = _apart({c.id: y(c.bytes_before) for c in shown if c.what != What.CAME}, top, foot)
        new = _apart({c.id: y(c.bytes_after) for c in shown if c.what != What.WENT}, top, foot)
        for number, c in enumerate(shown):
            ends = QPointF(left, y(c.bytes_before)), QPointF(right, y(c.bytes_after))
            self._ends.append(ends)
            self._line(c, ends, number == self._in_hand and self.hasFocus(), c.more > _LOUD * most)
        for c in shown:
            name = printable(c.name)
            if c.id in old:
                size = human_bytes(c.bytes_before)
                self.text(
                    left - 10 - figure,
                    old[c.id] - level,
                    figure,
                    size,
                    "small",
                    "ink2",
                    align=Qt.AlignmentFlag.AlignRight,
                )
                self.text(
                    0, old[c.id] - level, left - 24 - figure, name, "body", align=Qt.AlignmentFlag.AlignRight
                )
            if c.id in new:
                self._after(c, name, right + 12, new[c.id] - level, figure, c.more > _LOUD * most)
        for x in (left - _BOARD, right):
            self.fill(x, top - 4, _BOARD, foot - top + 4, "wood")

    def _after(self, c: Change, name: str, x: float, y: float, figure: float, loud: bool) -> None:
        self.text(x, y, figure, human_bytes(c.bytes_after), "small", "ink2")
        font = "bold" if loud else "body"
        x += figure + 8
        room = self.width() - x
        said = c.note if c.what == What.CAME and c.note else signed_bytes(c.more)
        wide = min(text_width(said, "small"), room * 0.6)
        name = elide(name, font, room - wide - 8)
        self.text(x, y, room, name, font)
        x += text_width(name, font) + 6
        self.text(x, y, self.width() - x, said, "small", "rust" if c.more > 0 else "ink2")

    def _line(self, c: Change, ends: tuple[QPointF, QPointF], in_hand: bool, loud: bool) -> None:
        token = "rust" if loud else "used" if c.more else "line"
        pen = QPen(theme().color("ink" if in_hand else token), 3.0 if loud or in_hand else 2.0)
        if c.what in (What.CAME, What.WENT):
            pen.setStyle(Qt.PenStyle.DashLine)

        def draw(p: QPainter) -> None:
            p.setPen(pen)
            p.drawLine(*ends)

        self.shapes.append(draw)

    # -- in hand ----------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if step and self.shown:
            self._take((self._in_hand + step) % len(self.shown))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space) and self.shown:
            self.chosen.emit(self.shown[self._in_hand].id)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        near = [_distance(at, *ends) for ends in self._ends]
        if near and min(near) < 12:
            self._take(near.index(min(near)))
            self.chosen.emit(self.shown[self._in_hand].id)

    def focusInEvent(self, event: object) -> None:
        super().focusInEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def focusOutEvent(self, event: object) -> None:
        super().focusOutEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _take(self, number: int) -> None:
        self._in_hand = number
        self.refresh()
        self._tell()

    def _tell(self) -> None:
        shown = self.shown
        if not shown:
            self.setAccessibleDescription(spoken("nothing changed"))
            return
        c = shown[min(self._in_hand, len(shown) - 1)]
        self.setAccessibleDescription(spoken(f"{printable(c.name)}: {_sizes(c)}"))
        tell_piece(self, self._in_hand)

    def told(self) -> list[Piece]:
        return [
            Piece(
                printable(c.name),
                _sizes(c),
                QRectF(*ends).normalized().adjusted(0, -2, 0, 2),
                n == self._in_hand,
            )
            for n, (c, ends) in enumerate(zip(self.shown, self._ends, strict=False))
        ]


def _sizes(c: Change) -> str:
    return printable(f"{c.what}, {human_bytes(c.bytes_before)} then, {human_bytes(c.bytes_after)} now")


def _apart(wanted: dict[str, float], top: float, foot: float) -> dict[str, float]:
    """Places for texts as near to the wanted ones as they can be without one standing on another."""
    step = line_height("body") + 2
    half = step / 2
    order = sorted(wanted, key=lambda i: (wanted[i], i))
    placed: list[float] = []
    for id in order:
        placed.append(max(wanted[id], placed[-1] + step if placed else top + half))
    limit = foot - half
    for i in reversed(range(len(placed))):
        placed[i] = min(placed[i], limit)
        limit = placed[i] - step
    return dict(zip(order, placed, strict=True))


def _distance(at: QPointF, a: QPointF, b: QPointF) -> float:
    """From a point to a line between two others."""
    across = b - a
    long = across.x() ** 2 + across.y() ** 2
    t = 0.0 if not long else min(1.0, max(0.0, QPointF.dotProduct(at - a, across) / long))
    away = at - (a + across * t)
    return float((away.x() ** 2 + away.y() ** 2) ** 0.5)
