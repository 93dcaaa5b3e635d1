"""Painted widgets: what they draw is laid out first as plain marks, so that tests can read every text and place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.theme import theme


@dataclass(frozen=True, slots=True)
class TextMark:
    """A text in its place; `background` is the token it stands on."""

    rect: QRectF
    text: str
    font: str = "body"
    color: str = "ink"
    background: str = "desk"
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft
    angle: float = 0


@dataclass(frozen=True, slots=True)
class Piece:
    """One thing of what is painted that can be taken in hand: its name, what there is to say of it, and where it stands."""

    name: str
    says: str
    rect: QRectF
    in_hand: bool = False


Shape = Callable[[QPainter], None]


def elide(text: str, font: str, width: float) -> str:
    return _elided(spoken(text), font, max(0, int(width)), theme().scale)


@lru_cache(maxsize=8192)
def _elided(text: str, font: str, width: int, _scale: float) -> str:
    return theme().metrics(font).elidedText(text, Qt.TextElideMode.ElideRight, width)


def elide_path(path: str, font: str, width: float) -> str:
    """A path shortened in its middle, so that what it is called stays to be seen."""
    if plain_width(path, font) <= width:
        return path
    name = "…/" + path.rstrip("/").rsplit("/", 1)[-1] + ("/" if path.endswith("/") else "")
    left = width - plain_width(name, font)
    if left < 0:
        return theme().metrics(font).elidedText(path, Qt.TextElideMode.ElideMiddle, max(0.0, width))
    head = path
    while head and plain_width(head, font) > left:
        head = head[:-1]
    return head.rstrip("/") + name


@lru_cache(maxsize=8192)
def _cut(text: str, font: str, width: int, _scale: float) -> str:
    """The beginning of a text that has so little room that an ellipsis would take half of it: a full stop says that it is cut."""
    if plain_width(text, font) <= width:
        return text
    for end in range(len(text), 0, -1):
        if plain_width(text[:end].rstrip() + ".", font) <= width:
            return text[:end].rstrip() + "."
    return ""


def text_width(text: str, font: str) -> float:
    """Pixels that a text takes, as it is shown."""
    return plain_width(spoken(text), font)


def plain_width(text: str, font: str) -> float:
    """The same of a text that is shown as it stands."""
    return theme().metrics(font).horizontalAdvance(text)


def line_height(font: str) -> float:
    return theme().metrics(font).height()


class Painted(QWidget):
    """Subclasses fill `texts` and `shapes` in `lay_out`; both are drawn as they stand. `has_pieces`: it tells its pieces too."""

    has_pieces = False

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.texts: list[TextMark] = []
        self.shapes: list[Shape] = []
        self._pieces: list[Piece] | None = None

    def lay_out(self) -> None:
        raise NotImplementedError

    def told(self) -> list[Piece]:
        """What can be taken in hand, in the order in which the arrows go through it."""
        return []

    def pieces(self) -> list[Piece]:
        """The same, made once for each state of what is painted."""
        if self._pieces is None:
            self._pieces = self.told()
        return self._pieces

    def forget_pieces(self) -> None:
        self._pieces = None

    def refresh(self) -> None:
        self.forget_pieces()
        self.texts, self.shapes = [], []
        self.lay_out()
        self.update()

    def text(
        self,
        x: float,
        y: float,
        width: float,
        text: str,
        font: str = "body",
        color: str = "ink",
        background: str = "desk",
        align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> TextMark:
        """Add a line of text, elided to its width."""
        mark = TextMark(
            QRectF(x, y, width, line_height(font)), elide(text, font, width), font, color, background, align
        )
        if mark.text:
            self.texts.append(mark)
        return mark

    def upright(
        self, rect: QRectF, text: str, font: str, color: str = "ink", background: str = "desk"
    ) -> None:
        """Add a text that stands upright within `rect`, reading from its foot to its head, elided to its height."""
        metrics = theme().metrics(font)
        baseline = rect.center().x() + (metrics.ascent() - metrics.descent()) / 2
        high = line_height(font)
        said = _cut(spoken(text), font, int(rect.height()), theme().scale)
        if said:
            place = QRectF(baseline, rect.bottom() - high, text_width(said, font), high)
            self.texts.append(TextMark(place, said, font, color, background, angle=-90))

    def fill(self, x: float, y: float, width: float, height: float, token: str) -> None:
        rect = QRectF(x, y, width, height)
        self.shapes.append(lambda p: p.fillRect(rect, theme().color(token)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.refresh()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for shape in self.shapes:
            shape(painter)
        for mark in self.texts:
            painter.setFont(theme().font(mark.font))
            painter.setPen(theme().color(mark.color))
            if mark.angle:
                painter.save()
                painter.translate(mark.rect.bottomLeft())
                painter.rotate(mark.angle)
                painter.drawText(0, 0, mark.text)
                painter.restore()
            else:
                painter.drawText(mark.rect, mark.align | Qt.AlignmentFlag.AlignVCenter, mark.text)
        painter.end()
