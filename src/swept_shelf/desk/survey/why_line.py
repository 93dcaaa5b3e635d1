"""The sentence above the survey: why the volume is full; its parts are taken by mouse, or by the arrow keys and Return."""

from __future__ import annotations

import re

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.reports.why_full import Part
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.heard import tell_piece
from swept_shelf.desk.parts.painted import Painted, Piece, TextMark, line_height, plain_width

_LEFT = 24.0
_PLAIN, _BOLD = "head_plain", "head"


class WhyLine(Painted):
    """Wraps over as many lines as it needs; `brief`: only its beginning, for a low window."""

    has_pieces = True
    taken = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._parts: list[Part] = []
        self._shown: list[Part] = []
        self._leads: list[int] = []
        self._rects: list[tuple[QRectF, int]] = []
        self._in_hand = 0
        self.setAccessibleName(spoken("Why it is full"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_parts(self, parts: list[Part], brief: bool) -> None:
        shown = _until_the_figure(parts) if brief else parts
        if shown == self._shown and parts == self._parts:
            return
        self._parts, self._shown, self._in_hand = parts, shown, 0
        self._leads = [i for i, p in enumerate(shown) if p.leads]
        self.setToolTip(printable("".join(spoken(p.text) for p in parts)) if brief else "")
        self.refresh()
        self._tell()

    def lay_out(self) -> None:
        x, y, high, edge = _LEFT, 0.0, line_height(_BOLD) + 2, float(self.width())
        self._rects = []
        for number, part in enumerate(self._shown):
            font = _BOLD if part.bold else _PLAIN
            color = "rust" if part.loud else "ink" if part.bold else "ink2"
            for word in re.findall(r"\s+|\S+", spoken(printable(part.text))):
                wide = plain_width(word, font)
                if word.isspace():
                    x += wide if x > _LEFT else 0
                    continue
                if x + wide > edge and x > _LEFT:
                    x, y = _LEFT, y + high
                wide = min(wide, edge - x)
                if part.leads:
                    self._link(QRectF(x, y, wide, high), number)
                self.texts.append(TextMark(QRectF(x, y, wide + 1, line_height(font)), word, font, color))
                x += wide
        height = round(y + high + 2) if self._shown else 0
        if height != self.height():
            self.setFixedHeight(height)

    def _link(self, rect: QRectF, number: int) -> None:
        """One word of a part that leads somewhere: underlined as far as the part goes on this line."""
        last = self._rects[-1] if self._rects else None
        if last and last[1] == number and last[0].y() == rect.y():
            last[0].setRight(rect.right())
            whole = last[0]
        else:
            whole = QRectF(rect)
            self._rects.append((whole, number))
        if self.hasFocus() and self._leads and self._leads[self._in_hand] == number:
            self.fill(whole.x() - 2, whole.y(), whole.width() + 4, whole.height(), "free")
        self.fill(
            whole.x(), whole.bottom() - 2, whole.width(), 2, "rust" if self._shown[number].loud else "wood"
        )

    # -- in hand ----------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()), 0)
        if step and self._leads:
            self._in_hand = (self._in_hand + step) % len(self._leads)
            self.refresh()
            self._tell()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self._leads:
            self.taken.emit(self._shown[self._leads[self._in_hand]].leads)
        else:
            super().keyPressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        on = self._at(event) is not None
        self.setCursor(Qt.CursorShape.PointingHandCursor if on else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        number = self._at(event)
        if number is not None:
            self._in_hand = self._leads.index(number)
            self.taken.emit(self._shown[number].leads)

    def _at(self, event: QMouseEvent) -> int | None:
        return next((number for rect, number in self._rects if rect.contains(event.position())), None)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.refresh()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.refresh()

    def place_of(self, leads: str) -> QRectF | None:
        """Where the part that leads there stands."""
        return next((rect for rect, number in self._rects if self._shown[number].leads == leads), None)

    def _tell(self) -> None:
        said = printable("".join(spoken(p.text) for p in self._parts))
        if self._leads:
            said += f" In hand: {printable(self._shown[self._leads[self._in_hand]].text)}"
        self.setAccessibleDescription(spoken(said))
        tell_piece(self, self._in_hand)

    def told(self) -> list[Piece]:
        """The parts that lead somewhere, each where it begins."""
        begins = {number: rect for rect, number in reversed(self._rects)}
        return [
            Piece(
                printable(self._shown[number].text).strip(), "leads there", begins[number], n == self._in_hand
            )
            for n, number in enumerate(self._leads)
            if number in begins
        ]


def _until_the_figure(parts: list[Part]) -> list[Part]:
    """How full it is, and what nobody would miss: what fits on one line."""
    figure = next((p for p in parts if p.loud), None)
    return (
        parts[:1] if figure is None else [parts[0], Part(" "), figure, Part(" shows no use within a year.")]
    )
