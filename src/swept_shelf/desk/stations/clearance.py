"""The Clearance station: the matrix, each finding with its place, space promised against measured, sign-off."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from swept_shelf.core.documents.clearance import Cell, Clearance, Finding
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import clock
from swept_shelf.desk.parts.labels import Elided, Side, button, label, rule
from swept_shelf.desk.parts.painted import Painted, line_height, text_width
from swept_shelf.desk.session import Session
from swept_shelf.desk.stations.matrix import STATE_WORDS, Matrix
from swept_shelf.desk.stations.space import Space
from swept_shelf.desk.theme import theme


class Key(Painted):
    """The four signs of the matrix and their words."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Signs: " + ", ".join(STATE_WORDS.values()))
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
    elif state == Looked.COULD_NOT_LOOK:
        p.setPen(QPen(t.color("ink2"), 1, Qt.PenStyle.DashLine))
        p.drawRect(rect)
    else:
        p.fillRect(QRectF(x, middle, 11, 1.5), t.color("line"))


class ClearanceStation(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName("Clearance")
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 16, 24, 24)
        row.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(8)
        head = QHBoxLayout()
        self._head, self._sub = label("", "head"), Elided("", "small", second=True)
        self.look_button = button("Look again")
        self.look_button.clicked.connect(session.proving.look_again)
        head.addWidget(self._head)
        head.addWidget(self._sub, 1)
        head.addWidget(self.look_button)
        left.addLayout(head)
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
        self._area = area
        left.addWidget(area, 1)
        self._filler = QWidget()
        left.addWidget(self._filler, 1)
        row.addLayout(left, 1)
        self.side = Side("Findings")
        self._left = label("", "small", second=True, wrap=True)
        self.sign_button = button("Sign off, write the report…", filled=True)
        self.sign_button.clicked.connect(self._sign_off)
        self.side.foot.addWidget(self._left)
        self.side.foot.addWidget(self.sign_button)
        row.addWidget(self.side)
        self.matrix.chosen.connect(self._show_cell)
        session.clearance_changed.connect(self._show)
        self._show()

    def _show(self) -> None:
        s, c = self._session, self._session.proving.clearance
        looking = s.looking.progress is not None and s.busy
        self._head.setText(
            f"Clearance of order {c.order}"
            if c
            else "Looking again"
            if looking
            else f"Order {s.carrying.run.order.id} is carried out, and not proved yet"
            if s.proving.due and s.carrying.run
            else "No clearance"
        )
        if c:
            took = (c.finished_at - c.looked_at).total_seconds()
            self._sub.set(
                f"every place that could still point at what went · looked at {clock(c.looked_at)}, {took:.1f} s"
            )
        elif s.looking.problem:
            self._sub.set(f"It could not be looked at: {s.looking.problem}")
        else:
            self._sub.set(
                "every place that could still point at what went"
                if looking
                else "The survey still shows what went. Look again: every place that could still point at it."
                if s.proving.due
                else "Carry an order out: then everything is looked at again."
            )
        self.look_button.setEnabled(not looking and s.carrying.run is not None)
        self._area.setVisible(c is not None)
        self._filler.setVisible(c is None)
        self.sign_button.setEnabled(c is not None)
        self.space.show_volumes(c.volumes if c else [])
        self._left.setText(
            f"{plural(c.findings, 'finding')} and {plural(c.unread, 'unread place')} are left. Signing off writes them into the report."
            if c
            else ""
        )
        self._left.setVisible(c is not None)
        self.matrix.show_clearance(c)
        if c is None:
            self.side.clear().addWidget(label("Nothing to show yet", "head", wrap=True))
            self.side.body.addStretch(1)

    def _show_cell(self, line: str, family: str) -> None:
        c = self._session.proving.clearance
        if c is None:
            return
        body = self.side.clear()
        name, cell = _cell_of(c, line, family)
        body.addWidget(
            label(
                {
                    Looked.FOUND: "Still pointed at",
                    Looked.CLEAR: "Clear",
                    Looked.COULD_NOT_LOOK: "Could not look",
                }.get(cell.state, "Not part of this line"),
                "head",
                wrap=True,
            )
        )
        body.addWidget(label(f"{name} · {family.replace('_', ' ')}", "small", second=True, wrap=True))
        if cell.state != Looked.FOUND and cell.looked_at:
            said = cell.looked_at if cell.state == Looked.COULD_NOT_LOOK else f"looked at: {cell.looked_at}"
            body.addWidget(label(f"{said[0].upper()}{said[1:]}.", wrap=True))
        for finding in cell.findings[:5]:
            self._finding(body, finding)
        if len(cell.findings) > 5:
            body.addWidget(label(f"and {len(cell.findings) - 5} more", "small", second=True))
        body.addStretch(1)

    def _finding(self, body: QVBoxLayout, f: Finding) -> None:
        body.addSpacing(6)
        where = Elided(f.path, "bold", middle=True)
        body.addWidget(where)
        if f.line:
            body.addWidget(label(f"line {f.line}", "bold"))
        well = QWidget()
        well.setStyleSheet(f"background: {theme().hex('well')};")
        lines = QVBoxLayout(well)
        lines.setContentsMargins(8, 6, 8, 6)
        for number, text, here in [
            *((f.line - len(f.before) + i, t, False) for i, t in enumerate(f.before)),
            (f.line, f.text, True),
            *((f.line + 1 + i, t, False) for i, t in enumerate(f.after)),
        ]:
            shown = Elided(f"{number}  {text}" if f.line else text, "mono")
            if here:
                shown.setStyleSheet(f"color: {theme().hex('rust')};")
            lines.addWidget(shown)
        body.addWidget(well)
        body.addWidget(
            label(f"{f.detail[0].upper()}{f.detail[1:]}. Take it out there, then look again.", wrap=True)
        )
        body.addWidget(rule())

    def _sign_off(self) -> None:
        start = str(Path.home() / f"visit-{self._session.visit.number if self._session.visit else 0}.html")
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the report", start, "Report (*.html);;Document (*.json)"
        )
        if path:
            self._session.proving.sign_off(path if path.endswith((".html", ".json")) else path + ".html")


def _cell_of(c: Clearance, line: str, family: str) -> tuple[str, Cell]:
    found = next(x for x in c.lines if x.id == line)
    return found.name, next(x for x in found.cells if x.family == family)
