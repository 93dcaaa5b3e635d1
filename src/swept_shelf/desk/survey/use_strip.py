"""The strip of use: the last 24 months, a bar for each month with days of use; one row per kind of sign."""

from __future__ import annotations

import math
from datetime import datetime

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import LastUse, Sign
from swept_shelf.core.documents.times import day_and_clock, short_day
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.parts.tips import show_tip

_BAR = 14.0
_MONTHS = 24


class UseStrip(Painted):
    def __init__(self) -> None:
        super().__init__()
        self._use: LastUse | None = None
        self._now = datetime.now().astimezone()
        self._tips: list[tuple[float, str]] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setAccessibleName(spoken("Signs of use"))

    def show_use(self, use: LastUse | None, now: datetime) -> None:
        self._use, self._now = use, now
        said = [] if use is None else [use.because, *(sign_in_words(s) for s in use.signs)]
        self.setAccessibleDescription(spoken(printable("; ".join(x for x in said if x))))
        self.updateGeometry()
        self.refresh()

    def _rows(self) -> list[tuple[str, list[Sign]]]:
        """Kinds with their signs: those that count first, the newest of them on top."""
        kinds: dict[str, list[Sign]] = {}
        for s in self._use.signs if self._use else ():
            if s.kind != "upgrade":
                kinds.setdefault(s.kind, []).append(s)
        return sorted(
            kinds.items(),
            key=lambda k: (all(s.set_aside for s in k[1]), -max(s.at.timestamp() for s in k[1])),
        )

    def _row_height(self) -> float:
        return line_height("small") + 5

    def sizeHint(self) -> QSize:
        return QSize(160, round(self._row_height() * (len(self._rows()) + 2.3)))

    def minimumSizeHint(self) -> QSize:
        return QSize(100, round(self._row_height() * 3))

    def lay_out(self) -> None:
        self._tips = []
        if self._use is None:
            return
        high, rows, y = self._row_height(), self._rows(), 0.0
        y = self._line(y, self._head(), self._use.because)
        room = max(1, int((self.height() - 2 * high) // high))
        shown = rows if len(rows) <= room else rows[: room - 1]
        left = max([text_width(kind, "small") for kind, _ in shown], default=0.0) + 10
        left = min(left, self.width() - 4 - 2.4 * _MONTHS)
        slot = (self.width() - left - 4) / _MONTHS
        for kind, signs in shown:
            self.text(0, y, left - 6, kind, "small", "ink2", "paper")
            self.fill(left, y + high - 4, slot * _MONTHS, 1, "line")
            self._bars(left, y + high - 4, slot, signs, high - 6)
            self._tips.append((y + high, "\n".join(sign_in_words(s) for s in signs)))
            y += high
        if not shown:
            self._line(y, "nothing was found", self._use.because)
            return
        hidden = rows[len(shown) :]
        first = self._now.year * 12 + self._now.month - _MONTHS
        span = f"{datetime(first // 12, first % 12 + 1, 1):%b ’%y} – now"
        wide = text_width(span, "small") + 2
        self.text(
            self.width() - wide - 4, y, wide, span, "small", "ink2", "paper", Qt.AlignmentFlag.AlignRight
        )
        words = (
            f"+{plural(len(hidden), 'other kind')}"
            if hidden
            else plural(len(shown), "kind of sign", "kinds of sign")
        )
        if text_width(words, "small") + wide + 10 <= self.width():
            self._line(y, words, "\n".join(sign_in_words(s) for _, signs in hidden for s in signs))

    def _head(self) -> str:
        """By whom and how sure; the reason where nothing counts."""
        use = self._use
        assert use is not None
        if use.at is None:
            if use.background:
                return "what it served is not known"
            aside = sum(s.kind != "upgrade" for s in use.signs)
            return (
                f"{plural(aside, 'sign')} set aside"
                if aside
                else f"looked at {plural(len(use.looked_at), 'kind')} of sign"
            )
        others = [f"{p.person} {short_day(p.at, self._now)}" for p in use.people if p.person != use.person]
        return " · ".join(x for x in (use.person, use.certainty, *others) if x)

    def _line(self, y: float, text: str, tip: str) -> float:
        self.text(0, y, self.width(), text, "small", "ink2", "paper")
        self._tips.append((y + self._row_height(), tip))
        return y + self._row_height()

    def _bars(self, x: float, foot: float, slot: float, signs: list[Sign], most: float) -> None:
        """What counts in ink, what was set aside in the colour of lines behind it."""
        for token, aside in (("line", True), ("ink", False)):
            months = [
                sum(m)
                for m in zip(
                    *([0] * _MONTHS, *(s.months for s in signs if bool(s.set_aside) == aside and s.months)),
                    strict=False,
                )
            ]
            for i, days in enumerate(months):
                if days:
                    height = max(4.0, min(1.0, (1 + math.log2(days)) / 5) * min(most, _BAR))
                    self.fill(x + i * slot, foot - height, max(1.5, slot - 1), height, token)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            tip = next((t for below, t in self._tips if event.pos().y() < below), "")
            show_tip(event.globalPos(), tip, self)
            return True
        return super().event(event)


def sign_in_words(s: Sign) -> str:
    """One sign as a line: what, when, whose, read from where, and its doubt or why it does not count."""
    when = day_and_clock(s.at) + (f" – {day_and_clock(s.until)}" if s.until and s.until != s.at else "")
    where = s.source + (f", line {s.line}" if s.line else "") + (f" ({s.note})" if s.note else "")
    doubt = f"set aside: {s.set_aside}" if s.set_aside else s.doubt
    return " · ".join(x for x in (f"{s.kind} {when}", s.person, where, doubt) if x)
