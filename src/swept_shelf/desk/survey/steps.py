"""The flight of steps: a folder's parts, each beginning where the one above ended, split by whose each is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QToolTip

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.survey.places import WHOSE, Share
from swept_shelf.desk.language import AsItIs, spoken
from swept_shelf.desk.parts.heard import tell_piece
from swept_shelf.desk.parts.painted import Painted, Piece, line_height, text_width
from swept_shelf.desk.theme import theme

WHOSE_WORDS = {
    "application": "an application",
    "left behind": "left behind",
    "shared store": "shared store",
    "common": "in common",
    "person": "a person’s own",
    "system": "the system",
    "nobody": "nobody known",
}
_SHORT = {
    "application": "application",
    "left behind": "left behind",
    "shared store": "store",
    "common": "common",
    "person": "person",
    "system": "system",
    "nobody": "nobody",
}
_BAR = 14


@dataclass(frozen=True, slots=True)
class Step:
    """One row: `key` its path, or "" for the smaller ones together; `line` the order line it could become."""

    key: str
    name: str
    bytes: int
    shares: tuple[Share, ...]
    words: str
    opens: bool
    line: str = ""


class Steps(Painted):
    has_pieces = True
    taken = Signal(str)
    opened = Signal(str)
    closed = Signal()
    toggled = Signal(str)
    several_taken = Signal(list)

    def __init__(self) -> None:
        super().__init__()
        self._steps: list[Step] = []
        self._several: set[int] = set()  # rows in hand beside the current one
        self._hand: frozenset[str] = frozenset()
        self._whole = Step("", "", 0, (), "", False)
        self._current = -1
        self._ordered: frozenset[str] = frozenset()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(spoken("Parts of the folder"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_steps(self, whole: Step, steps: Sequence[Step], key: str = "") -> None:
        self._whole, self._steps = whole, list(steps)
        self._current = next((i for i, s in enumerate(steps) if s.key == key and key), 0 if steps else -1)
        self._several = set()
        self._tell()
        self.refresh()

    def show_ordered(self, lines: frozenset[str]) -> None:
        self._ordered = lines
        self.refresh()

    def show_hand(self, lines: frozenset[str]) -> None:
        """What is in hand, here or elsewhere: its part of each bar is underlined."""
        self._hand = lines
        self.refresh()

    @property
    def current(self) -> Step | None:
        return self._steps[self._current] if 0 <= self._current < len(self._steps) else None

    def rows_that_fit(self) -> int:
        """How many steps there is room for below the top bar."""
        return max(2, int((self.height() - 4) / self._pitch()) - 1)

    def sizeHint(self) -> QSize:
        return QSize(640, round(max(32.0, line_height("body") + 14) * 9))

    def minimumSizeHint(self) -> QSize:
        return QSize(300, round((line_height("body") + 4) * 3 + 4))

    def _pitch(self) -> float:
        """Of a row; in a low window closer, so that a step and the smaller ones together still stand below the folder."""
        natural, least = max(32.0, line_height("body") + 14), line_height("body") + 4
        return max(least, min(natural, (self.height() - 4) / 3))

    # -- layout ---------------------------------------------------------------------------------------------

    def lay_out(self) -> None:
        names = min(
            self.width() * 0.3,
            max(146.0, *(text_width(printable(s.name), "bold") + 24 for s in (self._whole, *self._steps))),
        )
        figures = max(72.0, text_width("999 bytes", "bold") + 8)
        words = 0.0 if self.width() < theme().px(640) else min(290.0 * theme().scale, self.width() * 0.31)
        left, right = 8 + names, self.width() - figures - words - 26
        wide = max(40.0, right - left)
        y, x = 2.0, 0.0
        self._row(self._whole, -1, y, left, wide, 0, wide, right, figures, words)
        y += self._pitch()
        total = max(1, self._whole.bytes)
        for i, step in enumerate(self._steps):
            end = x + wide * step.bytes / total
            self._connector(left + x, y)
            self._row(step, i, y, left, wide, x, max(x + 1, end), right, figures, words)
            x, y = end, y + self._pitch()

    def _connector(self, x: float, y: float) -> None:
        top, bottom = y - (self._pitch() - _BAR) / 2, y + (self._pitch() - _BAR) / 2

        def draw(p: QPainter) -> None:
            p.setPen(QPen(theme().color("line"), 1))
            p.drawLine(QPointF(x, top), QPointF(x, bottom))

        self.shapes.append(draw)

    def _row(
        self,
        step: Step,
        number: int,
        y: float,
        left: float,
        wide: float,
        start: float,
        end: float,
        right: float,
        figures: float,
        words: float,
    ) -> None:
        high = self._pitch()
        in_hand = number >= 0 and (number == self._current or number in self._several)
        ground = "paper" if in_hand else "desk"
        if in_hand:
            self.fill(0, y, self.width(), high, "paper")
            self.fill(0, y, 4, high, "ink")
        middle = y + (high - line_height("body")) / 2
        bold = "bold" if in_hand or number < 0 else "body"
        name = AsItIs(printable(step.name)) if step.key else printable(step.name)
        self.text(8, middle, left - 18, name, bold, "ink", ground)
        self.text(right + 10, middle, figures, human_bytes(step.bytes), "bold", "ink", ground)
        if words:
            self.text(
                right + 14 + figures, middle + 1, words - 4, printable(step.words), "small", "ink2", ground
            )
        bar = QRectF(left + start, y + (high - _BAR) / 2, end - start, _BAR)
        if number < 0:
            self.fill(bar.x(), bar.y(), bar.width(), bar.height(), "used")
            return
        ordered = step.line in self._ordered and bool(step.line)
        underlined = list(spans_of(step.shares, self._hand))

        def draw(p: QPainter) -> None:
            paint_shares(p, bar, step.shares)
            for begin, wide in underlined:
                p.fillRect(
                    QRectF(bar.x() + bar.width() * begin, bar.bottom() + 2, max(2, bar.width() * wide), 3),
                    theme().color("ink"),
                )
            if ordered:
                p.fillRect(QRectF(bar.x(), bar.y() - 5, bar.width(), 3), theme().color("rust"))

        self.shapes.append(draw)

    # -- mouse and keys -------------------------------------------------------------------------------------

    def _at(self, point: QPointF) -> int:
        row = int((point.y() - 2) / self._pitch()) - 1
        return row if 0 <= row < len(self._steps) else -1

    def take(self, number: int, besides: bool = False) -> None:
        """`besides`: what was in hand stays there."""
        if 0 <= number < len(self._steps):
            self._several = {*self._several, self._current, number} if besides else set()
            self._current = number
            self._tell()
            self.refresh()
            self.taken.emit(self._steps[number].key)
            if besides:
                rows = [self._steps[i].line for i in sorted(self._several)]
                self.several_taken.emit([line for line in dict.fromkeys(rows) if line])

    def _tell(self) -> None:
        step = self.current
        self.setAccessibleDescription(
            spoken(
                f"{printable(step.name)}, {human_bytes(step.bytes)}, {step.words}"
                if step
                else "nothing in hand"
            )
        )
        tell_piece(self, self._current)

    def told(self) -> list[Piece]:
        high, top = self._pitch(), 2.0 + self._pitch()
        return [
            Piece(
                printable(step.name),
                printable(f"{human_bytes(step.bytes)}, {step.words}"),
                QRectF(0, top + high * number, self.width(), high),
                number == self._current or number in self._several,
            )
            for number, step in enumerate(self._steps)
        ]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        self.take(self._at(event.position()), bool(event.modifiers() & both))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        row = self._at(event.position())
        if row >= 0 and self._steps[row].opens:
            self.opened.emit(self._steps[row].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, step = event.key(), self.current
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            further = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.take(self._current + (1 if key == Qt.Key.Key_Down else -1), further)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self.take(0 if key == Qt.Key.Key_Home else len(self._steps) - 1)
        elif (
            key in (Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Enter) and step is not None and step.opens
        ):
            self.opened.emit(step.key)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Backspace):
            self.closed.emit()
        elif key == Qt.Key.Key_Space and step is not None and step.line:
            self.toggled.emit(step.line)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            row = self._at(QPointF(event.pos()))
            if row >= 0:
                step = self._steps[row]
                split = "\n".join(
                    f"{human_bytes(sum(s.bytes for s in step.shares if s.whose == w))} {WHOSE_WORDS[w]}"
                    for w in WHOSE
                    if any(s.whose == w for s in step.shares)
                )
                QToolTip.showText(
                    event.globalPos(),
                    spoken(f"{printable(step.key or step.name)}\n{grouped(step.bytes)} bytes\n{split}"),
                )
            else:
                QToolTip.hideText()
            return True
        return super().event(event)


def paint_shares(p: QPainter, bar: QRectF, shares: Sequence[Share]) -> None:
    """A bar split by whose its parts are, in the fixed order."""
    total = sum(s.bytes for s in shares)
    if not total:
        return
    done = 0
    for whose in WHOSE:
        part = sum(s.bytes for s in shares if s.whose == whose)
        if part:
            rect = QRectF(
                bar.x() + bar.width() * done / total, bar.y(), bar.width() * part / total, bar.height()
            )
            paint_whose(p, rect, whose)
            done += part


def spans_of(shares: Sequence[Share], lines: frozenset[str]) -> Iterator[tuple[float, float]]:
    """Where in a bar of `shares`, as paint_shares paints it, what these lines have begins, and how wide it is; of the bar's width."""
    total = sum(s.bytes for s in shares)
    done = 0
    for whose in WHOSE:
        for share in sorted((s for s in shares if s.whose == whose), key=lambda s: s.owner not in lines):
            if share.owner in lines and total:
                yield done / total, share.bytes / total
            done += share.bytes


def paint_whose(p: QPainter, rect: QRectF, whose: str) -> None:
    """A mark of its own for each owner: plain, dashed outline, wood, upright lines, white with an edge, grey, dots."""
    t = theme()
    p.save()
    p.setClipRect(rect.adjusted(0, -1, 0, 1))
    if whose == "application":
        p.fillRect(rect, t.color("program"))
    elif whose == "shared store":
        p.fillRect(rect, t.color("wood"))
    elif whose == "system":
        p.fillRect(rect, t.color("log"))
    elif whose == "common":
        p.setPen(QPen(t.color("ink2"), 1))
        x = rect.x() + 1.5
        while x < rect.right():
            p.drawLine(QPointF(x, rect.y()), QPointF(x, rect.bottom()))
            x += 3
    elif whose == "nobody":
        p.setPen(QPen(t.color("ink2"), 1.8))
        y = rect.y() + 2
        while y < rect.bottom():
            x = rect.x() + 2
            while x < rect.right():
                p.drawPoint(QPointF(x, y))
                x += 5
            y += 5
    else:
        p.fillRect(rect, t.color("paper"))
        pen = QPen(t.color("wood" if whose == "left behind" else "ink2"), 1.3)
        if whose == "left behind":
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.drawRect(rect.adjusted(0.7, 0.7, -0.7, -0.7))
    p.restore()


class WhoseLegend(Painted):
    """The legend of owners, from the right; none where there is no room."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(spoken("Whose: " + ", ".join(WHOSE_WORDS.values())))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(round(self._whole()), round(line_height("small")) + 4)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def _whole(self) -> float:
        return sum(text_width(w, "small") + 29 for w in _SHORT.values())

    def lay_out(self) -> None:
        x = self.width() - self._whole() + 10
        if x < 0:
            return
        for whose, words in _SHORT.items():
            rect = QRectF(x, (self.height() - 11) / 2, 11, 11)
            self.shapes.append(lambda p, r=rect, w=whose: paint_whose(p, r, w))  # type: ignore[misc]
            self.text(
                x + 16,
                (self.height() - line_height("small")) / 2,
                text_width(words, "small") + 2,
                words,
                "small",
                "ink2",
            )
            x += text_width(words, "small") + 29


def smaller(parts: Sequence[tuple[int, tuple[Share, ...]]]) -> Step:
    """The parts there was no room for, as one step."""
    sums: dict[tuple[str, str], int] = {}
    for _, shares in parts:
        for s in shares:
            sums[s.whose, s.owner] = sums.get((s.whose, s.owner), 0) + s.bytes
    shares = tuple(Share(w, o, n) for (w, o), n in sums.items())
    under = human_bytes(max(b for b, _ in parts))
    return Step(
        "",
        f"{plural(len(parts), 'smaller', 'smaller')}",
        sum(b for b, _ in parts),
        shares,
        f"each at most {under}",
        True,
    )
