"""The Clearance station: the matrix, each finding with its place, space promised against measured, sign-off."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, QUrl
from PySide6.QtGui import QDesktopServices, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from swept_shelf.core.documents.clearance import ClearanceLine, Finding
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import clock, day
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.session import Session
from swept_shelf.desk.session.proving import Shown
from swept_shelf.desk.stations.evidence import Evidence
from swept_shelf.desk.stations.matrix import LEFT, STATE_WORDS, Matrix
from swept_shelf.desk.stations.signing import Signing
from swept_shelf.desk.stations.space import Space
from swept_shelf.desk.theme import theme


class Key(Painted):
    """The signs of the matrix and their words."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(spoken("Signs: " + ", ".join(STATE_WORDS.values())))
        self.setFixedHeight(round(line_height("small")) * 2 + 8)

    def sizeHint(self) -> QSize:
        return QSize(300, self.height())

    def lay_out(self) -> None:
        x, y = 0.0, 2.0
        for state, words in STATE_WORDS.items():
            width = text_width(words, "small") + 2
            if x + width + 20 > self.width():
                x, y = 0.0, y + line_height("small") + 2
            middle = y + line_height("small") / 2
            self.shapes.append(lambda p, s=state, a=x, m=middle: _sign(p, s, a, m))  # type: ignore[misc]
            self.text(x + 18, y, width, words, "small", "ink2")
            x += width + 38


def _sign(p: QPainter, state: str, x: float, middle: float) -> None:
    t, rect = theme(), QRectF(x, middle - 5.5, 11, 11)
    p.setBrush(Qt.BrushStyle.NoBrush)
    if state == Looked.CLEAR:
        p.setPen(QPen(t.color("program"), 2))
        p.drawEllipse(rect.adjusted(1, 1, -1, -1))
    elif state == Looked.FOUND:
        p.fillRect(rect, t.color("rust"))
    elif state == LEFT:
        p.setPen(QPen(t.color("rust"), 1.5))
        p.drawRect(rect)
    elif state == Looked.COULD_NOT_LOOK:
        p.setPen(QPen(t.color("ink2"), 1, Qt.PenStyle.DashLine))
        p.drawRect(rect)
    else:
        p.fillRect(QRectF(x, middle, 11, 1.5), t.color("line"))


class ClearanceStation(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._cell = ("", "")
        self.setAccessibleName(spoken("Clearance"))
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 16, 24, 24)
        row.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addLayout(self._heading())
        self.stands = label("", wrap=True)
        left.addWidget(self.stands)
        self._area = self._scrolled()
        left.addWidget(self._area, 1)
        self._filler = QWidget()
        left.addWidget(self._filler, 1)
        row.addLayout(left, 1)
        self.side = Evidence()
        self._left = label("", "small", second=True, wrap=True)
        self.take_button = button("Take all of it out")
        self.sign_button = button("Sign off…", filled=True)
        self.open_button = button("Open the page for the owner")
        for widget in (self._left, self.take_button, self.sign_button, self.open_button):
            self.side.foot.addWidget(widget)
        row.addWidget(self.side)
        self._connect()
        self._show()

    def _heading(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(2)
        head = QHBoxLayout()
        head.setSpacing(8)
        self._head, self._sub = Elided("", "head"), Elided("", "small", second=True)
        self.name_field = QLineEdit()
        self.name_field.setPlaceholderText(spoken("is anything left of…"))
        self.name_field.setToolTip(
            spoken("A name, a package, a launcher or a path; Enter looks in every place")
        )
        self.name_field.setAccessibleName(spoken("Is anything left of a name anywhere?"))
        self.name_field.setFont(theme().font("small"))
        self.name_field.setMinimumWidth(theme().px(150))
        self.name_field.setMaximumWidth(theme().px(190))
        self.back_button, self.look_button = button("Back to the order"), button("Look again")
        head.addWidget(self._head, 1)
        head.addWidget(self.name_field)
        head.addWidget(self.back_button)
        head.addWidget(self.look_button)
        column.addLayout(head)
        column.addWidget(self._sub)
        return column

    def _scrolled(self) -> QScrollArea:
        self.matrix, self.key, self.space = Matrix(), Key(), Space()
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.addWidget(self.matrix)
        column.addWidget(self.key)
        column.addSpacing(12)
        self._space_head = label("Space that came back", "head", wrap=True)
        self._space_sub = label(
            "promised by the order, measured on the volume", "small", second=True, wrap=True
        )
        column.addWidget(self._space_head)
        column.addWidget(self._space_sub)
        column.addWidget(self.space)
        column.addStretch(1)
        area.setWidget(inside)
        return area

    def _connect(self) -> None:
        s, p = self._session, self._session.proving
        self.look_button.clicked.connect(p.look_again)
        self.back_button.clicked.connect(p.close_trace)
        self.name_field.returnPressed.connect(lambda: p.look_for(self.name_field.text()))
        self.take_button.clicked.connect(lambda: p.take_out([f.id for f in self._takeable()]))
        self.sign_button.clicked.connect(self.sign)
        self.open_button.clicked.connect(self._open)
        self.side.take_wanted.connect(p.take_out)
        self.side.leave_wanted.connect(p.leave)
        self.matrix.chosen.connect(self._show_cell)
        s.clearance_changed.connect(self._show)
        s.run_changed.connect(self._show_acts)
        s.behind.changed.connect(self._show_acts)

    def _show(self) -> None:
        s, p = self._session, self._session.proving
        shown = p.shown
        looking = s.looking.progress is not None and s.busy
        self._head.set(self._title(shown, looking))
        self._sub.set(self._said(shown, looking))
        self._say_how_it_stands(shown)
        self.look_button.setVisible(not s.past)
        self.name_field.setVisible(not s.past)
        self.look_button.setEnabled(not looking and (s.carrying.run is not None or p.trace is not None))
        self.back_button.setVisible(p.trace is not None and p.clearance is not None)
        self._area.setVisible(shown is not None)
        self._filler.setVisible(shown is None)
        for part in (self._space_head, self._space_sub, self.space):
            part.setVisible(shown is not None and not shown.is_trace)
        self.space.show_volumes(shown.volumes if shown else [])
        traced = shown is not None and shown.is_trace
        self.matrix.show_lines(shown.lines if shown else [], self._settled(shown), not traced)
        self._show_acts()
        if shown is None:
            self.side.show_nothing("Nothing to show yet")

    def _title(self, shown: Shown | None, looking: bool) -> str:
        carrying = self._session.carrying
        if shown is not None:
            return shown.head
        if looking:
            return "Looking again"
        if self._session.proving.due and carrying.run:
            return f"Order {carrying.run.order.id} is carried out, and not proved yet"
        return "No clearance"

    def _said(self, shown: Shown | None, looking: bool) -> str:
        s = self._session
        if looking and s.looking.progress is not None:
            what, done, total = s.looking.progress
            return f"looking at {what or 'everything that could still point at it'} · step {done} of {total}"
        if s.looking.problem:
            return f"It could not be looked at: {s.looking.problem}"
        if shown is not None:
            return shown.said
        if s.proving.due:
            return "The survey still shows what went. Look again: every place that could still point at it."
        return "Carry an order out: then everything is looked at again. Or ask for a name, at the right."

    def _say_how_it_stands(self, shown: Shown | None) -> None:
        """What is being done, signed or not, what came back since, and what would help to look everywhere."""
        p = self._session.proving
        said = []
        if p.working:
            said.append(f"{p.working}.")
        if shown is not None and not shown.is_trace and p.signed is not None:
            t = p.signed
            said.append(
                f"Signed off by {t.technician.words} on {day(t.signed_at)}, {clock(t.signed_at)} · SHA-256 {t.digest[:16]}…"
            )
            if p.came:
                said.append(f"{plural(len(p.came), 'place')} came back since then: {p.came[0][2].path}.")
        said += [f"Not everywhere could be looked: {x}." for x in _unseen(shown)[:2]]
        self.stands.setText(spoken(" ".join(said)))
        self.stands.setVisible(bool(said))

    def _settled(self, shown: Shown | None) -> set[tuple[str, str]]:
        """(line, family) of cells in which all that was found is left on purpose."""
        p = self._session.proving
        lines: list[ClearanceLine] = shown.lines if shown else []
        return {
            (line.id, cell.family)
            for line in lines
            for cell in line.cells
            if cell.findings and all(p.why_left(line.id, f) for f in cell.findings)
        }

    def _takeable(self) -> list[Finding]:
        """What can be taken out, is nobody's own, and is not left on purpose."""
        p = self._session.proving
        shown = p.shown
        return [
            f
            for line in (shown.lines if shown else [])
            for _, f in line.found
            if f.action == "take_out" and p.why_left(line.id, f) is None
        ]

    def _show_acts(self) -> None:
        s, p = self._session, self._session.proving
        shown, free = p.shown, self._takeable()
        self.take_button.setVisible(bool(free) and not s.past)
        self.take_button.setText(
            spoken("Take it out now" if len(free) == 1 else f"Take out all {len(free)} now")
        )
        self.take_button.setAccessibleName(self.take_button.text())
        self.take_button.setEnabled(s.worker is None and not p.working)
        proved = shown is not None and not shown.is_trace
        self.sign_button.setVisible(proved and p.signed is None and not s.past)
        self.sign_button.setEnabled(proved and not s.busy)
        self.open_button.setVisible(proved and bool(p.written))
        self._left.setText(spoken(self._what_is_left(shown)))
        self._left.setVisible(bool(self._left.text()))

    def _what_is_left(self, shown: Shown | None) -> str:
        p = self._session.proving
        if shown is None:
            return ""
        if p.written and not shown.is_trace:
            return f"Wrote {plural(len(p.written), 'file')} into {p.written[0].parent}"
        kept = sum(p.why_left(line.id, f) is not None for line in shown.lines for _, f in line.found)
        unread = sum(c.state == Looked.COULD_NOT_LOOK for line in shown.lines for c in line.cells)
        found = len(shown.found())
        if not found and not unread:
            return (
                "Nothing points at it any more." if not shown.is_trace else "Nothing of it is left anywhere."
            )
        reasons = f", {kept} of them left with a reason" if kept else ""
        unseen = f"; {plural(unread, 'cell')} where one could not look" if unread else ""
        return f"{plural(found, 'finding')}{reasons}{unseen}."

    def _show_cell(self, line_id: str, family: str) -> None:
        s, shown = self._session, self._session.proving.shown
        self._cell = (line_id, family)
        line = next((x for x in shown.lines if x.id == line_id), None) if shown else None
        if shown is None or line is None:
            return
        cell = next(c for c in line.cells if c.family == family)
        self.side.show_cell(
            shown, line, cell, s.proving, s.worker is not None or bool(s.proving.working or s.past)
        )

    def sign(self) -> None:
        """Ask who signs, and where the reports go."""
        p = self._session.proving
        dialog = Signing(p.technician(), self._what_is_left(p.shown), self)
        dialog.signed.connect(p.sign_off)
        dialog.open()

    def _open(self) -> None:
        """The page for the owner: the printed one where it was made."""
        pages = [x for x in self._session.proving.written if x.suffix in (".pdf", ".html")]
        if pages:
            QDesktopServices.openUrl(
                QUrl.fromLocalFile(str(pages[-1] if pages[-1].suffix == ".pdf" else pages[0]))
            )


def _unseen(shown: Shown | None) -> list[str]:
    """Why one could not look, each reason once, with what would help."""
    lines: list[ClearanceLine] = shown.lines if shown else []
    return list(
        dict.fromkeys(
            f"{cell.looked_at}{f' ({cell.helps})' if cell.helps else ''}"
            for line in lines
            for cell in line.cells
            if cell.state == Looked.COULD_NOT_LOOK
        )
    )
